// @vitest-environment happy-dom
/** However a window ends, what it showed is what the next one shows: every edit is either saved or kept in the browser. */
import { createPinia, setActivePinia } from 'pinia';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { setValue } from '#core/project/commands/values.ts';
import { seededRandom } from '#core/units/random.ts';
import { tempoOf } from '../../../../tests/support/edits.ts';
import { FakeServer } from '../../../../tests/support/fake-server.ts';
import { KeptInMemory } from '../../../../tests/support/unsaved.ts';
import { api, ApiError } from '../../api/client.ts';
import { useNotices } from '../frame/notices.ts';
import { useProject } from './project.ts';
import { keeping } from '../../saving/unsaved.ts';
import { useSaver } from './saver.ts';

let browser = new KeptInMemory();

let server: FakeServer;
beforeEach(() => {
  vi.useFakeTimers();
  fresh();
});
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
});

function fresh(): void {
  browser = new KeptInMemory();
  keeping.open = () => browser.newWindow();
  server = new FakeServer();
  newWindow();
  vi.spyOn(api, 'loadProject').mockImplementation((id) => server.load(id));
  vi.spyOn(api, 'loadVersion').mockImplementation((id, version) => server.loadVersion(id, version));
  vi.spyOn(api, 'saveProject').mockImplementation((id, save) => server.save(id, save));
  vi.spyOn(api, 'keepVersion').mockImplementation((id, version) => server.keep(id, version));
}

function newWindow(): void {
  browser.closeAll();
  vi.clearAllTimers();
  setActivePinia(createPinia());
}

const pass = (ms: number) => vi.advanceTimersByTimeAsync(ms);
const away = (count: number) => Array.from({ length: count }, () => new ApiError(0, 'server.unreachable', 'no answer'));
function edit(tempoBpm: number): void {
  useProject().run('tempo', setValue, {
    owners: [{ kind: 'song' as const }],
    param: 'tempoBpm',
    change: { to: tempoBpm },
  });
}

async function reopened(id = 'p1') {
  newWindow();
  const project = useProject();
  await project.open(id);
  return project;
}

describe('a window that ends', () => {
  it('while the server is away keeps every edit, not only the first', async () => {
    await useProject().open('p1');
    server.fail = away(20);
    for (const tempoBpm of [110, 120, 130]) {
      edit(tempoBpm);
      await pass(1500);
    }
    expect(useSaver().isAllSaved()).toBe(false);
    server.fail = [];
    expect(tempoOf((await reopened()).document!)).toBe(130);
    expect(tempoOf(server.current())).toBe(130);
  });

  it('without a word, while a save is on its way, keeps what came after it', async () => {
    await useProject().open('p1');
    server.hold = new Promise(() => undefined);
    edit(110);
    await pass(300);
    edit(120);
    await pass(500);
    expect(useSaver().isAllSaved()).toBe(false);
    server.hold = null;
    expect(tempoOf((await reopened()).document!)).toBe(120);
    expect(tempoOf(server.current())).toBe(120);
    expect(browser.drafts.size).toBe(0);
  });

  it('in the middle of a long drag loses less than a second of it', async () => {
    const project = useProject();
    await project.open('p1');
    project.begin('tempo');
    for (let step = 0; step < 100; step++) {
      edit(110 + step / 10);
      await pass(30);
    }
    expect(tempoOf((await reopened()).document!)).toBeGreaterThan(110 + 9.9 - 1000 / 300);
  });

  it('leaves another project unsaved, which is asked about and sent without being opened', async () => {
    const project = useProject();
    await project.open('p1');
    server.fail = away(3);
    edit(110);
    await pass(300);
    await project.open('p2');
    expect(useSaver().isAllSaved()).toBe(false);
    server.fail = [];
    await reopened('p2');
    await useSaver().sendLeft();
    expect(tempoOf(server.current('p1'))).toBe(110);
    expect(browser.drafts.size).toBe(0);
  });

  it('with what is refused keeps it, shows it again, and says why', async () => {
    await useProject().open('p1');
    const refusals = () => Array.from({ length: 9 }, () => new ApiError(413, 'format.too-large', 'too much at once'));
    server.fail = refusals();
    edit(110);
    await pass(300);
    const project = await reopened();
    expect(tempoOf(project.document!)).toBe(110);
    expect(project.saveState).toBe('refused');
    expect(useNotices().notices.at(-1)?.text).toContain('too much at once');
    server.fail = [];
    edit(111);
    await pass(300);
    expect(tempoOf(server.current())).toBe(111);
  });

  it('and the next one meets a server that fails: it shows what was kept, and saves it later', async () => {
    await useProject().open('p1');
    server.fail = away(9);
    edit(110);
    await pass(300);
    server.fail = [new ApiError(500, 'server.failed', 'not now'), new ApiError(500, 'server.failed', 'not now')];
    const project = await reopened();
    expect(tempoOf(project.document!)).toBe(110);
    await pass(5000);
    expect(project.saveState).toBe('saved');
    expect(tempoOf(server.current())).toBe(110);
  });

  it('in a browser without room says so', async () => {
    await useProject().open('p1');
    browser.isFull = true;
    server.fail = away(2);
    edit(110);
    await pass(300);
    expect(
      useNotices()
        .notices.map(({ text }) => text)
        .join(),
    ).toContain('no room');
  });
});

describe('two hundred ways to leave', () => {
  it('show in the end what they showed before', async () => {
    for (let seed = 1; seed <= 200; seed++) {
      fresh();
      const random = seededRandom(seed);
      const pick = (count: number) => Math.floor(random() * count);
      const project = useProject();
      await project.open('p1');
      let shown = 100;
      const steps = 1 + pick(8);
      for (let step = 0; step < steps; step++) {
        const kind = pick(6);
        if (kind === 0) server.fail = away(1 + pick(4));
        else if (kind === 1) server.fail = ['lost'];
        else if (kind === 2) server.fail = [new ApiError(500, 'server.failed', 'not now')];
        else if (kind === 3) server.fail = [];
        edit((shown = 101 + pick(200)));
        await pass([1, 100, 260, 700, 2500][pick(5)]!);
      }
      const way = pick(4);
      // A crash may lose what was changed in its last second.
      if (way === 0) await pass(450);
      else if (way === 1) useSaver().leave();
      else if (way === 2) await project.open('p2').then(() => pass(500));
      else
        useProject()
          .close()
          .catch(() => undefined);
      await pass(1);
      if (pick(2)) server.fail = [];
      // The server may go on failing when the next window opens.
      const next = await reopened();
      expect([seed, tempoOf(next.document!)]).toEqual([seed, shown]);
      server.fail = [];
      await pass(60_000);
      expect([seed, tempoOf(server.current())]).toEqual([seed, shown]);
      expect([seed, next.saveState]).toEqual([seed, 'saved']);
    }
  });
});
