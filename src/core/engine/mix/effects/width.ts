/** How far the sides are apart: mid and side, and one place for the bass. */
import { EFFECT_ROWS } from '../../../params/effects.ts';
import { slotsOf } from '../../../params/row.ts';
import { Ramp } from './building/ramp.ts';
import { Section } from './building/section.ts';
import type { Effect, StereoBus } from './effect.ts';

const WIDTH = slotsOf(EFFECT_ROWS.width);
/** At this frequency there is no bass to put in one place. */
const NO_BASS_HZ = 20;

export class WidthEffect implements Effect {
  readonly latencyFrames = 0;
  readonly restFrames = 4410;
  private readonly width = new Ramp();
  /** How much of the cut of the side is in. */
  private readonly cut = new Ramp();
  private readonly first: Section;
  private readonly side = new Float32Array(32);
  private readonly cutSide = new Float32Array(32);
  private readonly unused = new Float32Array(32);

  constructor(sampleRate: number) {
    this.first = new Section(sampleRate);
  }

  set(values: Float64Array): void {
    const hz = values[WIDTH.monoBelowHz]!;
    this.width.aim(values[WIDTH.width]!);
    this.cut.aim(Math.min(1, (hz - NO_BASS_HZ) / NO_BASS_HZ));
    this.first.lowCut(hz, Math.SQRT1_2);
  }

  reset(): void {
    this.width.reset();
    this.cut.reset();
    this.first.reset();
  }

  process({ left, right }: StereoBus, frameCount: number): void {
    const { side, cutSide } = this;
    for (let i = 0; i < frameCount; i++) side[i] = cutSide[i] = (left[i]! - right[i]!) / 2;
    this.first.process(cutSide, this.unused, frameCount);
    for (let i = 0; i < frameCount; i++) {
      const mid = (left[i]! + right[i]!) / 2;
      const wide = (side[i]! + (cutSide[i]! - side[i]!) * this.cut.next()) * this.width.next();
      left[i] = mid + wide;
      right[i] = mid - wide;
    }
  }
}
