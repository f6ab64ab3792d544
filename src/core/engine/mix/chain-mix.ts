/**
 * The whole chain of a channel against none: how much of it is wet, whether it is on, and, to compare, the sound without it
 * as loud as with it. The dry sound waits as long as the chain takes.
 */
import { CONTROL_FRAMES } from '../control/control-step.ts';
import { DelayMemory } from './effects/building/delay-memory.ts';
import { perSample } from './effects/building/level-follower.ts';
import type { StereoBus } from './effects/effect.ts';
import { stepped } from './slot.ts';

/** In the order of the choices of the row `chain`. */
const [ON, , AS_LOUD] = [0, 1, 2];
const MOST_LATE_FRAMES = 8000;
/** How far back loudness is looked at. */
const LOUDNESS_MS = 1500;
/** The sound without the chain is made no louder and no softer than this, as a factor. */
const MOST_GAIN = 16;

export class ChainMix {
  /** How much of the sound has been through the chain, 0..1. */
  private share = 1;
  private target = 1;
  private way = ON;
  /** Of the dry sound, to be as loud. */
  private gain = 1;
  private gainTo = 1;
  private past: readonly [DelayMemory, DelayMemory] | null = null;
  private pastFrames = 0;
  /** Mean squares before and after the chain. */
  private powerBefore = 0;
  private powerAfter = 0;
  private readonly follow: number;

  constructor(sampleRate: number) {
    this.follow = perSample(LOUDNESS_MS, sampleRate);
  }

  /** @param wet of the whole chain, 0..1 @param way on, off, off and as loud */
  aim(wet: number, way: number): void {
    this.target = way === ON ? wet : 0;
    if (way === AS_LOUD && this.way !== AS_LOUD && this.powerBefore > 1e-10) {
      this.gainTo = Math.max(1 / MOST_GAIN, Math.min(MOST_GAIN, Math.sqrt(this.powerAfter / this.powerBefore)));
    } else if (way !== AS_LOUD) this.gainTo = 1;
    this.way = way;
  }

  /** Nothing sounds that could make a step. */
  arrive(): void {
    this.share = this.target;
    this.gain = this.gainTo;
  }

  private get isPlain(): boolean {
    return this.share === 1 && this.target === 1;
  }

  /** Takes the sound before the chain: of a control step at most. */
  take({ left, right }: StereoBus, from: number, count: number): void {
    let power = 0;
    for (let i = from; i < from + count; i++) power += left[i]! * left[i]! + right[i]! * right[i]!;
    this.powerBefore += (power - count * this.powerBefore) * this.follow;
    if (this.isPlain) return;
    this.past ??= [new DelayMemory(MOST_LATE_FRAMES), new DelayMemory(MOST_LATE_FRAMES)];
    for (let i = from; i < from + count; i++) {
      this.past[0].write(left[i]!);
      this.past[1].write(right[i]!);
    }
    this.pastFrames += count;
  }

  /** Mixes it with what has come out of the chain. @param lateFrames by how much that is later */
  give({ left, right }: StereoBus, from: number, count: number, lateFrames: number): void {
    let power = 0;
    for (let i = from; i < from + count; i++) power += left[i]! * left[i]! + right[i]! * right[i]!;
    this.powerAfter += (power - count * this.powerAfter) * this.follow;
    if (this.isPlain) {
      this.pastFrames = 0;
      return;
    }
    const [pastLeft, pastRight] = this.past!;
    const late = Math.min(lateFrames, MOST_LATE_FRAMES - CONTROL_FRAMES - 4);
    for (let i = 0; i < count; i++) {
      // Not before as much has passed as it has to wait for.
      if (this.pastFrames - count + i >= late) this.share = stepped(this.share, this.target);
      if (this.gain !== this.gainTo) this.gain += (this.gainTo - this.gain) / 256;
      const back = late + count - i;
      const dry = 1 - this.share;
      left[from + i] = left[from + i]! * this.share + pastLeft.read(back) * dry * this.gain;
      right[from + i] = right[from + i]! * this.share + pastRight.read(back) * dry * this.gain;
    }
  }
}
