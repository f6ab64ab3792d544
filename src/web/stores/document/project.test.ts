// @vitest-environment happy-dom
import { createPinia, setActivePinia } from 'pinia';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { addBus } from '#core/project/commands/channels.ts';
import { renameProject } from '#core/project/commands/song.ts';
import { setValue, type SetValueArgs } from '#core/project/commands/values.ts';
import { emptyDocument } from '#core/document/defaults.ts';
import { tempoOf } from '../../../../tests/support/edits.ts';
import { api, ApiError } from '../../api/client.ts';
import { useNotices } from '../frame/notices.ts';
import { fetchChecks } from './checks.ts';
import { useProject } from './project.ts';
import { keeping } from '../../saving/unsaved.ts';
import { useSaver } from './saver.ts';
import { FakeServer } from '../../../../tests/support/fake-server.ts';
import { KeptInMemory } from '../../../../tests/support/unsaved.ts';

let browser = new KeptInMemory();

let server: FakeServer;
beforeEach(() => {
  vi.useFakeTimers();
  browser = new KeptInMemory();
  keeping.open = () => browser.newWindow();
  newWindow();
  server = new FakeServer();
  vi.spyOn(api, 'loadProject').mockImplementation((id) => server.load(id));
  vi.spyOn(api, 'loadVersion').mockImplementation((id, version) => server.loadVersion(id, version));
  vi.spyOn(api, 'saveProject').mockImplementation((id, save) => server.save(id, save));
  vi.spyOn(api, 'keepVersion').mockImplementation((id, version) => server.keep(id, version));
});
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
});

/** As if the window had been closed and another one opened: only what the browser stores is left. */
function newWindow(): void {
  browser.closeAll();
  vi.clearAllTimers();
  setActivePinia(createPinia());
}

async function opened(id = 'p1') {
  const project = useProject();
  await project.open(id);
  return project;
}

const song = (param: string, to: number | boolean): SetValueArgs => ({
  owners: [{ kind: 'song' }],
  param,
  change: { to },
});
const tempo = (tempoBpm: number) => song('tempoBpm', tempoBpm);
const pass = (ms = 1000) => vi.advanceTimersByTimeAsync(ms);

describe('saving by itself', () => {
  it('happens within a second, several changes together', async () => {
    const project = await opened();
    project.run('tempo', setValue, tempo(130));
    project.run('click', setValue, song('clickOn', true));
    expect(project.saveState).toBe('waiting');
    await pass();
    expect(project.saveState).toBe('saved');
    expect(server.saves).toHaveLength(1);
    expect(server.current()).toEqual(project.document);
  });

  it('sends the same save again when no answer came, and it counts once', async () => {
    const project = await opened();
    server.fail = ['lost'];
    project.run('tempo', setValue, tempo(130));
    await pass();
    expect(project.saveState).toBe('failed');
    await pass(3000);
    expect(project.saveState).toBe('saved');
    expect(new Set(server.saves.map((save) => save.saveId)).size).toBe(1);
    expect(server.projects.p1).toHaveLength(2);
  });

  it.each([
    [500, 'server.failed'],
    [429, 'request.invalid'],
  ])('tries again after a %i, with growing pauses, until it works', async (status, code) => {
    const project = await opened();
    server.fail = Array.from({ length: 4 }, () => new ApiError(status, code, 'not now'));
    project.run('tempo', setValue, tempo(130));
    await pass();
    expect(project.saveState).toBe('failed');
    // After 1, 2, 4 and 8 seconds.
    await pass(8_000);
    expect(server.saves).toHaveLength(0);
    await pass(8_000);
    expect(project.saveState).toBe('saved');
    expect(tempoOf(server.current())).toBe(130);
  });

  it('does not lose what is changed while a save is on its way', async () => {
    const project = await opened();
    project.run('tempo', setValue, tempo(130));
    await pass(250);
    project.run('tempo', setValue, tempo(131));
    await pass();
    expect(tempoOf(server.current())).toBe(131);
    expect(project.saveState).toBe('saved');
  });

  it('tells of a save that the server refuses, and saves what mends it', async () => {
    const project = await opened();
    server.fail = [new ApiError(400, 'document.invalid', 'tempoBpm: too small')];
    project.run('tempo', setValue, tempo(130));
    await pass();
    expect(project.saveState).toBe('refused');
    expect(useNotices().notices.at(-1)?.text).toContain('tempoBpm: too small');
    project.run('tempo', setValue, tempo(131));
    await pass();
    expect(project.saveState).toBe('saved');
    expect(tempoOf(server.current())).toBe(131);
  });

  it('lets no value into the document that could never be saved, once the checks are there', async () => {
    await fetchChecks();
    const project = await opened();
    const broken = () => ({
      ok: true as const,
      document: { ...project.document!, song: { values: { tempoBpm: NaN }, zoneDefaults: {} } },
    });
    expect(project.run('broken', broken, {})).toBeNull();
    expect(useNotices().notices.at(-1)?.text).toMatch(
      /^Not done, and nothing is changed: .* could not be saved with it \(song\.values\.tempoBpm: /,
    );
    expect(tempoOf(project.document!)).toBe(100);
  });
});

describe('leaving', () => {
  it('loses neither of two quick edits, and takes no answer for another project’s', async () => {
    const project = await opened();
    let answer = () => {};
    server.hold = new Promise((resolve) => (answer = resolve));
    project.run('tempo', setValue, tempo(130));
    await pass(300);
    project.run('tempo', setValue, tempo(131));
    await project.open('p2');
    expect(project.document!.name).toBe('Island');
    answer();
    server.hold = null;
    await pass();
    expect(project.saveState).toBe('saved');
    expect(tempoOf(server.current('p1'))).toBe(131);
    expect(server.current('p2')).toEqual(emptyDocument('p2', 'Island'));
    await project.open('p1');
    expect(tempoOf(project.document!)).toBe(131);
  });

  it('in the middle of a conflict keeps this window’s version, and the choice', async () => {
    const project = await opened();
    server.change('p1', { name: 'Theirs' });
    project.run('tempo', setValue, tempo(130));
    await pass();
    await project.open('p2');
    await project.open('p1');
    expect(project.saveState).toBe('conflict');
    expect(tempoOf(project.document!)).toBe(130);
  });

  it('the page while the server does not answer, loses nothing: the next window saves it', async () => {
    const project = await opened();
    server.fail = Array.from({ length: 9 }, () => new ApiError(0, 'server.unreachable', 'no answer'));
    project.run('tempo', setValue, tempo(130));
    useSaver().leave();
    await pass(10);
    server.fail = [];
    newWindow();
    const next = await opened();
    expect(tempoOf(next.document!)).toBe(130);
    expect(server.projects.p1).toHaveLength(2);
  });

  it('and what others have saved meanwhile is not overwritten by it', async () => {
    const project = await opened();
    server.fail = Array.from({ length: 9 }, () => new ApiError(0, 'server.unreachable', 'no answer'));
    project.run('tempo', setValue, tempo(130));
    useSaver().leave();
    await pass(10);
    server.fail = [];
    server.change('p1', { name: 'Theirs' });
    newWindow();
    const next = await opened();
    expect(next.saveState).toBe('conflict');
    expect(tempoOf(next.document!)).toBe(130);
    expect(server.current().name).toBe('Theirs');
  });
});

describe('while another project is being opened', () => {
  function slowly() {
    let answer = () => {};
    const wait = new Promise<void>((resolve) => (answer = resolve));
    vi.spyOn(api, 'loadProject').mockImplementation(async (id) => {
      if (id === 'p2') await wait;
      return server.load(id);
    });
    return () => answer();
  }

  it('the open one can be changed, a drag belongs to it, and all of it is saved', async () => {
    const project = await opened();
    const answer = slowly();
    const opening = project.open('p2');
    const gesture = project.begin('tempo')!;
    project.run('', setValue, tempo(130));
    answer();
    await opening;
    expect(gesture.isOpen).toBe(false);
    expect(project.document!.name).toBe('Island');
    expect(project.undoLabel).toBeNull();
    await pass();
    expect(tempoOf(server.current('p1'))).toBe(130);
    expect(tempoOf(server.current('p2'))).toBe(100);
  });

  it('going back to the open one stays there', async () => {
    const project = await opened();
    const answer = slowly();
    const opening = project.open('p2');
    await project.open('p1');
    answer();
    await opening;
    expect(project.document!.name).toBe('Ferry');
    project.run('tempo', setValue, tempo(130));
    await pass();
    expect(tempoOf(server.current('p1'))).toBe(130);
  });
});

describe('two windows', () => {
  async function inConflict() {
    const project = await opened();
    server.change('p1', { name: 'Theirs' });
    project.run('tempo', setValue, tempo(130));
    await pass();
    expect(project.saveState).toBe('conflict');
    return project;
  }

  it('overwrite nothing: the other version can be taken, and this one is kept', async () => {
    const project = await inConflict();
    await project.takeTheirs();
    expect(project.document).toMatchObject({ name: 'Theirs' });
    expect(tempoOf(project.document!)).toBe(100);
    expect(project.saveState).toBe('saved');
    expect(server.kept).toHaveLength(1);
    expect(tempoOf(server.kept[0]!.document)).toBe(130);
    expect(server.kept[0]!.baseRevision).toBe(1);
  });

  it('stay in conflict when the other version cannot be had', async () => {
    const project = await inConflict();
    vi.spyOn(api, 'keepVersion').mockRejectedValueOnce(new ApiError(0, 'server.unreachable', 'no answer'));
    await project.takeTheirs();
    expect(project.saveState).toBe('conflict');
    expect(tempoOf(project.document!)).toBe(130);
  });

  it('or one’s own put on top of it, which stays among the revisions', async () => {
    const project = await inConflict();
    await project.keepMine();
    expect(server.current()).toMatchObject({ name: 'Ferry' });
    expect(tempoOf(server.current())).toBe(130);
    expect(server.projects.p1!.map((document) => document.name)).toEqual(['Ferry', 'Theirs', 'Ferry']);
    expect(project.saveState).toBe('saved');
  });
});

describe('steps', () => {
  it('a gesture is one step, however many changes it makes', async () => {
    const project = await opened();
    const gesture = project.begin('tempo')!;
    for (let tempoBpm = 101; tempoBpm < 140; tempoBpm++) project.run('', setValue, tempo(tempoBpm));
    project.step('inner', () => project.run('', setValue, tempo(139.5)));
    gesture.commit();
    expect(project.undoLabel).toBe('tempo');
    project.undo();
    expect(tempoOf(project.document!)).toBe(100);
    expect(project.undoLabel).toBeNull();
    expect(project.redoLabel).toBe('tempo');
    project.redo();
    expect(tempoOf(project.document!)).toBe(139.5);
  });

  it('a gesture that is given up leaves nothing, and is not saved', async () => {
    const project = await opened();
    const gesture = project.begin('tempo')!;
    project.run('', setValue, tempo(150));
    gesture.cancel();
    await pass();
    expect(tempoOf(project.document!)).toBe(100);
    expect(project.undoLabel).toBeNull();
    expect(tempoOf(server.current())).toBe(100);
    expect(project.saveState).toBe('saved');
  });

  it('undo in the middle of a gesture takes the gesture back, and ends it', async () => {
    const project = await opened();
    project.run('name', renameProject, { name: 'Before' });
    const gesture = project.begin('tempo')!;
    project.run('', setValue, tempo(150));
    project.undo();
    expect(tempoOf(project.document!)).toBe(100);
    expect(gesture.isOpen).toBe(false);
    expect(project.undoLabel).toBe('name');
    // What the hand still does is not meant any more.
    gesture.replay(setValue, tempo(160));
    gesture.commit();
    expect(tempoOf(project.document!)).toBe(100);
    expect(project.undoLabel).toBe('name');
  });

  it('a second gesture ends the first, and each is a step of its own', async () => {
    const project = await opened();
    const first = project.begin('first')!;
    project.run('', setValue, tempo(110));
    const second = project.begin('second')!;
    project.run('', setValue, tempo(120));
    first.commit();
    second.commit();
    project.undo();
    expect(tempoOf(project.document!)).toBe(110);
    project.undo();
    expect(tempoOf(project.document!)).toBe(100);
  });

  it('one that is joined and comes back to where it began leaves the step before it alone', async () => {
    const project = await opened();
    project.run('name', renameProject, { name: 'Before' });
    project.run('tempo', setValue, tempo(101), 'tempo');
    project.run('tempo', setValue, tempo(100), 'tempo');
    project.run('tempo', setValue, tempo(102), 'tempo');
    project.undo();
    expect(tempoOf(project.document!)).toBe(100);
    expect(project.document!.name).toBe('Before');
    project.undo();
    expect(project.document!.name).toBe('Ferry');
  });

  it('a gesture that is told from its start comes back from the end of a range to where it was', async () => {
    const project = await opened();
    project.run('tempo', setValue, tempo(390));
    const gesture = project.begin('tempo')!;
    for (const by of [5, 50, 100, 20, 0]) {
      gesture.rewind();
      project.run('', setValue, { owners: [{ kind: 'song' as const }], param: 'tempoBpm', change: { by } });
    }
    gesture.commit();
    expect(tempoOf(project.document!)).toBe(390);
    expect(project.undoLabel).toBe('tempo');
  });

  it('a command tells what it made', async () => {
    const project = await opened();
    const buses = [1, 2].map((n) => project.run(`bus ${n}`, addBus, { name: `Bus ${n}` }));
    expect(buses.map((change) => change?.made.map((id) => project.document!.channels[id]?.name))).toEqual([
      ['Bus 1'],
      ['Bus 2'],
    ]);
  });

  it('what is refused is told in words and changes nothing', async () => {
    const project = await opened();
    expect(project.run('tempo', setValue, tempo(7))).toBeNull();
    expect(project.isPossible(renameProject, { name: ' ' })).toBe(false);
    expect(useNotices().notices.at(-1)?.text).toBe('Tempo goes from 20.00 bpm to 400.00 bpm.');
    expect(project.undoLabel).toBeNull();
  });

  it('undoing is saved, too', async () => {
    const project = await opened();
    project.run('tempo', setValue, tempo(150));
    await pass();
    project.undo();
    await pass();
    expect(tempoOf(server.current())).toBe(100);
    expect(server.projects.p1).toHaveLength(3);
  });
});

describe('an earlier version', () => {
  it('is looked at without being changed, and becomes the document as a step that can be undone', async () => {
    const project = await opened();
    const earlier = project.document!;
    project.run('tempo', setValue, tempo(150));
    await pass();
    project.view({ versionId: '1', label: 'version 1', document: earlier });
    expect(tempoOf(project.document!)).toBe(100);
    expect(project.run('tempo', setValue, tempo(80))).toBeNull();
    expect(project.begin('drag')).toBeNull();
    project.view(null);
    expect(tempoOf(project.document!)).toBe(150);
    project.view({ versionId: '1', label: 'version 1', document: earlier });
    project.goBack();
    await pass();
    expect(tempoOf(server.current())).toBe(100);
    project.undo();
    expect(tempoOf(project.document!)).toBe(150);
  });
});
