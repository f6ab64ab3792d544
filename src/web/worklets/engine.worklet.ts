/** The live engine: the renderer in the audio thread, with messages in and status out. */
import { fromPlanMessage, type FromEngine, type ToEngine } from '#core/engine/messages.ts';
import { Renderer } from '#core/engine/renderer.ts';
import type { PlanSource } from '#core/engine/render-plan.ts';

/** Blocks of 128 frames between two reports: about 35 a second. */
const REPORT_BLOCKS = 10;

class EngineProcessor extends AudioWorkletProcessor {
  private readonly renderer = new Renderer(sampleRate);
  private readonly sources = new Map<string, PlanSource>();
  private blocks = 0;
  private readonly silent = new Float32Array(128);
  private capture: { left: Float32Array; right: Float32Array; done: number; waiting: boolean } | null = null;

  constructor() {
    super();
    this.port.onmessage = (event: MessageEvent<ToEngine>) => this.receive(event.data);
  }

  private receive(message: ToEngine): void {
    const { renderer } = this;
    switch (message.type) {
      case 'source':
        this.sources.set(message.source.id, message.source);
        break;
      case 'forget':
        for (const id of message.sourceIds) this.sources.delete(id);
        break;
      case 'plan':
        renderer.setPlan(fromPlanMessage(message.plan, this.sources));
        break;
      case 'play':
        renderer.play(message.fromTicks, message.endTicks);
        if (this.capture) this.capture.waiting = false;
        break;
      case 'end-at':
        renderer.endAt(message.endTicks);
        break;
      case 'stop':
        renderer.stop();
        break;
      case 'note-on':
        renderer.noteOn(message.partId, message.key, message.velocity);
        break;
      case 'note-off':
        renderer.noteOff(message.partId, message.key);
        break;
      case 'play-slice':
        renderer.playSlice(message.partId, message.sliceIndex, message.velocity);
        break;
      case 'preview': {
        const source = this.sources.get(message.sourceId);
        if (source) renderer.preview(source, message.startFrame, message.endFrame ?? Infinity, message.looping);
        break;
      }
      case 'stop-preview':
        renderer.stopPreview();
        break;
      case 'capture':
        this.capture = {
          left: new Float32Array(message.frames),
          right: new Float32Array(message.frames),
          done: 0,
          waiting: message.withPlay,
        };
    }
  }

  override process(_inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
    const [left, right] = outputs[0] ?? [];
    if (!left) return true;
    this.renderer.process(left, right ?? this.silent, left.length);
    if (this.capture && !this.capture.waiting) this.keep(left, right ?? left);
    if (++this.blocks % REPORT_BLOCKS === 0) this.report();
    return true;
  }

  private keep(left: Float32Array, right: Float32Array): void {
    const { capture } = this;
    if (!capture) return;
    const count = Math.min(left.length, capture.left.length - capture.done);
    capture.left.set(left.subarray(0, count), capture.done);
    capture.right.set(right.subarray(0, count), capture.done);
    capture.done += count;
    if (capture.done < capture.left.length) return;
    this.send({ type: 'captured', left: capture.left, right: capture.right });
    this.capture = null;
  }

  private report(): void {
    const { renderer } = this;
    const sounding: [number, number, number][] = [];
    renderer.eachSounding((partIndex, sliceIndex, sourceFrame) => sounding.push([partIndex, sliceIndex, sourceFrame]));
    this.send({
      type: 'status',
      frame: renderer.frame,
      playing: renderer.playing,
      positionTicks: renderer.positionTicks,
      sounding,
      patterns: renderer.patternIds(),
      peaks: [renderer.peaks[0]!, renderer.peaks[1]!],
      partPeaks: renderer.takePartPeaks(),
      previewing: renderer.previewing,
      previewFrame: renderer.previewFrame,
    });
    renderer.peaks.fill(0);
  }

  private send(message: FromEngine): void {
    this.port.postMessage(message);
  }
}

registerProcessor('engine', EngineProcessor);
