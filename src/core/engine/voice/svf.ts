/**
 * A filter of two poles with all its outputs: the state variable filter with trapezoidal integrators of A. Simper, "Linear
 * Trapezoidal Integrated SVF" (2013). Its responses are those of R. Bristow-Johnson's cookbook filters at the same cutoff
 * and Q, and it stays well-behaved while both move.
 */

/** Shapes in the order of the rows; 0 is off. */
export const SHAPE_OFF = 0;
export const SHAPE_LOW = 1;
export const SHAPE_HIGH = 2;
export const SHAPE_BAND = 3;
export const SHAPE_NOTCH = 4;

const MIN_CUTOFF_HZ = 10;
/** Of half the sample rate. */
const MAX_CUTOFF_SHARE = 0.98;
/** `1 / Q` at resonance 0 (flat) and 1. */
const FLAT_DAMPING = Math.SQRT2;
/** `1 / Q` of the two stages of a Butterworth filter of four poles: `2 sin(pi / 8)` and `2 sin(3 pi / 8)`. */
const FLAT_STEEP_DAMPINGS = [2 * Math.sin(Math.PI / 8), 2 * Math.sin((3 * Math.PI) / 8)] as const;
const MIN_DAMPING = 0.05;

/** `1 / Q` of a resonance 0..1. */
export function dampingOf(resonance: number): number {
  return FLAT_DAMPING + (MIN_DAMPING - FLAT_DAMPING) * Math.max(0, Math.min(1, resonance));
}

/** `1 / Q` of each stage of a steep filter: low and high pass ring in their first, band and notch are two alike. */
export function steepDampings(shape: number, resonance: number): readonly [number, number] {
  if (shape === SHAPE_BAND || shape === SHAPE_NOTCH) {
    const damping = dampingOf(resonance);
    return [damping, damping];
  }
  const [ringing, calm] = FLAT_STEEP_DAMPINGS;
  return [ringing + (MIN_DAMPING - ringing) * Math.max(0, Math.min(1, resonance)), calm];
}

export interface FilterShape {
  shape: number;
  cutoffHz: number;
  resonance: number;
  /** Four poles, 24 dB an octave, instead of two. */
  isSteep?: boolean;
}

/**
 * Gain of the filter at a frequency, in dB: `|H|` of the cookbook's analogue prototypes with `s = j tan(pi f / rate) / g`,
 * the frequency as the bilinear transform bends it (R. Bristow-Johnson, "Cookbook formulae for audio EQ biquad filter
 * coefficients", section on the BLT); of a steep one the sum of its stages.
 * @param hz above 0, below half the rate
 */
export function responseDb(
  { shape, cutoffHz, resonance, isSteep }: FilterShape,
  hz: number,
  sampleRate: number,
): number {
  if (shape === SHAPE_OFF) return 0;
  const cutoff = Math.max(MIN_CUTOFF_HZ, Math.min(cutoffHz, (MAX_CUTOFF_SHARE * sampleRate) / 2));
  const s = Math.tan((Math.PI * hz) / sampleRate) / Math.tan((Math.PI * cutoff) / sampleRate);
  const stageDb = (k: number) => {
    const below = Math.hypot(1 - s * s, k * s);
    const above = { [SHAPE_LOW]: 1, [SHAPE_HIGH]: s * s, [SHAPE_BAND]: k * s, [SHAPE_NOTCH]: Math.abs(1 - s * s) }[
      shape
    ]!;
    return 20 * Math.log10(Math.max(1e-6, above / below));
  };
  if (!isSteep) return stageDb(dampingOf(resonance));
  const [first, second] = steepDampings(shape, resonance);
  return stageDb(first) + stageDb(second);
}

/** Two channels through one filter. */
export class StereoFilter {
  private a1 = 0;
  private a2 = 0;
  private a3 = 0;
  private damping = FLAT_DAMPING;
  private shape = SHAPE_LOW;
  private left1 = 0;
  private left2 = 0;
  private right1 = 0;
  private right2 = 0;

  reset(): void {
    this.left1 = this.left2 = this.right1 = this.right2 = 0;
  }

  /** Goes on from the state of another one. */
  follow(other: StereoFilter): void {
    this.left1 = other.left1;
    this.left2 = other.left2;
    this.right1 = other.right1;
    this.right2 = other.right2;
  }

  /** Equations of section "coefficients": `g = tan(pi cutoff / rate)`, `k = 1 / Q`. */
  set(shape: number, cutoffHz: number, resonance: number, sampleRate: number): void {
    this.setDamped(shape, cutoffHz, dampingOf(resonance), sampleRate);
  }

  /** {@link set} with `1 / Q` itself. */
  setDamped(shape: number, cutoffHz: number, damping: number, sampleRate: number): void {
    const cutoff = Math.max(MIN_CUTOFF_HZ, Math.min(cutoffHz, (MAX_CUTOFF_SHARE * sampleRate) / 2));
    const g = Math.tan((Math.PI * cutoff) / sampleRate);
    this.shape = shape;
    this.damping = damping;
    this.a1 = 1 / (1 + g * (g + this.damping));
    this.a2 = g * this.a1;
    this.a3 = g * this.a2;
  }

  /** Filters `count` samples of both channels in place from `from` on. */
  process(left: Float32Array, right: Float32Array, from: number, count: number): void {
    const { a1, a2, a3, damping, shape } = this;
    // Each output is a sum of the input, the band and the low one.
    const ofInput = shape === SHAPE_HIGH || shape === SHAPE_NOTCH ? 1 : 0;
    const ofBand = shape === SHAPE_BAND ? damping : ofInput === 1 ? -damping : 0;
    const ofLow = shape === SHAPE_LOW ? 1 : shape === SHAPE_HIGH ? -1 : 0;
    let { left1, left2, right1, right2 } = this;
    for (let i = from; i < from + count; i++) {
      const l = left[i]!;
      const l3 = l - left2;
      const lBand = a1 * left1 + a2 * l3;
      const lLow = left2 + a2 * left1 + a3 * l3;
      left1 = 2 * lBand - left1;
      left2 = 2 * lLow - left2;
      left[i] = ofInput * l + ofBand * lBand + ofLow * lLow;
      const r = right[i]!;
      const r3 = r - right2;
      const rBand = a1 * right1 + a2 * r3;
      const rLow = right2 + a2 * right1 + a3 * r3;
      right1 = 2 * rBand - right1;
      right2 = 2 * rLow - right2;
      right[i] = ofInput * r + ofBand * rBand + ofLow * rLow;
    }
    this.left1 = quiet(left1);
    this.left2 = quiet(left2);
    this.right1 = quiet(right1);
    this.right2 = quiet(right2);
  }
}

/** What is far below hearing becomes 0: numbers that small slow the processor down. */
function quiet(value: number): number {
  return Math.abs(value) < 1e-20 ? 0 : value;
}
