/** The page's side of the live engine: one AudioContext, one worklet node, messages over and status back. */
import type { EngineStatus, FromEngine, ToEngine } from '#core/engine/messages.ts';
import { samplesOf, withoutRoom } from './room.ts';
import { soundIdsOf, type PlanCompiler } from '#core/engine/plan/compile.ts';
import { isEmptyPatch, type PlanPatch, type PlanSource } from '#core/engine/plan/fragments.ts';
import { isRenderingKey } from '#core/engine/plan/renderings.ts';

/** Rate the engine runs and bounces at, in frames a second. */
export const ENGINE_SAMPLE_RATE = 44100;

/** Samples of renderings and laid loops that stay unused in the audio thread: one may come back with the next undo. */
const KEEP_SAMPLES = 8_000_000;

export const IDLE_STATUS: EngineStatus = {
  type: 'status',
  frame: 0,
  timeSeconds: 0,
  playing: false,
  order: 0,
  positionTicks: 0,
  tempoBpm: 120,
  sounding: [],
  parts: [],
  mix: { peaks: [], readings: [], troubled: [], watched: null },
  peaks: [0, 0],
  previewing: false,
  previewOrder: 0,
  previewFrame: 0,
  played: [],
};

export class EngineHost {
  /** The latest report of the audio thread. Not reactive: read it when drawing. */
  status: EngineStatus = IDLE_STATUS;
  /** When the latest report came, in seconds of the audio clock. */
  statusTime = 0;
  private context: AudioContext | null = null;
  private node: AudioWorkletNode | null = null;
  private starting: Promise<void> | null = null;
  /** Samples of what the audio thread has, by id, the oldest first. */
  private readonly known = new Map<string, number>();
  private readonly waiting: ToEngine[] = [];
  private captured: ((audio: { left: Float32Array; right: Float32Array }) => void) | null = null;
  private toldLast: ((audio: { left: Float32Array; right: Float32Array }) => void) | null = null;
  private readonly listeners = new Set<(status: EngineStatus) => void>();

  /** @param workletUrl where the code of the audio thread lies */
  constructor(private readonly workletUrl: string) {}

  /** Builds the engine; browsers let it sound only after the first click or key. */
  start(): Promise<void> {
    this.starting ??= this.build();
    return this.starting;
  }

  private async build(): Promise<void> {
    const context = new AudioContext({ sampleRate: ENGINE_SAMPLE_RATE, latencyHint: 'interactive' });
    await context.audioWorklet.addModule(this.workletUrl);
    const node = new AudioWorkletNode(context, 'engine', { numberOfInputs: 0, outputChannelCount: [2] });
    node.port.onmessage = (event: MessageEvent<FromEngine>) => this.receive(event.data);
    node.connect(context.destination);
    this.context = context;
    this.node = node;
    for (const message of this.waiting.splice(0)) node.port.postMessage(message);
  }

  /** Lets sound out; call it from a click or key. */
  async resume(): Promise<void> {
    await this.start();
    if (this.context?.state === 'suspended') await this.context.resume();
  }

  /** The graph that it plays in, for who listens to an input beside it or to what it plays. */
  async graph(): Promise<{ context: AudioContext; output: AudioNode }> {
    await this.resume();
    return { context: this.context!, output: this.node! };
  }

  addSource(source: PlanSource): void {
    if (this.known.has(source.id)) return;
    this.known.set(source.id, samplesOf(source));
    this.send({ type: 'source', source });
  }

  /**
   * Sends what has changed of the plan, after the samples that it names; values alone go as values.
   * @param waitsOf how this part sounds is heard from where another pattern would take over
   */
  sendPatch(patch: PlanPatch, compiler: PlanCompiler, waitsOf?: string): void {
    const looks = (patch.looks ?? []).flatMap((one) => one.looks).flatMap(({ on, off }) => [...on.zones, ...off.zones]);
    for (const id of [...patch.zones, ...looks].flatMap(soundIdsOf)) {
      const source = compiler.sources.get(id);
      if (source) this.addSource(source);
    }
    const { values } = patch;
    const line = waitsOf === undefined ? {} : { waitsOf };
    if (isEmptyPatch({ ...patch, values: [] })) this.send({ type: 'values', values, ...line });
    else this.send({ type: 'patch', patch, ...line });
    if (patch.zones.length > 0 || patch.removed.length > 0) this.forgetUnused(compiler);
  }

  /** Renderings and loops that no zone names any more leave the audio thread; sounds of the shelf stay for previews. */
  private forgetUnused(compiler: PlanCompiler): void {
    const made = new Map([...this.known].filter(([id]) => isRenderingKey(id)));
    if ([...made.values()].reduce((sum, size) => sum + size, 0) <= KEEP_SAMPLES) return;
    const used = compiler.usedSourceIds();
    const gone = withoutRoom(made, (id) => used.has(id), KEEP_SAMPLES);
    for (const id of gone) compiler.sources.delete(id);
    this.forgetSources(gone);
  }

  /** The audio thread lets samples go; what sounds of them sounds on. */
  forgetSources(ids: readonly string[]): void {
    const sourceIds = ids.filter((id) => this.known.delete(id));
    if (sourceIds.length > 0) this.send({ type: 'forget', sourceIds });
  }

  /** Time of the audio clock at a moment of `performance.now()`, in seconds; null while there is no sound. */
  timeAt(milliseconds: number): number | null {
    if (this.context?.state !== 'running') return null;
    return this.context.currentTime + (milliseconds - performance.now()) / 1000;
  }

  /**
   * How much later than it is rendered sound leaves the machine, as the browser tells, in whole milliseconds (Web Audio
   * API, `baseLatency` and `outputLatency`); 0 while there is no sound, and where it tells nothing.
   */
  outputLatencyMs(): number {
    const { baseLatency = 0, outputLatency = 0 } = this.context ?? {};
    return Math.round((baseLatency + outputLatency) * 1000);
  }

  send(message: ToEngine): void {
    if (this.node) this.node.port.postMessage(message);
    else this.waiting.push(message);
  }

  /** Records what the engine plays, from the song's next start when `withPlay` is set. */
  capture(frames: number, withPlay: boolean): Promise<{ left: Float32Array; right: Float32Array }> {
    return new Promise((resolve) => {
      this.captured = resolve;
      this.send({ type: 'capture', frames, withPlay });
    });
  }

  /** The last minute of what it played. */
  lastOutput(): Promise<{ left: Float32Array; right: Float32Array }> {
    return new Promise((resolve) => {
      this.toldLast = resolve;
      this.send({ type: 'last-output' });
    });
  }

  onStatus(listener: (status: EngineStatus) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  /** Song position now in ticks, carried on from the last report. */
  positionTicksNow(): number {
    const { positionTicks, tempoBpm } = this.status;
    return positionTicks + this.ticksSinceReport(tempoBpm);
  }

  /** Position of a part in ticks, carried on from the last report at the tempo it plays at. */
  partTicksNow(partId: string, tempoBpm: number): number {
    const part = this.status.parts.find((one) => one.partId === partId);
    if (!part) return this.positionTicksNow();
    return part.positionTicks + this.ticksSinceReport(tempoBpm);
  }

  private ticksSinceReport(tempoBpm: number): number {
    if (!this.status.playing || !this.context) return 0;
    const seconds = Math.max(0, Math.min(0.2, this.context.currentTime - this.statusTime));
    return (seconds * tempoBpm * 960) / 60;
  }

  /** A frame of a source that was reported to sound, carried on to what is heard now. */
  heardFrame(frame: number, sampleRate: number): number {
    if (!this.context) return frame;
    const since = Math.max(0, Math.min(0.2, this.context.currentTime - this.statusTime));
    return Math.max(0, Math.round(frame + (since - (this.context.outputLatency || 0)) * sampleRate));
  }

  private receive(message: FromEngine): void {
    if (message.type === 'last-output') {
      this.toldLast?.(message);
      this.toldLast = null;
      return;
    }
    if (message.type === 'captured') {
      this.captured?.(message);
      this.captured = null;
      return;
    }
    this.status = message;
    this.statusTime = this.context?.currentTime ?? 0;
    for (const listener of this.listeners) listener(message);
  }
}
