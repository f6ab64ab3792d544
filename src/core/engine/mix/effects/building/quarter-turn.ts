/**
 * A signal and the same signal a quarter of a round later, at all frequencies alike: two chains of allpasses. The half-band
 * filter of dsp/oversample.ts turned by a quarter of the rate: `z^2` becomes `-z^2`.
 */
import { settled } from './section.ts';
import { halfBandCoefficients } from '../../../../dsp/oversample.ts';

/** From 20 Hz up to 20 Hz below half the rate. */
const COEFFICIENTS = halfBandCoefficients(12, 0.0009);

export class QuarterTurn {
  private readonly x1 = new Float64Array(COEFFICIENTS.length);
  private readonly x2 = new Float64Array(COEFFICIENTS.length);
  private readonly y1 = new Float64Array(COEFFICIENTS.length);
  private readonly y2 = new Float64Array(COEFFICIENTS.length);
  private before = 0;

  reset(): void {
    for (const memory of [this.x1, this.x2, this.y1, this.y2]) memory.fill(0);
    this.before = 0;
  }

  /** `y = c (x + y2) - x2`, two samples ago, in place. */
  private chain(samples: Float64Array, count: number, first: number): void {
    const { x1, x2, y1, y2 } = this;
    for (let c = first; c < COEFFICIENTS.length; c += 2) {
      const coefficient = COEFFICIENTS[c]!;
      let a = x1[c]!;
      let b = x2[c]!;
      let d = y1[c]!;
      let e = y2[c]!;
      for (let i = 0; i < count; i++) {
        const value = samples[i]!;
        const out = coefficient * (value + e) - b;
        b = a;
        a = value;
        e = d;
        d = out;
        samples[i] = out;
      }
      x1[c] = settled(a);
      x2[c] = settled(b);
      y1[c] = settled(d);
      y2[c] = settled(e);
    }
  }

  /** @param now in: the signal; out: the same, later by as much as the other @param later out: a quarter of a round behind */
  run(now: Float64Array, later: Float64Array, count: number): void {
    let { before } = this;
    for (let i = 0; i < count; i++) {
      const sample = now[i]!;
      later[i] = sample;
      now[i] = before;
      before = sample;
    }
    this.before = before;
    this.chain(now, count, 1);
    this.chain(later, count, 0);
  }
}
