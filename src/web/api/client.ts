/** Talks to the server. Every failure becomes an error with a code that the interface has words for. */
import type { LoadedProject, ProjectSummary, SaveRequest, Version } from '#core/api/projects.ts';
import type {
  DeletedItem,
  KnownSource,
  PrintsOfSource,
  SourceChange,
  SourceFacts,
  SourceSummary,
  SourceUpload,
  SourceUse,
} from '#core/api/sources.ts';
import type { ShelfItem } from '#core/api/shelf.ts';
import type { RecordKindName, RecordOf } from '#core/shelf/kinds.ts';
import { jsonText, LONG_TEXT } from './json-text.ts';

export type { DeletedItem, LoadedProject, ProjectSummary, SaveRequest, SourceFacts, SourceSummary, SourceUse, Version };

/** An answer of the server that is not the one hoped for; status 0 when there was none. */
export class ApiError extends Error {
  readonly status: number;
  readonly code: string;
  readonly details: Record<string, string | number>;

  constructor(status: number, code: string, message: string, details: Record<string, string | number> = {}) {
    super(message);
    this.status = status;
    this.code = code;
    this.details = details;
  }
}

async function request(path: string, init: RequestInit = {}): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(`/api${path}`, init);
  } catch {
    throw new ApiError(0, 'server.unreachable', 'the server does not answer');
  }
  if (response.ok) return response;
  const body = (await response.json().catch(() => null)) as Partial<ApiError> | null;
  throw new ApiError(
    response.status,
    body?.code ?? 'server.failed',
    body?.message ?? `the server answered ${response.status}`,
    body?.details,
  );
}

/** @param keepAlive goes on when the page is left; for short bodies only */
function sendJson(method: string, path: string, body: object, keepAlive = false): Promise<Response> {
  const headers = { 'Content-Type': 'application/json' };
  const text = jsonText(body);
  // A long text is sent twice as fast as a blob.
  return request(path, {
    method,
    headers,
    body: text.length < LONG_TEXT ? text : new Blob([text]),
    keepalive: keepAlive,
  });
}

async function readJson<T>(response: Promise<Response>): Promise<T> {
  return (await (await response).json()) as T;
}

export const api = {
  listProjects: () => readJson<ProjectSummary[]>(request('/projects')),
  createProject: (name: string) => readJson<ProjectSummary>(sendJson('POST', '/projects', { name })),
  loadProject: (id: string) => readJson<LoadedProject>(request(`/projects/${id}`)),
  saveProject: (id: string, save: SaveRequest, { keepAlive = false } = {}) =>
    readJson<{ revision: number }>(sendJson('POST', `/projects/${id}/saves`, save, keepAlive)),
  listVersions: (id: string) => readJson<Version[]>(request(`/projects/${id}/versions`)),
  loadVersion: (id: string, versionId: string) =>
    readJson<LoadedProject>(request(`/projects/${id}/versions/${versionId}`)),
  keepVersion: (id: string, version: Omit<SaveRequest, 'saveId'>) =>
    readJson<Version>(sendJson('POST', `/projects/${id}/versions`, version)),
  copyVersion: (id: string, versionId: string) =>
    readJson<ProjectSummary>(sendJson('POST', `/projects/${id}/versions/${versionId}/copy`, {})),
  duplicateProject: (id: string) => readJson<ProjectSummary>(sendJson('POST', `/projects/${id}/duplicate`, {})),
  removeProject: (id: string) => request(`/projects/${id}`, { method: 'DELETE' }),
  restoreProject: (id: string) => sendJson('POST', `/projects/${id}/restore`, {}),

  listDeleted: () =>
    readJson<{ projects: DeletedItem[]; sources: DeletedItem[]; keptDays: number }>(request('/deleted')),
  emptyDeleted: () => readJson<{ count: number }>(sendJson('POST', '/deleted/empty', {})),

  records: <Name extends RecordKindName>(kind: Name) => readJson<ShelfItem<Name>[]>(request(`/shelf/${kind}`)),
  loadRecord: <Name extends RecordKindName>(kind: Name, id: string) =>
    readJson<RecordOf<Name>>(request(`/shelf/${kind}/${id}`)),
  addRecord: <Name extends RecordKindName>(kind: Name, record: RecordOf<Name>) =>
    readJson<ShelfItem<Name>>(sendJson('POST', `/shelf/${kind}`, record)),
  renameRecord: (kind: RecordKindName, id: string, name: string) => sendJson('PATCH', `/shelf/${kind}/${id}`, { name }),
  removeRecord: (kind: RecordKindName, id: string) => request(`/shelf/${kind}/${id}`, { method: 'DELETE' }),
  restoreRecord: (kind: RecordKindName, id: string) => sendJson('POST', `/shelf/${kind}/${id}/restore`, {}),

  listSources: () => readJson<SourceSummary[]>(request('/sources')),
  knownSource: (id: string) => readJson<KnownSource>(request(`/sources/${id}`)),
  sourcePrints: () => readJson<PrintsOfSource[]>(request('/sources/prints')),
  /** @param said name, facts, tags and prints, which travel in the header */
  putSource: (id: string, said: SourceUpload, wav: Uint8Array<ArrayBuffer>) => {
    const base64 = btoa(String.fromCharCode(...new TextEncoder().encode(JSON.stringify(said))));
    return request(`/sources/${id}`, {
      method: 'PUT',
      headers: { 'Content-Type': 'audio/wav', 'X-Source': base64 },
      body: wav,
    });
  },
  sourceAudio: async (id: string) => new Uint8Array(await (await request(`/sources/${id}/audio`)).arrayBuffer()),
  changeSource: (id: string, change: SourceChange) => sendJson('PATCH', `/sources/${id}`, change),
  sourceUses: (id: string) => readJson<SourceUse[]>(request(`/sources/${id}/uses`)),
  removeSource: (id: string) => request(`/sources/${id}`, { method: 'DELETE' }),
  restoreSource: (id: string) => sendJson('POST', `/sources/${id}/restore`, {}),
};
