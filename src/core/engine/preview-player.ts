/** Plays a range of a source as it is, beside the song. */
import type { PlanSlice, PlanSource } from './render-plan.ts';
import { plainStart, Voice } from './voice.ts';

/** Fade at ends that are not the source's own, in frames. */
const EDGE_FADE_FRAMES = 64;

const AS_IT_IS = plainStart();

export class PreviewPlayer {
  private readonly sampleRate: number;
  private readonly voice = new Voice();
  private loop: { source: PlanSource; slice: PlanSlice } | null = null;

  constructor(sampleRate: number) {
    this.sampleRate = sampleRate;
  }

  /**
   * Begins a range, once or round and round; one that runs is replaced. Nothing sounds for an empty range.
   * @param endFrame the source's end when beyond it
   */
  start(source: PlanSource, startFrame: number, endFrame: number, looping: boolean): void {
    const end = Math.min(endFrame, source.channels[0]?.length ?? 0);
    this.loop = null;
    if (startFrame >= end) return;
    const slice: PlanSlice = {
      id: '',
      sourceIndex: -1,
      isRendering: false,
      shownStart: startFrame,
      shownEnd: end,
      startFrame,
      endFrame: end,
      naturalEndFrame: end,
      hasRest: false,
      gainLeft: 1,
      gainRight: 1,
      increment: source.sampleRate / this.sampleRate,
      reverse: false,
      held: false,
      envelope: { attackFrames: 0, decayFrames: 0, sustain: 1, releaseFrames: 1 },
      endFadeFrames: EDGE_FADE_FRAMES,
      startFadeFrames: startFrame > 0 ? EDGE_FADE_FRAMES : 0,
    };
    this.voice.start(source, slice, -1, -1, AS_IT_IS, 0);
    if (looping) this.loop = { source, slice };
  }

  stop(fadeFrames: number): void {
    this.loop = null;
    if (this.voice.active) this.voice.stop(fadeFrames);
  }

  get playing(): boolean {
    return this.voice.active && !this.voice.stopping;
  }

  /** Where it is in its source, in frames. */
  get sourceFrame(): number {
    return this.voice.sourceFrame;
  }

  /** Adds `count` frames to the outputs; a loop starts anew on the very frame after its last. */
  render(left: Float32Array, right: Float32Array, offset: number, count: number): void {
    const { voice, loop } = this;
    let done = 0;
    while (done < count && voice.active) {
      const run = Math.max(1, Math.min(count - done, voice.remainingFrames));
      voice.render(left, right, offset + done, run);
      done += run;
      if (!voice.active && loop) voice.start(loop.source, loop.slice, -1, -1, AS_IT_IS, 0);
    }
  }
}
