/**
 * Four times the rate, for what bends waves: its overtones above half the rate are taken out before they fold
 * back. Half-band filters of two branches of allpasses (R. A. Valenzuela and A. G. Constantinides, "Digital signal
 * processing schemes for efficient interpolation and decimation", IEE Proc. G 130, 1983); elliptic, their coefficients
 * by the series of the nome `q` of the theta functions given there.
 */
import { kernels } from '../kernels/kernels.ts';

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

/** What the kernels work on (see `kernels/assembly/oversample.ts`): both sides at once, which costs no more than one. */
const kernel = kernels();
/** Around the audible: 20 of 22.05 kHz pass, and what lies above 24.1 is 100 dB down. */
const STEEP = halfBandCoefficients(kernel.value('OVER_STEEP'), 0.0465 / 2);
/** Of the higher rate what is above 68 kHz of 176.4. */
const EASY = halfBandCoefficients(kernel.value('OVER_EASY'), 0.25 / 2);

/** Most samples that are worked on at once. */
const RUN = kernel.value('OVER_RUN');
const RATE = kernel.value('OVER_RATE');
const runLeft = kernel.floats('overLeft', RUN);
const runRight = kernel.floats('overRight', RUN);
/** Left and right, left and right, at four times the rate. */
const pairs = kernel.doubles('overPairs', 2 * RATE * RUN);
/** Two numbers of each allpass and side; the steep filter and the easy one are gone through twice. */
const STATE_LENGTH = 2 * 2 * 2 * (STEEP.length + EASY.length);
const workState = kernel.doubles('overState', STATE_LENGTH);
kernel
  .doubles('overCoefficients', 2 * (STEEP.length + EASY.length))
  .set([...STEEP, ...EASY].flatMap((coefficient) => [coefficient, coefficient]));

/** Both sides at four times their rate. Delays them by some three samples, the treble by a few more. */
export class Oversampler {
  private readonly state = new Float64Array(STATE_LENGTH);

  reset(): void {
    this.state.fill(0);
  }

  follow(other: Oversampler): void {
    this.state.set(other.state);
  }

  /**
   * Changes `count` samples of both sides in place.
   * @param shape changes so many pairs, left and right in turn, at the higher rate, in place
   */
  process(
    left: Float32Array,
    right: Float32Array,
    from: number,
    count: number,
    shape: (pairs: Float64Array, count: number) => void,
  ): void {
    workState.set(this.state);
    for (let at = from; at < from + count; at += RUN) {
      const run = Math.min(RUN, from + count - at);
      for (let i = 0; i < run; i++) {
        runLeft[i] = left[at + i]!;
        runRight[i] = right[at + i]!;
      }
      kernel.oversample(run);
      shape(pairs, RATE * run);
      kernel.undersample(run);
      for (let i = 0; i < run; i++) {
        left[at + i] = runLeft[i]!;
        right[at + i] = runRight[i]!;
      }
    }
    this.state.set(workState);
  }
}
