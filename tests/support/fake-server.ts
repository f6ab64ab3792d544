/** A server of projects in memory, as strict about revisions as the real one, whose failures can be planned. */
import type { SaveRequest } from '#core/api/projects.ts';
import { emptyDocument } from '#core/document/defaults.ts';
import { applyDiff, type Diff } from '#core/document/diff.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { ApiError } from '../../src/web/api/client.ts';

interface Kept {
  baseRevision: number;
  label: string;
  document: ProjectDocument;
}

/** A server in memory, as strict about revisions as the real one. */
export class FakeServer {
  /** Documents by project, each revision of them. */
  readonly projects: Record<string, ProjectDocument[]> = {
    p1: [emptyDocument('p1', 'Ferry')],
    p2: [emptyDocument('p2', 'Island')],
  };
  readonly saves: { projectId: string; saveId: string; changes: Diff }[] = [];
  readonly kept: Kept[] = [];
  /** Errors for the next calls, before (`lost` after) the save is done. */
  fail: (Error | 'lost')[] = [];
  /** Answers come when this is resolved. */
  hold: Promise<void> | null = null;
  private readonly known = new Map<string, number>();

  current(id = 'p1'): ProjectDocument {
    return this.projects[id]!.at(-1)!;
  }

  load = async (id: string) => ({ document: this.current(id), revision: this.projects[id]!.length });

  loadVersion = async (id: string, version: string) => {
    const revision = Number(version);
    return { document: this.projects[id]![revision - 1]!, revision };
  };

  save = async (id: string, { saveId, baseRevision, changes }: SaveRequest) => {
    // Of a test before this one, whose window is gone.
    if (!this.projects[id]) throw new ApiError(404, 'project.missing', 'no such project');
    const failure = this.fail.shift();
    if (failure instanceof Error) throw failure;
    this.saves.push({ projectId: id, saveId, changes });
    if (!this.known.has(saveId)) {
      if (baseRevision !== this.projects[id]!.length) throw new ApiError(409, 'save.conflict', 'changed elsewhere');
      this.known.set(saveId, this.projects[id]!.push(applyDiff(this.current(id), changes)));
    }
    const revision = this.known.get(saveId)!;
    await this.hold;
    if (failure === 'lost') throw new ApiError(0, 'server.unreachable', 'no answer');
    return { revision };
  };

  keep = async (id: string, { baseRevision, label, changes }: Omit<SaveRequest, 'saveId'>) => {
    this.kept.push({ baseRevision, label, document: applyDiff(this.projects[id]![baseRevision - 1]!, changes) });
    return { id: 'kept-1', kind: 'kept' as const, revision: baseRevision, label, createdAt: 1 };
  };

  /** Somebody else saves. */
  change(id: string, change: Partial<ProjectDocument>): void {
    this.projects[id]!.push({ ...this.current(id), ...change });
  }
}
