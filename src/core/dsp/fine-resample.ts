/**
 * Resampling for files, where time does not press: a Kaiser-windowed sinc of 24 zero crossings a side (J. O. Smith,
 * "Digital Audio Resampling", section "Windowed sinc interpolation"), with the table read between its values.
 */
import { besselI0 } from './sinc.ts';

const ZERO_CROSSINGS = 24;
const STEPS_A_CROSSING = 512;
const KAISER_BETA = 9;
/** Share of half the lower rate that passes; the rest is the filter's slope. */
const PASS = 0.965;

let shared: Float64Array | null = null;

/** One wing of the filter: `sinc(x) * kaiser(x)` from 0 to the last crossing. */
function wing(): Float64Array {
  if (shared) return shared;
  const length = ZERO_CROSSINGS * STEPS_A_CROSSING + 2;
  shared = Float64Array.from({ length }, (_, i) => {
    const x = i / STEPS_A_CROSSING;
    if (x >= ZERO_CROSSINGS) return 0;
    const sinc = x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
    return (sinc * besselI0(KAISER_BETA * Math.sqrt(1 - (x / ZERO_CROSSINGS) ** 2))) / besselI0(KAISER_BETA);
  });
  return shared;
}

/**
 * The signal read at `i * increment`.
 * @param increment source frames an output frame; 2 is an octave up in half the time
 * @param length output frames
 */
export function resampleFine(signal: Float32Array, increment: number, length: number): Float32Array {
  if (!(increment > 0)) throw new RangeError(`increment is ${increment}; it must be above 0`);
  if (increment === 1) {
    const same = new Float32Array(length);
    same.set(signal.subarray(0, length));
    return same;
  }
  const table = wing();
  const scale = PASS * Math.min(1, 1 / increment);
  const reach = ZERO_CROSSINGS / scale;
  const tableScale = scale * STEPS_A_CROSSING;
  const out = new Float32Array(length);
  for (let i = 0; i < length; i++) {
    const position = i * increment;
    const from = Math.max(0, Math.ceil(position - reach));
    const to = Math.min(signal.length - 1, Math.floor(position + reach));
    let sum = 0;
    for (let k = from; k <= to; k++) {
      const at = Math.abs(position - k) * tableScale;
      const whole = at | 0;
      const low = table[whole]!;
      sum += signal[k]! * (low + (at - whole) * (table[whole + 1]! - low));
    }
    out[i] = sum * scale;
  }
  return out;
}
