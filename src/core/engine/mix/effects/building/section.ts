/**
 * A second-order section for both sides whose settings may move while it sounds: the trapezoidal state variable filter of
 * A. Simper, "Linear Trapezoidal Integrated State Variable Filter With Low Noise Optimisation" (2013), with its mixes for
 * cuts, shelves and bells. At rest it has the responses of R. Bristow-Johnson, "Cookbook formulae for audio EQ biquad filter
 * coefficients".
 */

/** The highest cutoff, as a share of half the rate. */
const MAX_SHARE = 0.98;

export type Samples = Float32Array | Float64Array;

export class Section {
  private a1 = 1;
  private a2 = 0;
  private a3 = 0;
  private m0 = 1;
  private m1 = 0;
  private m2 = 0;
  private l1 = 0;
  private l2 = 0;
  private r1 = 0;
  private r2 = 0;

  constructor(private readonly sampleRate: number) {}

  reset(): void {
    this.l1 = this.l2 = this.r1 = this.r2 = 0;
  }

  private tangent(hz: number): number {
    return Math.tan(Math.PI * Math.min(hz / this.sampleRate, MAX_SHARE / 2));
  }

  private put(g: number, k: number, m0: number, m1: number, m2: number): void {
    this.a1 = 1 / (1 + g * (g + k));
    this.a2 = g * this.a1;
    this.a3 = g * this.a2;
    this.m0 = m0;
    this.m1 = m1;
    this.m2 = m2;
  }

  lowCut(hz: number, q: number): void {
    this.put(this.tangent(hz), 1 / q, 1, -1 / q, -1);
  }

  highCut(hz: number, q: number): void {
    this.put(this.tangent(hz), 1 / q, 0, 0, 1);
  }

  /** 0 dB in the middle. */
  band(hz: number, q: number): void {
    this.put(this.tangent(hz), 1 / q, 0, 1 / q, 0);
  }

  notch(hz: number, q: number): void {
    this.put(this.tangent(hz), 1 / q, 1, -1 / q, 0);
  }

  bell(hz: number, q: number, gainDb: number): void {
    const a = 10 ** (gainDb / 40);
    const k = 1 / (q * a);
    this.put(this.tangent(hz), k, 1, k * (a * a - 1), 0);
  }

  lowShelf(hz: number, q: number, gainDb: number): void {
    const a = 10 ** (gainDb / 40);
    const k = 1 / q;
    this.put(this.tangent(hz) / Math.sqrt(a), k, 1, k * (a - 1), a * a - 1);
  }

  highShelf(hz: number, q: number, gainDb: number): void {
    const a = 10 ** (gainDb / 40);
    const k = 1 / q;
    this.put(this.tangent(hz) * Math.sqrt(a), k, a * a, k * (1 - a) * a, 1 - a * a);
  }

  /** Filters the first `count` samples of both sides in place. */
  process(left: Float32Array, right: Float32Array, count: number): void {
    const { a1, a2, a3, m0, m1, m2 } = this;
    let { l1, l2, r1, r2 } = this;
    for (let i = 0; i < count; i++) {
      const l = left[i]!;
      const l3 = l - l2;
      const lBand = a1 * l1 + a2 * l3;
      const lLow = l2 + a2 * l1 + a3 * l3;
      l1 = 2 * lBand - l1;
      l2 = 2 * lLow - l2;
      left[i] = m0 * l + m1 * lBand + m2 * lLow;
      const r = right[i]!;
      const r3 = r - r2;
      const rBand = a1 * r1 + a2 * r3;
      const rLow = r2 + a2 * r1 + a3 * r3;
      r1 = 2 * rBand - r1;
      r2 = 2 * rLow - r2;
      right[i] = m0 * r + m1 * rBand + m2 * rLow;
    }
    this.l1 = settled(l1);
    this.l2 = settled(l2);
    this.r1 = settled(r1);
    this.r2 = settled(r2);
  }
}

/** What is far below hearing becomes 0: numbers that small slow the processor down. */
export function settled(value: number): number {
  return Math.abs(value) < 1e-20 ? 0 : value;
}
