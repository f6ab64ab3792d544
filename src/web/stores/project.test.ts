// @vitest-environment happy-dom
import { createPinia, setActivePinia } from 'pinia';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { renameProject, setClick, setTempo } from '#core/project/commands/song.ts';
import { emptyDocument } from '#core/project/defaults.ts';
import { applyDiff, type Diff } from '#core/project/diff.ts';
import type { ProjectDocument } from '#core/project/schema.ts';
import { api, ApiError } from '../api/client.ts';
import { useNotices } from './notices.ts';
import { useProject } from './project.ts';

/** A server in memory, as strict about revisions as the real one. */
class FakeServer {
  document: ProjectDocument = emptyDocument('p1', 'Ferry');
  revision = 1;
  readonly saves: { saveId: string; changes: Diff }[] = [];
  /** Errors for the next calls, before (`lost` after) the save is done. */
  fail: (Error | 'lost')[] = [];
  private readonly known = new Map<string, number>();

  save = async (
    _id: string,
    { saveId, baseRevision, changes }: { saveId: string; baseRevision: number; label: string; changes: Diff },
  ) => {
    const failure = this.fail.shift();
    if (failure instanceof Error) throw failure;
    this.saves.push({ saveId, changes });
    if (!this.known.has(saveId)) {
      if (baseRevision !== this.revision) throw new ApiError(409, 'save.conflict', 'changed elsewhere');
      this.document = applyDiff(this.document, changes);
      this.known.set(saveId, ++this.revision);
    }
    if (failure === 'lost') throw new ApiError(0, 'server.unreachable', 'no answer');
    return { revision: this.known.get(saveId)! };
  };
}

let server: FakeServer;
beforeEach(() => {
  vi.useFakeTimers();
  setActivePinia(createPinia());
  server = new FakeServer();
  vi.spyOn(api, 'loadProject').mockImplementation(async () => ({
    document: server.document,
    revision: server.revision,
  }));
  vi.spyOn(api, 'saveProject').mockImplementation(server.save);
});
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
});

async function opened() {
  const project = useProject();
  await project.open('p1');
  return project;
}

const settle = (ms = 1000) => vi.advanceTimersByTimeAsync(ms);

describe('saving by itself', () => {
  it('happens within a second, several changes together', async () => {
    const project = await opened();
    project.run('tempo', setTempo, { tempoBpm: 130 });
    project.run('click', setClick, { enabled: true });
    expect(project.saveState).toBe('waiting');
    await settle();
    expect(project.saveState).toBe('saved');
    expect(server.saves).toHaveLength(1);
    expect(server.document).toEqual(project.document);
  });

  it('sends the same save again when no answer came, and it counts once', async () => {
    const project = await opened();
    server.fail = ['lost'];
    project.run('tempo', setTempo, { tempoBpm: 130 });
    await settle();
    expect(project.saveState).toBe('failed');
    await settle(3000);
    expect(project.saveState).toBe('saved');
    expect(new Set(server.saves.map((save) => save.saveId)).size).toBe(1);
    expect(server.revision).toBe(2);
  });

  it('does not lose what is changed while a save is on its way', async () => {
    const project = await opened();
    project.run('tempo', setTempo, { tempoBpm: 130 });
    await vi.advanceTimersByTimeAsync(250);
    project.run('tempo', setTempo, { tempoBpm: 131 });
    await settle();
    expect(server.document.tempoBpm).toBe(131);
    expect(project.saveState).toBe('saved');
  });

  it('tells of a save that the server refuses', async () => {
    const project = await opened();
    server.fail = [new ApiError(400, 'document.invalid', 'tempoBpm: too small')];
    project.run('tempo', setTempo, { tempoBpm: 130 });
    await settle();
    expect(project.saveState).toBe('failed');
    expect(useNotices().notices.at(-1)?.text).toContain('tempoBpm: too small');
  });
});

describe('two windows', () => {
  async function inConflict() {
    const project = await opened();
    server.document = { ...server.document, name: 'Theirs' };
    server.revision = 5;
    project.run('tempo', setTempo, { tempoBpm: 130 });
    await settle();
    expect(project.saveState).toBe('conflict');
    return project;
  }

  it('overwrite nothing: the other version can be taken', async () => {
    const project = await inConflict();
    await project.takeTheirs();
    expect(project.document).toMatchObject({ name: 'Theirs', tempoBpm: 100 });
    expect(project.saveState).toBe('saved');
  });

  it('or one’s own put on top of it', async () => {
    const project = await inConflict();
    await project.keepMine();
    expect(server.document).toMatchObject({ name: 'Ferry', tempoBpm: 130 });
    expect(server.revision).toBe(6);
    expect(project.saveState).toBe('saved');
  });
});

describe('steps', () => {
  it('a gesture is one step, however many changes it makes', async () => {
    const project = await opened();
    expect(project.begin('tempo')).toBe(true);
    expect(project.begin('inner')).toBe(false);
    for (let tempoBpm = 101; tempoBpm < 140; tempoBpm++) project.run('', setTempo, { tempoBpm });
    project.commit();
    expect(project.undoLabel).toBe('tempo');
    project.undo();
    expect(project.document!.tempoBpm).toBe(100);
    expect(project.undoLabel).toBeNull();
    expect(project.redoLabel).toBe('tempo');
    project.redo();
    expect(project.document!.tempoBpm).toBe(139);
  });

  it('a gesture that is given up leaves nothing, and is not saved', async () => {
    const project = await opened();
    project.begin('tempo');
    project.run('', setTempo, { tempoBpm: 150 });
    project.cancel();
    await settle();
    expect(project.document!.tempoBpm).toBe(100);
    expect(project.undoLabel).toBeNull();
    expect(server.document.tempoBpm).toBe(100);
    expect(project.saveState).toBe('saved');
  });

  it('what is refused is told in words and changes nothing', async () => {
    const project = await opened();
    expect(project.run('tempo', setTempo, { tempoBpm: 7 })).toBe(false);
    expect(project.isPossible(renameProject, { name: ' ' })).toBe(false);
    expect(useNotices().notices.at(-1)?.text).toBe('The tempo goes from 20 to 400 beats a minute.');
    expect(project.undoLabel).toBeNull();
  });

  it('undoing is saved, too', async () => {
    const project = await opened();
    project.run('tempo', setTempo, { tempoBpm: 150 });
    await settle();
    project.undo();
    await settle();
    expect(server.document.tempoBpm).toBe(100);
    expect(server.revision).toBe(3);
  });
});
