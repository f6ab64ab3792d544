/** One sounding slice. Voices are made once and used again; nothing here allocates while sound runs. */
import { SINC_RUN, sincLeft, sincReadRun, sincRight, sincTable } from '../dsp/sinc.ts';
import { alignment, type Samples } from './alignment.ts';
import type { PlanSlice, PlanSource } from './render-plan.ts';

/** How a voice is to start. */
export interface VoiceStart {
  gain: number;
  reverse: boolean;
  /** No fade at the slice's start or end, because the neighbour goes on there. */
  joinsPrevious: boolean;
  joinsNext: boolean;
  /** MIDI note that holds the voice, or -1. */
  key: number;
  /** Output frames after which the voice is stopped, Infinity for none, and the fade it is stopped with. */
  limitFrames: number;
  stopFadeFrames: number;
  /** Factor of the slice's increment. */
  tune: number;
  /** Plays on where the slice rings, beyond its own end. */
  rings: boolean;
}

/** Whether two renderings are the same is seen here: what is stretched differs by then. */
const LIKE_FROM_SHARE = 0.75;
const LIKE_FRAMES = 32;

/** A start of a slice as it is, neither louder nor softer. */
export function plainStart(): VoiceStart {
  return {
    gain: 1,
    reverse: false,
    joinsPrevious: false,
    joinsNext: false,
    key: -1,
    limitFrames: Infinity,
    stopFadeFrames: 1,
    tune: 1,
    rings: false,
  };
}

export class Voice implements Samples {
  active = false;
  partIndex = -1;
  sliceIndex = -1;
  /** MIDI note that started the voice, -1 for a pattern's. */
  key = -1;
  /** Stops when its key is let go. */
  held = false;
  /** Order of starting, to find the oldest. */
  serial = 0;
  /** Plays on where the slice rings. */
  rings = false;
  /** Gain it was started with. */
  eventGain = 1;
  /** Already fading out after a stop. */
  stopping = false;

  left: Float32Array = EMPTY;
  right: Float32Array = EMPTY;
  private table = sincTable(1);
  private position = 0;
  private step = 1;
  private exact = false;
  private firstPosition = 0;
  /** Source frame at which the voice ends. */
  private endFrame = 0;
  /** Source frame at which the slice itself ends, and whether a rest comes after it. */
  private bodyEnd = 0;
  private hasRest = false;
  /** What reading between samples may see: no more than the slice where the neighbour does not go on. */
  private seenFrom = 0;
  private seenTo = 0;
  /** Output frames played and to play. */
  private age = 0;
  private length = 0;
  private gainLeft = 0;
  private gainRight = 0;
  private startFade = 0;
  private endFade = 0;
  private attack = 0;
  private decay = 0;
  private sustain = 1;
  private release = 1;
  /** Frames of the stop's fade that remain, and its whole length. */
  private stopLeft = 0;
  private stopLength = 0;
  private limit = Infinity;
  private limitFade = 1;

  /** Begins a slice; `serial` grows with every start. */
  start(
    source: PlanSource,
    slice: PlanSlice,
    partIndex: number,
    sliceIndex: number,
    how: VoiceStart,
    serial: number,
  ): void {
    this.active = true;
    this.partIndex = partIndex;
    this.sliceIndex = sliceIndex;
    this.key = how.key;
    this.held = slice.held && how.key >= 0;
    this.serial = serial;
    this.left = source.channels[0]!;
    this.right = source.channels[1] ?? this.left;
    const increment = slice.increment * how.tune;
    const endFrame = how.rings && !how.reverse ? slice.endFrame : slice.naturalEndFrame;
    this.endFrame = how.reverse ? slice.startFrame - 1 : endFrame;
    this.bodyEnd = slice.naturalEndFrame;
    this.hasRest = slice.hasRest && how.rings && !how.reverse;
    this.seenFrom = how.joinsPrevious ? 0 : slice.startFrame;
    this.seenTo = how.joinsNext ? this.left.length : endFrame;
    this.table = sincTable(increment);
    this.step = how.reverse ? -increment : increment;
    this.position = how.reverse ? endFrame - 1 : slice.startFrame;
    this.firstPosition = this.position;
    this.exact = increment === 1;
    this.age = 0;
    this.length = Math.max(1, Math.floor((endFrame - slice.startFrame) / increment));
    this.eventGain = how.gain;
    this.rings = how.rings;
    this.gainLeft = how.gain * slice.gainLeft;
    this.gainRight = how.gain * slice.gainRight;
    this.startFade = how.joinsPrevious ? 0 : how.reverse ? Math.max(slice.startFadeFrames, 32) : slice.startFadeFrames;
    this.endFade = how.joinsNext ? 0 : slice.endFadeFrames;
    this.attack = slice.envelope.attackFrames;
    this.decay = slice.envelope.decayFrames;
    this.sustain = slice.envelope.sustain;
    this.release = slice.envelope.releaseFrames;
    this.stopping = false;
    this.stopLeft = 0;
    this.stopLength = 0;
    this.limit = how.limitFrames;
    this.limitFade = how.stopFadeFrames;
  }

  /** Fades out within `fadeFrames` from now on; a faster fade that runs already goes on. */
  stop(fadeFrames: number): void {
    const fade = Math.max(1, fadeFrames);
    if (this.stopping && this.stopLeft <= fade) return;
    const level = this.stopping ? this.stopLeft / this.stopLength : 1;
    this.stopping = true;
    this.stopLength = Math.max(1, Math.round(fade / level));
    this.stopLeft = fade;
  }

  /** Plays on at another increment, from where it is. */
  retune(increment: number): void {
    const step = this.step < 0 ? -increment : increment;
    if (step === this.step) return;
    // Whole positions are read without a table: from between two samples only the table can read on.
    this.exact = increment === 1 && Number.isInteger(this.position);
    this.step = step;
    this.table = sincTable(increment);
    this.length = this.age + Math.max(0, Math.floor((this.endFrame - this.position) / step));
    this.endFade = Math.min(this.endFade, Math.max(1, this.length - this.age));
  }

  /** Begins further on, as if `gone` output frames had been played, fading in within `fadeFrames`; or is over by then. */
  skip(gone: number, fadeFrames: number): void {
    if (gone >= this.length) {
      this.active = false;
      return;
    }
    this.position += gone * this.step;
    if (this.exact) this.position |= 0;
    this.length -= gone;
    this.startFade = fadeFrames;
    this.attack = 0;
    this.decay = 0;
  }

  /** Share of the slice itself that has been played, 1 and more when it is over. */
  private get playedShare(): number {
    return (this.position - this.firstPosition) / Math.max(1, this.bodyEnd - this.firstPosition);
  }

  /** Has it played this share of its slice, and a rest to come? */
  hasOnlyRest(share: number): boolean {
    return this.hasRest && this.playedShare >= share;
  }

  /**
   * Output frames of another voice of the same slice that would have brought it to where this one is.
   * @param byShare the other is stretched: the same share of the slice, not the same distance from its start, unless
   * both sound alike for most of their length (a hit that dies away is not stretched)
   */
  goneIn(other: Voice, byShare: boolean): number {
    if (!byShare || this.soundsLike(other)) {
      return Math.min(other.length - 1, Math.floor((this.position - this.firstPosition) / other.step));
    }
    const gone = Math.floor((this.playedShare * (other.bodyEnd - other.firstPosition)) / other.step);
    if (this.step !== other.step) return gone;
    const place = Math.floor(other.firstPosition + gone * other.step);
    const offset = alignment(this, this.sourceFrame, other, place, other.firstPosition, other.bodyEnd);
    return gone + Math.round(offset / other.step);
  }

  /** Has another voice the same samples where anything stretched would have others? */
  private soundsLike(other: Voice): boolean {
    if (this.step !== other.step) return false;
    const body = Math.min(this.bodyEnd - this.firstPosition, other.bodyEnd - other.firstPosition);
    const from = Math.floor(LIKE_FROM_SHARE * body);
    for (let i = from; i < Math.min(body, from + LIKE_FRAMES); i++) {
      if (this.left[this.firstPosition + i] !== other.left[other.firstPosition + i]) return false;
    }
    return true;
  }

  /** Takes over when another voice was to be stopped. */
  takeLimit(other: Voice): void {
    this.limit = other.limit === Infinity ? Infinity : Math.max(1, other.limit - other.age);
  }

  get isReversed(): boolean {
    return this.step < 0;
  }

  /** What was to join this slice will not: it fades at its end after all. */
  dropJoin(): void {
    if (this.endFade === 0) this.endFade = Math.min(this.limitFade, Math.max(1, this.length - this.age));
  }

  /** Output frames that are left to sound, when nothing stops it before. */
  get remainingFrames(): number {
    return this.length - this.age;
  }

  /** Where in the source the voice is, in frames. */
  get sourceFrame(): number {
    return Math.floor(this.position);
  }

  /** The key was let go. */
  letGo(): void {
    this.key = -1;
    if (this.held) this.stop(this.release);
  }

  /** Adds `count` frames to the outputs from `offset` on. */
  render(outLeft: Float32Array, outRight: Float32Array, offset: number, count: number): void {
    const end = offset + Math.min(count, this.length - this.age);
    let at = offset;
    while (at < end && this.active) {
      if (this.age === this.limit) this.stop(this.limitFade);
      let run = Math.min(end - at, MAX_RUN);
      if (this.limit > this.age) run = Math.min(run, this.limit - this.age);
      const steady = Math.min(run, this.steadyFrames());
      if (steady > 0 && this.exact) {
        this.copyRun(outLeft, outRight, at, steady, this.decay > 0 ? this.sustain : 1);
        at += steady;
        continue;
      }
      run = this.fillLevels(run);
      this.renderRun(outLeft, outRight, at, run);
      at += run;
    }
    if (this.age >= this.length) this.active = false;
  }

  /** Frames from now on through which the level stands still; 0 while a fade or the envelope moves it. */
  private steadyFrames(): number {
    if (this.stopping || this.age < this.startFade || this.age < this.attack + this.decay) return 0;
    return this.length - this.endFade - this.age;
  }

  /** Adds frames of the source as they are, at one level: by far the commonest case, and several times as fast. */
  private copyRun(outLeft: Float32Array, outRight: Float32Array, from: number, count: number, level: number): void {
    const { left, right, step } = this;
    const gainLeft = this.gainLeft * level;
    const gainRight = this.gainRight * level;
    let position = this.position | 0;
    const end = (from + count) | 0;
    for (let i = from | 0; i < end; i++) {
      outLeft[i]! += left[position]! * gainLeft;
      outRight[i]! += right[position]! * gainRight;
      position = (position + step) | 0;
    }
    this.position = position;
    this.age += count;
  }

  /** Works out the level of the next frames, envelope, fades and stop together; gives how many are left to sound. */
  private fillLevels(count: number): number {
    const { age, attack, decay, sustain, startFade } = this;
    const settled = age >= startFade && age >= attack + decay;
    if (settled) levels.fill(decay > 0 ? sustain : 1, 0, count);
    else {
      for (let i = 0; i < count; i++) {
        const at = age + i;
        let level = 1;
        if (at < attack) level = (at + 1) / (attack + 1);
        else if (decay > 0) level = at - attack >= decay ? sustain : 1 - ((1 - sustain) * (at - attack)) / decay;
        levels[i] = at < startFade ? (level * (at + 1)) / (startFade + 1) : level;
      }
    }
    const fadeFrom = this.length - this.endFade - age;
    for (let i = Math.max(0, fadeFrom); i < count; i++) levels[i]! *= (this.length - age - i - 1) / this.endFade;
    if (!this.stopping) return count;
    const sounding = Math.min(count, this.stopLeft);
    for (let i = 0; i < sounding; i++) levels[i]! *= (this.stopLeft - i) / this.stopLength;
    this.stopLeft -= sounding;
    if (this.stopLeft === 0) this.active = false;
    return sounding;
  }

  /** Adds frames at the levels worked out and moves on. */
  private renderRun(outLeft: Float32Array, outRight: Float32Array, from: number, count: number): void {
    const { left, right, step, gainLeft, gainRight, table, seenFrom, seenTo } = this;
    let { position } = this;
    if (this.exact) {
      let at = position | 0;
      for (let i = 0; i < count; i++) {
        const level = levels[i]!;
        outLeft[from + i]! += left[at]! * level * gainLeft;
        outRight[from + i]! += right[at]! * level * gainRight;
        at = (at + step) | 0;
      }
      position = at;
    } else {
      position = sincReadRun(table, left, right, position, step, count, seenFrom, seenTo);
      const readRight = right === left ? sincLeft : sincRight;
      for (let i = 0; i < count; i++) {
        const level = levels[i]!;
        outLeft[from + i]! += sincLeft[i]! * level * gainLeft;
        outRight[from + i]! += readRight[i]! * level * gainRight;
      }
    }
    this.position = position;
    this.age += count;
  }
}

const EMPTY = new Float32Array(0);
/** Frames rendered at one go, and the levels of those frames: shared, for voices are rendered one after another. */
const MAX_RUN = SINC_RUN;
const levels = new Float64Array(MAX_RUN);
