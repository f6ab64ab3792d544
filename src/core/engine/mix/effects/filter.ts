/** A filter over a channel: see voice/svf.ts for its equations. */
import { FILTER_ROWS } from '../../../params/effects.ts';
import { slotsOf } from '../../../params/row.ts';
import { CONTROL_FRAMES } from '../../voice/modulation.ts';
import { VoiceFilter } from '../../voice/filter.ts';
import { SHAPE_LOW } from '../../voice/svf.ts';
import type { Effect, StereoBus } from './effect.ts';

const FILTER = slotsOf(FILTER_ROWS);
/** Control steps in which a new setting is reached. */
const RAMP_STEPS = 8;

export class FilterEffect implements Effect {
  readonly latencyFrames = 0;
  private readonly filter = new VoiceFilter();
  private readonly values: Float64Array;
  private readonly wetLeft = new Float32Array(CONTROL_FRAMES);
  private readonly wetRight = new Float32Array(CONTROL_FRAMES);
  private cutoffHz: number;
  private wet: number;
  private rampSteps = 0;
  private isSet = false;

  /** @param values in the order of FILTER_ROWS */
  constructor(
    values: Float64Array,
    private readonly sampleRate: number,
  ) {
    this.values = values.slice();
    this.cutoffHz = values[FILTER.cutoffHz]!;
    this.wet = values[FILTER.wet]!;
  }

  setValue(slot: number, value: number): void {
    this.values[slot] = value;
    this.rampSteps = RAMP_STEPS;
  }

  reset(): void {
    this.filter.reset();
    this.cutoffHz = this.values[FILTER.cutoffHz]!;
    this.wet = this.values[FILTER.wet]!;
    this.rampSteps = 0;
    this.isSet = false;
  }

  process({ left, right }: StereoBus, count: number, frame: number): void {
    for (let at = 0; at < count;) {
      const now = frame + at;
      const run = Math.min(count - at, CONTROL_FRAMES - (now % CONTROL_FRAMES));
      if (!this.isSet || now % CONTROL_FRAMES === 0) this.control();
      this.run(left, right, at, run);
      at += run;
    }
  }

  private control(): void {
    const { values } = this;
    if (this.rampSteps > 0) {
      this.cutoffHz *= (values[FILTER.cutoffHz]! / this.cutoffHz) ** (1 / this.rampSteps);
      this.wet += (values[FILTER.wet]! - this.wet) / this.rampSteps;
      this.rampSteps--;
    } else if (this.isSet) return;
    const shape = values[FILTER.shape]! + SHAPE_LOW;
    const resonance = values[FILTER.resonance]!;
    this.filter.set({ shape, isSteep: false, cutoffHz: this.cutoffHz, resonance, driveDb: 0 }, this.sampleRate);
    this.isSet = true;
  }

  private run(left: Float32Array, right: Float32Array, from: number, count: number): void {
    const { wet, wetLeft, wetRight } = this;
    for (let i = 0; i < count; i++) {
      wetLeft[i] = left[from + i]!;
      wetRight[i] = right[from + i]!;
    }
    this.filter.process(wetLeft, wetRight, count);
    this.filter.settle();
    for (let i = 0; i < count; i++) {
      left[from + i]! += (wetLeft[i]! - left[from + i]!) * wet;
      right[from + i]! += (wetRight[i]! - right[from + i]!) * wet;
    }
  }
}
