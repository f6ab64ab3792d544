/** Talks to the server. Every failure becomes an error with a code that the interface has words for. */
import type { Diff } from '#core/project/diff.ts';
import type { Groove, ProjectDocument } from '#core/project/schema.ts';

export interface ProjectSummary {
  id: string;
  name: string;
  revision: number;
  createdAt: number;
  updatedAt: number;
  tempoBpm: number;
  partCount: number;
}

export interface SourceFacts {
  tempo: { bpm: number; bars: number } | null;
  skyline: number[];
}

export interface SourceSummary {
  id: string;
  name: string;
  sampleRate: number;
  channels: number;
  frames: number;
  byteLength: number;
  createdAt: number;
  facts: SourceFacts;
}

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

function sendJson(method: string, path: string, body: unknown): Promise<Response> {
  return request(path, { method, headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) });
}

async function readJson<T>(response: Promise<Response>): Promise<T> {
  return (await (await response).json()) as T;
}

export interface ShelfGroove {
  id: string;
  groove: Groove;
}

export const api = {
  listProjects: () => readJson<ProjectSummary[]>(request('/projects')),
  createProject: (name: string) => readJson<ProjectSummary>(sendJson('POST', '/projects', { name })),
  loadProject: (id: string) => readJson<{ document: ProjectDocument; revision: number }>(request(`/projects/${id}`)),
  saveProject: (id: string, save: { saveId: string; baseRevision: number; label: string; changes: Diff }) =>
    readJson<{ revision: number }>(sendJson('POST', `/projects/${id}/saves`, save)),
  duplicateProject: (id: string) => readJson<ProjectSummary>(sendJson('POST', `/projects/${id}/duplicate`, {})),
  removeProject: (id: string) => request(`/projects/${id}`, { method: 'DELETE' }),
  restoreProject: (id: string) => sendJson('POST', `/projects/${id}/restore`, {}),

  grooves: () => readJson<ShelfGroove[]>(request('/grooves')),
  addGroove: (groove: Groove) => readJson<ShelfGroove>(sendJson('POST', '/grooves', groove)),
  renameGroove: (id: string, name: string) => sendJson('PATCH', `/grooves/${id}`, { name }),
  removeGroove: (id: string) => request(`/grooves/${id}`, { method: 'DELETE' }),
  restoreGroove: (id: string) => sendJson('POST', `/grooves/${id}/restore`, {}),

  listSources: () => readJson<SourceSummary[]>(request('/sources')),
  putSource: (id: string, name: string, facts: SourceFacts, wav: Uint8Array<ArrayBuffer>) => {
    const header = JSON.stringify({ name, facts });
    const base64 = btoa(String.fromCharCode(...new TextEncoder().encode(header)));
    return request(`/sources/${id}`, {
      method: 'PUT',
      headers: { 'Content-Type': 'audio/wav', 'X-Source': base64 },
      body: wav,
    });
  },
  sourceAudio: async (id: string) => new Uint8Array(await (await request(`/sources/${id}/audio`)).arrayBuffer()),
  renameSource: (id: string, name: string) => sendJson('PATCH', `/sources/${id}`, { name }),
  removeSource: (id: string) => request(`/sources/${id}`, { method: 'DELETE' }),
  restoreSource: (id: string) => sendJson('POST', `/sources/${id}/restore`, {}),
};
