/**
 * Twice and four times the rate, for what bends waves: its overtones above half the rate are taken out before they fold
 * back. Half-band filters of two branches of allpasses (R. A. Valenzuela and A. G. Constantinides, "Digital signal
 * processing schemes for efficient interpolation and decimation", IEE Proc. G 130, 1983); elliptic, their coefficients
 * by the series of the nome `q` of the theta functions given there.
 */

/** Coefficients of `count` allpasses for a transition of `transition` times the higher rate, the least ripple. */
export function halfBandCoefficients(count: number, transition: number): Float64Array {
  const order = 2 * count + 1;
  const tangent = Math.tan(((1 - 2 * transition) * Math.PI) / 4);
  const k = tangent * tangent;
  const root = (1 - k * k) ** 0.25;
  const e = (0.5 * (1 - root)) / (1 + root);
  const e4 = e ** 4;
  const q = e * (1 + e4 * (2 + e4 * (15 + 150 * e4)));
  return Float64Array.from({ length: count }, (_, index) => {
    const c = index + 1;
    let above = 0;
    let below = 0.5;
    for (let i = 0, sign = 1; q ** (i * (i + 1)) > 1e-100; i++, sign = -sign) {
      above += sign * q ** (i * (i + 1)) * Math.sin(((2 * i + 1) * c * Math.PI) / order);
    }
    for (let i = 1, sign = -1; q ** (i * i) > 1e-100; i++, sign = -sign) {
      below += sign * q ** (i * i) * Math.cos((2 * i * c * Math.PI) / order);
    }
    const ww = ((above * q ** 0.25) / below) ** 2;
    const x = Math.sqrt((1 - ww * k) * (1 - ww / k)) / (1 + ww);
    return (1 - x) / (1 + x);
  });
}

/** Around the audible: 20 of 22.05 kHz pass, and what lies above 24.1 is 100 dB down. */
const STEEP = halfBandCoefficients(10, 0.0465 / 2);
/** Of the higher rate what is above 68 kHz of 176.4. */
const EASY = halfBandCoefficients(4, 0.25 / 2);

/** One half-band filter, up or down, one channel. Of an even number of allpasses. */
class HalfBand {
  private readonly x: Float64Array;
  private readonly y: Float64Array;

  constructor(private readonly coefficients: Float64Array) {
    this.x = new Float64Array(coefficients.length);
    this.y = new Float64Array(coefficients.length);
  }

  reset(): void {
    this.x.fill(0);
    this.y.fill(0);
  }

  follow(other: HalfBand): void {
    this.x.set(other.x);
    this.y.set(other.y);
  }

  /**
   * The allpasses of both branches, of z^-2 each: `y = c (x - y1) + x1`; in place. One of each at a time: neither waits for
   * what the other is still working out, which is twice as fast.
   * @param first goes through the first allpass, the third …
   */
  private branches(first: Float64Array, second: Float64Array, count: number): void {
    const { coefficients, x, y } = this;
    for (let c = 0; c < coefficients.length; c += 2) {
      const one = coefficients[c]!;
      const other = coefficients[c + 1]!;
      let x1 = x[c]!;
      let y1 = y[c]!;
      let x2 = x[c + 1]!;
      let y2 = y[c + 1]!;
      for (let i = 0; i < count; i++) {
        const a = first[i]!;
        const b = second[i]!;
        y1 = one * (a - y1) + x1;
        y2 = other * (b - y2) + x2;
        x1 = a;
        x2 = b;
        first[i] = y1;
        second[i] = y2;
      }
      x[c] = x1;
      y[c] = y1;
      x[c + 1] = x2;
      y[c + 1] = y2;
    }
  }

  /** Two samples for each. */
  up(input: Float64Array, output: Float64Array, count: number): void {
    for (let i = 0; i < count; i++) evens[i] = odds[i] = input[i]!;
    this.branches(evens, odds, count);
    for (let i = 0; i < count; i++) {
      output[2 * i] = evens[i]!;
      output[2 * i + 1] = odds[i]!;
    }
  }

  /** One sample for two, in place or not. */
  down(input: Float64Array, output: Float64Array, count: number): void {
    for (let i = 0; i < count; i++) {
      evens[i] = input[2 * i]!;
      odds[i] = input[2 * i + 1]!;
    }
    this.branches(odds, evens, count);
    for (let i = 0; i < count; i++) output[i] = 0.5 * (odds[i]! + evens[i]!);
  }
}

/** Most samples that are worked on at once. */
const RUN = 128;
const once = new Float64Array(RUN);
const twice = new Float64Array(2 * RUN);
const fourTimes = new Float64Array(4 * RUN);
const evens = new Float64Array(2 * RUN);
const odds = new Float64Array(2 * RUN);

/** One channel at four times its rate. Delays it by some three samples, the treble by a few more. */
export class Oversampler {
  private readonly stages = [new HalfBand(STEEP), new HalfBand(EASY), new HalfBand(EASY), new HalfBand(STEEP)] as const;

  reset(): void {
    for (const stage of this.stages) stage.reset();
  }

  follow(other: Oversampler): void {
    this.stages.forEach((stage, index) => stage.follow(other.stages[index]!));
  }

  /** Changes `count` samples in place. @param shape changes samples at the higher rate, in place */
  process(
    samples: Float32Array,
    from: number,
    count: number,
    shape: (samples: Float64Array, count: number) => void,
  ): void {
    const [firstUp, secondUp, firstDown, secondDown] = this.stages;
    for (let at = from; at < from + count; at += RUN) {
      const run = Math.min(RUN, from + count - at);
      for (let i = 0; i < run; i++) once[i] = samples[at + i]!;
      firstUp.up(once, twice, run);
      secondUp.up(twice, fourTimes, 2 * run);
      shape(fourTimes, 4 * run);
      firstDown.down(fourTimes, twice, 2 * run);
      secondDown.down(twice, once, run);
      for (let i = 0; i < run; i++) samples[at + i] = once[i]!;
    }
  }
}
