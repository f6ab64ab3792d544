/** Where the voices of one part meet: its level, smoothed so that turning it makes no noise, and its meter. */
import type { PlanPart } from './render-plan.ts';

/** Frames in which a new level is reached. */
const RAMP_FRAMES = 256;
/** Most frames that are rendered at once. */
export const MAX_SEGMENT_FRAMES = 4096;

export class PartBus {
  readonly left = new Float32Array(MAX_SEGMENT_FRAMES);
  readonly right = new Float32Array(MAX_SEGMENT_FRAMES);
  /** Loudest sample since it was last read and cleared. */
  peak = 0;
  private gainLeft: number;
  private gainRight: number;
  private targetLeft: number;
  private targetRight: number;
  private stepLeft = 0;
  private stepRight = 0;
  private rampLeft = 0;

  constructor(part: PlanPart) {
    this.gainLeft = this.targetLeft = part.gainLeft;
    this.gainRight = this.targetRight = part.gainRight;
  }

  setLevel(part: PlanPart): void {
    if (part.gainLeft === this.targetLeft && part.gainRight === this.targetRight) return;
    this.targetLeft = part.gainLeft;
    this.targetRight = part.gainRight;
    this.rampLeft = RAMP_FRAMES;
    this.stepLeft = (this.targetLeft - this.gainLeft) / RAMP_FRAMES;
    this.stepRight = (this.targetRight - this.gainRight) / RAMP_FRAMES;
  }

  /** Adds the first `count` frames of the bus to the outputs at `offset`, and empties them. */
  mixInto(outLeft: Float32Array, outRight: Float32Array, offset: number, count: number): void {
    const { left, right } = this;
    for (let i = 0; i < count; i++) {
      if (this.rampLeft > 0) {
        this.rampLeft--;
        const arrived = this.rampLeft === 0;
        this.gainLeft = arrived ? this.targetLeft : this.gainLeft + this.stepLeft;
        this.gainRight = arrived ? this.targetRight : this.gainRight + this.stepRight;
      }
      const l = left[i]! * this.gainLeft;
      const r = right[i]! * this.gainRight;
      outLeft[offset + i]! += l;
      outRight[offset + i]! += r;
      const level = Math.max(Math.abs(l), Math.abs(r));
      if (level > this.peak) this.peak = level;
      left[i] = 0;
      right[i] = 0;
    }
  }
}
