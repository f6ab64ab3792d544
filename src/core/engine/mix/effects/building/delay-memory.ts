/**
 * The past of one side of a signal, read at any distance, also between samples. Places are brought to whole numbers of 32
 * bits (`| 0`) before they are looked up: in others each lookup would convert its place anew, for more than it costs itself.
 */

export class DelayMemory {
  private readonly samples: Float32Array;
  private readonly mask: number;
  private at = 0;

  /** @param mostFrames that can be looked back */
  constructor(mostFrames: number) {
    const length = 2 ** Math.ceil(Math.log2(mostFrames + 8));
    this.samples = new Float32Array(length);
    this.mask = length - 1;
  }

  /** The furthest that can be looked back. */
  get most(): number {
    return this.mask - 4;
  }

  reset(): void {
    this.samples.fill(0);
    this.at = 0;
  }

  write(sample: number): void {
    this.samples[this.at & this.mask] = sample;
    this.at = (this.at + 1) & this.mask;
  }

  writeRun(samples: Float64Array, count: number): void {
    for (let i = 0; i < count; i++) this.samples[(this.at + i) & this.mask] = samples[i]!;
    this.at = (this.at + count) & this.mask;
  }

  /** Samples from a place in an array on. */
  writeFrom(samples: Float32Array, from: number, count: number): void {
    const { samples: own, mask, at } = this;
    for (let i = 0; i < count; i++) own[(at + i) & mask] = samples[from + i]!;
    this.at = (at + count) & mask;
  }

  /** What {@link read} would give for each of the next `count` samples, before they are written. */
  readFixed(frames: number, into: Float32Array, from: number, count: number): void {
    const { samples, mask } = this;
    const first = (this.at - frames) | 0;
    for (let i = 0; i < count; i++) into[from + i] = samples[(first + i) & mask]!;
  }

  /**
   * Adds what {@link readBetween} gave at each of the last `count` samples, all at one distance: the polynomial is worked
   * out once.
   */
  addBetween(frames: number, gain: number, into: Float64Array, count: number): void {
    const { samples, mask } = this;
    const whole = Math.floor(frames);
    const d = frames - whole;
    const a = (-d * (d - 1) * (d - 2) * gain) / 6;
    const b = ((d + 1) * (d - 1) * (d - 2) * gain) / 2;
    const c = (-(d + 1) * d * (d - 2) * gain) / 2;
    const e = ((d + 1) * d * (d - 1) * gain) / 6;
    const first = (this.at - whole - count + 1) | 0;
    let y = samples[first & mask]!;
    let z = samples[(first - 1) & mask]!;
    let past = samples[(first - 2) & mask]!;
    // Each is looked up once, and moves on from place to place.
    for (let i = 1; i <= count; i++) {
      const x = samples[(first + i) & mask]!;
      into[i - 1]! += a * x + b * y + c * z + e * past;
      past = z;
      z = y;
      y = x;
    }
  }

  /**
   * What {@link readBetween} would give for each of the next `count` samples, before they are written.
   * @param frames how far back each lies, at least `count + 2`
   */
  readRun(frames: Float64Array, into: Float64Array, count: number): void {
    const { samples, mask, at } = this;
    // Written out: a call for each would box its numbers.
    for (let i = 0; i < count; i++) {
      const back = frames[i]! - i;
      const whole = back | 0;
      const d = back - whole;
      const place = (at - whole) | 0;
      const a = samples[(place + 1) & mask]!;
      const b = samples[place & mask]!;
      const c = samples[(place - 1) & mask]!;
      const e = samples[(place - 2) & mask]!;
      const outer = ((d + 1) * (d - 2)) / 2;
      into[i] = (d * (d - 1) * (e * (d + 1) - a * (d - 2))) / 6 + outer * (b * (d - 1) - c * d);
    }
  }

  /** What was written `frames` samples ago: 1 is the last one. */
  read(frames: number): number {
    return this.samples[((this.at - frames) | 0) & this.mask]!;
  }

  /**
   * Between samples, by Lagrange's polynomial of third order (T. Laakso and others, "Splitting the unit delay", IEEE
   * Signal Processing Magazine 13, 1996).
   * @param frames at least 2
   */
  readBetween(frames: number): number {
    const whole = frames | 0;
    const d = frames - whole;
    const { samples, mask } = this;
    const place = (this.at - whole) | 0;
    const a = samples[(place + 1) & mask]!;
    const b = samples[place & mask]!;
    const c = samples[(place - 1) & mask]!;
    const e = samples[(place - 2) & mask]!;
    const d1 = d + 1;
    const d2 = d - 1;
    const d3 = d - 2;
    return (-d * d2 * d3 * a) / 6 + (d1 * d2 * d3 * b) / 2 - (d1 * d * d3 * c) / 2 + (d1 * d * d2 * e) / 6;
  }
}
