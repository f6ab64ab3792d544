import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { renderAll } from '#core/engine/plan/render-all.ts';
import { firstDifference } from '../../../tests/support/signals.ts';
import { set, shortBursts } from '../../../tests/support/playing.ts';
import type { StretchRequest as AnyRequest } from '../workers/stretch.worker.ts';
import { RenderingCache } from './renderings.ts';

type StretchRequest = Extract<AnyRequest, { spec: unknown }>;
type ToWorker = { id: number; request: StretchRequest };

/** A worker in this thread that answers when it is told to. */
class SlowWorker {
  static made: SlowWorker[] = [];
  onmessage: ((event: { data: unknown }) => void) | null = null;
  onerror = null;
  readonly asked: ToWorker[] = [];
  constructor() {
    SlowWorker.made.push(this);
  }
  postMessage(message: ToWorker): void {
    this.asked.push(message);
  }
  terminate(): void {}
  /** Answers the last request: with silence of the wanted length, or with a failure. */
  async answer(error?: string): Promise<void> {
    const { id, request } = this.asked.at(-1)!;
    const channels = request.audio.channels.map(() => new Float32Array(request.spec.length));
    const data = error
      ? { id, error: { name: 'Error', message: error } }
      : { id, result: { sampleRate: request.audio.sampleRate, channels } };
    this.onmessage?.({ data });
    await new Promise((resolve) => setTimeout(resolve));
  }
}

const worker = () => SlowWorker.made[0]!;
const stepOf = (message: ToWorker) => message.request.spec.startFrame / 11_025;

beforeEach(() => {
  SlowWorker.made = [];
  vi.stubGlobal('Worker', SlowWorker);
});
afterEach(() => vi.unstubAllGlobals());

const project = set(shortBursts(), { follow: 'stretch' }, 90);

describe('the cache of renderings', () => {
  it('has one made after another, what is heard next first, and only once', async () => {
    const cache = new RenderingCache(project.assets, () => new Worker(''));
    cache.request(project.document, 3 * 480);
    expect(cache.missing).toBe(8);
    for (let k = 0; k < 8; k++) await worker().answer();
    expect(worker().asked.map(stepOf)).toEqual([3, 4, 5, 6, 7, 0, 1, 2]);
    expect(cache.missing).toBe(0);
    cache.request(project.document);
    expect(cache.missing).toBe(0);
    expect(SlowWorker.made).toHaveLength(1);
  });

  it('sends a slice alone, and gives back what was asked for', async () => {
    const cache = new RenderingCache(project.assets, () => new Worker(''));
    cache.request(project.document);
    const { spec, audio } = worker().asked[0]!.request;
    const source = project.assets.get('source-a')!.channels[0]!;
    expect(firstDifference(audio.channels[0]!, source.slice(spec.startFrame, spec.endFrame))).toBe(-1);
    expect(cache.find(spec)).toBeUndefined();
    await worker().answer();
    expect(cache.find(spec)!.audio.channels[0]!.length).toBe(spec.length);
    // The real worker's answer is as long.
    expect(renderAll(project.document, project.assets).find(spec)!.audio.channels[0]!.length).toBe(spec.length);
  });

  it('that are given up leave their slices as they are, until they are asked for again', async () => {
    const cache = new RenderingCache(project.assets, () => new Worker(''));
    cache.request(project.document);
    const all = cache.missing;
    expect(all).toBeGreaterThan(3);
    cache.giveUp();
    // The one that is being made is finished.
    expect(cache.missing).toBe(1);
    await worker().answer();
    expect(cache.missing).toBe(0);
    cache.request(project.document);
    expect(cache.missing).toBe(all - 1);
  });

  it('drops wishes that are out of date, and lets another rendering play until the new one is there', async () => {
    const cache = new RenderingCache(project.assets, () => new Worker(''));
    cache.request(project.document);
    await worker().answer();
    const first = worker().asked[0]!.request.spec;
    const faster = set(project, {}, 150);
    cache.request(faster.document);
    // The one that is being made is finished; of the others only those at the new tempo are made.
    await worker().answer();
    await worker().answer();
    expect(worker().asked).toHaveLength(4);
    const wanted = worker().asked[2]!.request.spec;
    expect(wanted.sliceKey).toBe(first.sliceKey);
    expect(wanted.length).toBeLessThan(first.length);
    expect(cache.find(wanted)!.spec.key).toBe(wanted.key);
    const later = { ...wanted, key: `${wanted.key}:later` };
    expect(cache.find(later)!.spec.key).toBe(wanted.key);
    expect(cache.missing).toBe(7);
  });

  it('goes on after one that fails, says so once, and does not wait for it', async () => {
    const cache = new RenderingCache(project.assets, () => new Worker(''));
    const failures: unknown[] = [];
    let ready = 0;
    cache.onFailed = (error) => failures.push(error);
    cache.onReady = () => ready++;
    const complete = cache.complete(project.document);
    await worker().answer('no memory');
    for (let k = 1; k < 8; k++) await worker().answer();
    await complete;
    expect(failures.map(String)).toEqual(['Error: no memory']);
    expect(ready).toBe(8);
    cache.request(project.document);
    expect(cache.missing).toBe(0);
  });

  it('leaves slices alone whose source is not there yet', () => {
    const cache = new RenderingCache(new Map(), () => new Worker(''));
    cache.request(project.document);
    expect(cache.missing).toBe(0);
    expect(SlowWorker.made).toEqual([]);
  });

  it('throws out nothing that is wanted now, however little room there is', async () => {
    const cache = new RenderingCache(project.assets, () => new Worker(''), 1);
    const done = cache.complete(project.document);
    for (let k = 0; k < 8; k++) await worker().answer();
    await done;
    cache.request(project.document);
    expect(cache.missing).toBe(0);
    // What another tempo wants is another matter: the old ones make room.
    const other = set(project, {}, 80);
    const again = cache.complete(other.document);
    for (let k = 0; k < 8; k++) await worker().answer();
    await again;
    cache.request(project.document);
    expect(cache.missing).toBe(8);
  });

  it('makes what a sound wants as soon as it is told to keep its length, or to run on', async () => {
    const cache = new RenderingCache(project.assets, () => new Worker(''));
    cache.request(project.document);
    for (let k = 0; k < 8; k++) await worker().answer();
    const [zoneId] = project.document.parts[project.partId]!.zoneOrder;
    const zone = project.document.zones[zoneId!]!;
    const withZone = (change: Partial<typeof zone>) => ({
      ...project.document,
      zones: { ...project.document.zones, [zoneId!]: { ...zone, ...change } },
    });
    const keys = { low: 60, high: 62, root: 60 };
    cache.request(withZone({ laid: 'hand', keys, values: { keepsLength: true } }));
    expect(cache.missing).toBe(2);
    await worker().answer();
    await worker().answer();
    cache.request(withZone({ values: { runsOn: true } }));
    expect(cache.missing).toBe(1);
  });
});
