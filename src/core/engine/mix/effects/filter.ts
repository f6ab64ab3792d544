/** A filter over a channel: see voice/svf.ts for its equations. */
import { FILTER_ROWS } from '../../../params/effects.ts';
import { slotsOf } from '../../../params/row.ts';
import { VoiceFilter } from '../../voice/filter.ts';
import { SHAPE_LOW } from '../../voice/svf.ts';
import type { Effect, StereoBus } from './effect.ts';

const FILTER = slotsOf(FILTER_ROWS);

export class FilterEffect implements Effect {
  readonly latencyFrames = 0;
  /** A filter that is as quiet as that has no more in it than rounding. */
  readonly restFrames = 4410;
  private readonly filter = new VoiceFilter();
  private readonly settings = { shape: SHAPE_LOW, isSteep: false, cutoffHz: 1000, resonance: 0, driveDb: 0 };

  constructor(private readonly sampleRate: number) {}

  set(values: Float64Array): void {
    const { settings } = this;
    settings.shape = values[FILTER.shape]! + SHAPE_LOW;
    settings.cutoffHz = values[FILTER.cutoffHz]!;
    settings.resonance = values[FILTER.resonance]!;
    this.filter.set(settings, this.sampleRate);
  }

  reset(): void {
    this.filter.reset();
  }

  process({ left, right }: StereoBus, frameCount: number): void {
    this.filter.process(left, right, frameCount);
    this.filter.settle();
  }
}
