import { afterEach, describe, expect, it, vi } from 'vitest';
import { AppError } from '#core/units/errors.ts';
import { WorkerClient } from '../workers/rpc.ts';
import { SoundLibrary } from './library.ts';

/** What was asked of the worker; each kind of call is answered as told. */
function worker(answers: Record<string, () => unknown>) {
  const asked: string[] = [];
  vi.stubGlobal('fetch', async () => new Response('{"known":false,"name":null}'));
  vi.stubGlobal('Worker', class {});
  vi.spyOn(WorkerClient.prototype, 'call').mockImplementation(async (request) => {
    const { kind } = request as { kind: string };
    asked.push(kind);
    const usual = kind === 'hear' ? () => ({ prints: { startFrames: [], bytes: '' } }) : () => undefined;
    return (answers[kind] ?? usual)() as never;
  });
  return asked;
}
afterEach(() => {
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

const imported = () => ({ sourceId: 'a', sampleRate: 44100, channels: [new Float32Array(4)], peaks: {}, skyline: [] });
const cancelled = () => {
  throw new AppError('cancelled', 'given up');
};
const file = () => new File([new Uint8Array(8)], 'loop.wav');

describe('an import', () => {
  it('that is given up leaves nothing in memory, wherever it was', async () => {
    for (const at of ['analyse', 'put-on-shelf']) {
      const asked = worker({
        import: imported,
        analyse: () => ({ onsets: [], tempoReadings: [] }),
        [at]: cancelled,
      });
      const library = new SoundLibrary();
      await expect(library.importFile(file())).rejects.toMatchObject({ code: 'cancelled' });
      expect(asked.at(-1)).toBe('forget');
      expect([library.audio.size, library.peaks.size]).toEqual([0, 0]);
      vi.restoreAllMocks();
    }
  });

  it('that was here already is not forgotten when a second one is given up', async () => {
    const library = new SoundLibrary();
    worker({ import: imported, analyse: () => ({ onsets: [], tempoReadings: [] }) });
    await library.importFile(file());
    vi.restoreAllMocks();
    const asked = worker({ import: imported, analyse: cancelled });
    await expect(library.importFile(file())).rejects.toMatchObject({ code: 'cancelled' });
    expect(asked).not.toContain('forget');
    expect(library.audio.has('a')).toBe(true);
  });
});

describe('a file whose samples lie on the shelf', () => {
  it('is told, and keeps the name that it has there', async () => {
    const asked = worker({ import: imported, analyse: () => ({ onsets: [], tempoReadings: [] }) });
    vi.stubGlobal('fetch', async () => new Response('{"known":true,"name":"Gravel"}'));
    const found = await new SoundLibrary().importFile(file());
    expect(found).toMatchObject({ name: 'loop', shelfName: 'Gravel' });
    expect(asked).not.toContain('put-on-shelf');
  });
});

describe('sounds that were only listened to', () => {
  it('are let go where there are too many, the oldest first; those of the project stay', async () => {
    const asked: string[] = [];
    vi.stubGlobal('Worker', class {});
    vi.spyOn(WorkerClient.prototype, 'call').mockImplementation(async (request) => {
      const { kind, sourceId } = request as { kind: string; sourceId: string };
      asked.push(`${kind} ${sourceId}`);
      return { ...imported(), sourceId } as never;
    });
    const library = new SoundLibrary(10);
    const gone: string[] = [];
    library.isNeeded = (id) => id === 'project';
    library.onLetGo = (ids) => gone.push(...ids);
    for (const id of ['project', 'a', 'b', 'c', 'd', 'a', 'e', 'f', 'g', 'h']) await library.load(id);
    // Ten samples are two sounds of four, beside the last four, which stay in any case.
    expect(gone).toEqual(['b', 'c']);
    expect([...library.audio.keys()]).toEqual(['project', 'a', 'd', 'e', 'f', 'g', 'h']);
    expect(library.peaks.size).toBe(7);
    expect(asked.filter((one) => one.startsWith('forget'))).toEqual(gone.map((id) => `forget ${id}`));
    await library.load('b');
    expect(asked.filter((one) => one === 'load b')).toHaveLength(2);
  });

  it('are let go at once where each fills all the room: of those the last one stays', async () => {
    vi.stubGlobal('Worker', class {});
    vi.spyOn(WorkerClient.prototype, 'call').mockImplementation(async (request) => {
      const { sourceId } = request as { sourceId: string };
      return { ...imported(), sourceId } as never;
    });
    const library = new SoundLibrary(3);
    library.isNeeded = (id) => id === 'project';
    for (const id of ['project', 'a', 'b', 'c']) await library.load(id);
    expect([...library.audio.keys()]).toEqual(['project', 'c']);
  });
});
