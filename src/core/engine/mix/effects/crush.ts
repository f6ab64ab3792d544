/** Fewer steps of level and fewer looks a second, as old machines had. */
import { EFFECT_ROWS } from '../../../params/effects.ts';
import { slotsOf } from '../../../params/row.ts';
import { Ramp } from './building/ramp.ts';
import type { Effect, StereoBus } from './effect.ts';

const CRUSH = slotsOf(EFFECT_ROWS.crush);

/** One side: what it saw last, and before. */
class Look {
  last = 0;
  before = 0;

  reset(): void {
    this.last = this.before = 0;
  }

  take(sample: number, levels: number): void {
    this.before = this.last;
    this.last = Math.round(sample * levels) / levels;
  }
}

export class CrushEffect implements Effect {
  readonly latencyFrames = 0;
  readonly restFrames = 1000;
  private readonly levels = new Ramp();
  private readonly rate = new Ramp();
  private readonly smooth = new Ramp();
  private readonly left = new Look();
  private readonly right = new Look();
  /** Where it is from one look to the next, 0..1. */
  private phase = 1;
  private smoothTo = 0;

  constructor(private readonly sampleRate: number) {}

  set(values: Float64Array): void {
    this.levels.aim(2 ** (values[CRUSH.bits]! - 1));
    this.rate.aim(Math.min(1, values[CRUSH.rateHz]! / this.sampleRate));
    this.smoothTo = values[CRUSH.isSmooth]!;
    this.smooth.aim(this.smoothTo);
  }

  reset(): void {
    this.levels.reset();
    this.rate.reset();
    this.smooth.reset();
    this.left.reset();
    this.right.reset();
    this.phase = 1;
  }

  process({ left, right }: StereoBus, frameCount: number): void {
    for (let i = 0; i < frameCount; i++) {
      const levels = this.levels.next();
      this.phase += this.rate.next();
      if (this.phase >= 1) {
        this.phase -= Math.floor(this.phase);
        this.left.take(left[i]!, levels);
        this.right.take(right[i]!, levels);
      }
      const smooth = this.smooth.next();
      left[i] = this.between(this.left, smooth);
      right[i] = this.between(this.right, smooth);
    }
  }

  private between({ last, before }: Look, smooth: number): number {
    return last + (before - last) * (1 - this.phase) * smooth;
  }
}
