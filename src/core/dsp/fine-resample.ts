/**
 * Resampling for files, where time does not press: a Kaiser-windowed sinc (J. O. Smith, "Digital Audio Resampling",
 * section "Windowed sinc interpolation"), with the table read between its values. The more zero crossings the steeper the
 * filter: by Kaiser's formula 24 are flat to 18.6 kHz at 44.1 kHz, 64 to 20.6 kHz.
 */
import { besselI0 } from './sinc.ts';

/** How steep: zero crossings a side, the window's beta, and the share of half the lower rate at which it is 6 dB down. */
const FILTERS = {
  quick: { zeroCrossings: 24, beta: 9, pass: 0.965 },
  steep: { zeroCrossings: 64, beta: 7, pass: 0.97 },
} as const;
const STEPS_A_CROSSING = 512;

const wings = new Map<keyof typeof FILTERS, Float64Array>();

/** One wing of the filter: `sinc(x) * kaiser(x)` from 0 to the last crossing. */
function wingOf(name: keyof typeof FILTERS): Float64Array {
  const known = wings.get(name);
  if (known) return known;
  const { zeroCrossings, beta } = FILTERS[name];
  const length = zeroCrossings * STEPS_A_CROSSING + 2;
  const wing = Float64Array.from({ length }, (_, i) => {
    const x = i / STEPS_A_CROSSING;
    if (x >= zeroCrossings) return 0;
    const sinc = x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
    return (sinc * besselI0(beta * Math.sqrt(1 - (x / zeroCrossings) ** 2))) / besselI0(beta);
  });
  wings.set(name, wing);
  return wing;
}

/**
 * The signal read at `i * increment`.
 * @param increment source frames an output frame; 2 is an octave up in half the time
 * @param length output frames
 * @param filter `steep` keeps the top octave whole, at nearly three times the cost
 */
export function resampleFine(
  signal: Float32Array,
  increment: number,
  length: number,
  filter: keyof typeof FILTERS = 'quick',
): Float32Array {
  if (!(increment > 0)) throw new RangeError(`increment is ${increment}; it must be above 0`);
  if (increment === 1) {
    const same = new Float32Array(length);
    same.set(signal.subarray(0, length));
    return same;
  }
  const table = wingOf(filter);
  const { zeroCrossings, pass } = FILTERS[filter];
  const scale = pass * Math.min(1, 1 / increment);
  const reach = zeroCrossings / scale;
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
