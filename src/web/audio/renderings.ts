/**
 * Stretched slices and rung-on tails, made in a worker as they are wanted and kept. While one is being made, another one
 * of the same slice plays in its place; wishes that are out of date before their turn are dropped.
 */
import type { AudioData } from '#core/dsp/audio.ts';
import type { Rendering, Renderings, RenderingSpec } from '#core/engine/plan/renderings.ts';
import { WantedRenderings } from '#core/engine/plan/wanted-renderings.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { isSameList } from '#core/units/same-list.ts';
import { WorkerClient } from '../workers/rpc.ts';
import type { StretchRequest } from '../workers/stretch.worker.ts';

/** Samples that are kept, over all renderings: about 400 MB. */
const MAX_SAMPLES = 100_000_000;

export class RenderingCache implements Renderings {
  /** Called when something that was wanted is there. */
  onReady: () => void = () => undefined;
  /** Called when one could not be made: its slice plays as it is, and it is not tried again. */
  onFailed: (error: unknown) => void = () => undefined;
  private readonly byKey = new Map<string, Rendering>();
  private readonly latest = new Map<string, Rendering>();
  private readonly failed = new Set<string>();
  /** What the document asks for now: it stays, however much it is. */
  private wanted: ReadonlySet<string> = new Set();
  private samples = 0;
  private queue: RenderingSpec[] = [];
  private busy = false;
  private worker: WorkerClient<StretchRequest> | null = null;
  private waiting: (() => void)[] = [];
  private lastLoop: { id: string; audio: AudioData } | null = null;
  /** Grows when there are others. */
  version = 0;
  private readonly wishes = new WantedRenderings();
  /** The last wishes, and for which of the sources that were there. */
  private asked: readonly unknown[] = [];

  /**
   * @param newWorker begins the one that makes them, when there is something to make
   * @param mostSamples that are kept of what is not wanted any more
   */
  constructor(
    private readonly sources: ReadonlyMap<string, AudioData>,
    private readonly newWorker: () => Worker,
    private readonly mostSamples = MAX_SAMPLES,
  ) {}

  find(spec: RenderingSpec): Rendering | undefined {
    return this.byKey.get(spec.key) ?? this.latest.get(spec.sliceKey);
  }

  /** How many of the renderings that were asked for last are still to come. */
  get missing(): number {
    return this.queue.length + (this.busy ? 1 : 0);
  }

  /**
   * Asks for all that a document wants, what will be heard next first; what was asked for before and is not wanted any
   * more is dropped.
   * @param positionTicks where the song is
   */
  request(document: ProjectDocument, positionTicks = 0): void {
    const asked = [...this.wishes.lists(document), ...Object.keys(document.sources).map((id) => this.sources.has(id))];
    // Where nothing else is wanted than before, there is nothing to look up.
    if (this.missing === 0 && isSameList(asked, this.asked)) return;
    this.asked = asked;
    const specs = this.wishes.inOrder(document, positionTicks);
    this.wanted = new Set(specs.map(({ key }) => key));
    this.queue = specs.filter(
      ({ key, sourceId }) => !this.byKey.has(key) && !this.failed.has(key) && this.sources.has(sourceId),
    );
    void this.work();
  }

  /** Gives up what is still to come, until it is asked for again. */
  giveUp(): void {
    this.queue = [];
    this.asked = [];
    for (const resolve of this.waiting.splice(0)) resolve();
  }

  /** Waits until all that a document wants is there, or was given up. */
  async complete(document: ProjectDocument): Promise<void> {
    this.request(document);
    while (this.missing > 0) await new Promise<void>((resolve) => this.waiting.push(resolve));
  }

  /** A whole loop stretched; the last one that was made is kept. */
  async stretchLoop(id: string, request: Exclude<StretchRequest, { spec: unknown }>): Promise<AudioData> {
    if (this.lastLoop?.id !== id) {
      const audio = await this.client.call<AudioData>(request, {
        transfer: request.audio.channels.map((channel) => channel.buffer as ArrayBuffer),
      });
      this.lastLoop = { id, audio };
    }
    return this.lastLoop!.audio;
  }

  private async work(): Promise<void> {
    if (this.busy) return;
    const spec = this.queue.shift();
    if (!spec) {
      for (const resolve of this.waiting.splice(0)) resolve();
      return;
    }
    this.busy = true;
    try {
      const source = this.sources.get(spec.sourceId)!;
      const channels = source.channels.map((channel) => channel.slice(spec.startFrame, spec.endFrame));
      const audio = await this.client.call<AudioData>(
        { spec, audio: { sampleRate: source.sampleRate, channels } },
        { transfer: channels.map((channel) => channel.buffer) },
      );
      this.keep({ spec, audio });
    } catch (error) {
      this.failed.add(spec.key);
      this.onFailed(error);
    } finally {
      this.busy = false;
    }
    this.onReady();
    void this.work();
  }

  private keep(rendering: Rendering): void {
    const { spec, audio } = rendering;
    this.version++;
    this.byKey.set(spec.key, rendering);
    this.latest.set(spec.sliceKey, rendering);
    this.samples += audio.channels.length * audio.channels[0]!.length;
    for (const [key, old] of this.byKey) {
      if (this.samples <= this.mostSamples) break;
      if (old === rendering || this.wanted.has(key)) continue;
      this.byKey.delete(key);
      if (this.latest.get(old.spec.sliceKey) === old) this.latest.delete(old.spec.sliceKey);
      this.samples -= old.audio.channels.length * old.audio.channels[0]!.length;
    }
  }

  private get client(): WorkerClient<StretchRequest> {
    this.worker ??= new WorkerClient(this.newWorker());
    return this.worker;
  }
}
