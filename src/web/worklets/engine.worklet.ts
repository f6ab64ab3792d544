/** The live engine: the renderer in the audio thread, with messages in and status out. */
import type { FromEngine, ToEngine } from '#core/engine/messages.ts';
import { LastOutput } from '#core/engine/last-output.ts';
import { Renderer } from '#core/engine/renderer.ts';

/** Blocks of 128 frames between two reports: about 35 a second. */
const REPORT_BLOCKS = 10;

class EngineProcessor extends AudioWorkletProcessor {
  private readonly renderer = new Renderer(sampleRate);
  private readonly last = new LastOutput(sampleRate);
  private blocks = 0;
  /** The last play or stop that was told. */
  private order = 0;
  private previewOrder = 0;
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
        renderer.addSource(message.source);
        break;
      case 'forget':
        renderer.forgetSources(message.sourceIds);
        break;
      case 'patch':
        renderer.applyPatch(message.patch, message.waitsOf);
        break;
      case 'values':
        renderer.setValues(message.values, message.waitsOf);
        break;
      case 'play':
        this.order = message.order;
        renderer.play(message.fromTicks, message.endTicks, message.way);
        if (this.capture) this.capture.waiting = false;
        break;
      case 'end-at':
        renderer.endAt(message.endTicks, message.returnTicks);
        break;
      case 'stop':
        this.order = message.order;
        renderer.stop();
        break;
      case 'note-on': {
        const { noteId, partId, key, velocity } = message;
        renderer.addNote({ kind: 'on', noteId, partId, key, velocity, frame: this.frameAt(message.timeSeconds) });
        break;
      }
      case 'note-off': {
        const { noteId } = message;
        const frame = this.frameAt(message.timeSeconds);
        renderer.addNote({ kind: 'off', noteId, partId: '', key: -1, velocity: 0, frame });
        break;
      }
      case 'control':
        renderer.control(message);
        break;
      case 'all-notes-off':
        renderer.allNotesOff();
        break;
      case 'all-sound-off':
        renderer.allSoundOff();
        break;
      case 'hold-pattern':
        renderer.holdPattern(message.partId, message.patternId);
        break;
      case 'play-zone':
        renderer.playZone(message.zoneId, message.velocity);
        break;
      case 'preview': {
        this.previewOrder = message.previewOrder;
        const { sourceId, startFrame, endFrame, looping, click, inTime } = message;
        renderer.previewSource(sourceId, startFrame, endFrame ?? Infinity, looping, click, inTime);
        break;
      }
      case 'stop-preview':
        renderer.stopPreview();
        break;
      case 'watch':
        renderer.watchEffect(message.effectId);
        break;
      case 'last-output':
        this.send({ type: 'last-output', ...this.last.read() });
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

  /** The renderer's frame at a time of the audio clock. */
  private frameAt(timeSeconds: number | null): number {
    if (timeSeconds === null) return this.renderer.frame;
    return Math.round(timeSeconds * sampleRate) - currentFrame + this.renderer.frame;
  }

  override process(_inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
    const [left, right] = outputs[0] ?? [];
    if (!left) return true;
    this.renderer.process(left, right ?? this.silent, left.length);
    this.last.write(left, right ?? left);
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
    const sounding: [string, string, number][] = [];
    renderer.eachSounding((partId, zoneId, sourceFrame) => sounding.push([partId, zoneId, sourceFrame]));
    this.send({
      type: 'status',
      frame: renderer.frame,
      // What has just been rendered ends with this block.
      timeSeconds: (currentFrame + 128) / sampleRate,
      playing: renderer.playing,
      order: this.order,
      positionTicks: renderer.positionTicks,
      tempoBpm: renderer.tempoBpm,
      sounding,
      parts: renderer.takePartStatus(),
      mix: renderer.takeMixStatus(),
      peaks: [renderer.peaks[0]!, renderer.peaks[1]!],
      previewing: renderer.previewing,
      previewOrder: this.previewOrder,
      previewFrame: renderer.previewFrame,
      played: renderer.log.takeAll(),
    });
    renderer.peaks.fill(0);
  }

  private send(message: FromEngine): void {
    this.port.postMessage(message);
  }
}

registerProcessor('engine', EngineProcessor);
