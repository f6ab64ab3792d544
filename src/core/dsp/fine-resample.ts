/**
 * Resampling for files, where time does not press: a Kaiser-windowed sinc (J. O. Smith, "Digital Audio Resampling",
 * section "Windowed sinc interpolation"), with the table read between its values. The more zero crossings the steeper the
 * filter: by Kaiser's formula 24 are flat to 18.6 kHz at 44.1 kHz, 64 to 20.6 kHz. A kernel
 * (`kernels/assembly/resample.ts`) reads the filter laid out in rows, one row of taps a phase, and between the rows.
 */
import { kernels } from '../kernels/kernels.ts';
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

const kernel = kernels();
const table = kernel.floats('resampleTable', kernel.value('RESAMPLE_TABLE'));
const window = kernel.floats('resampleWindow', kernel.value('RESAMPLE_WINDOW'));
const result = kernel.floats('resampleOut', kernel.value('RESAMPLE_RUN'));
const MAX_INCREMENT = 400;

/** The filter as it lies in the kernel's memory. */
interface Rows {
  filter: keyof typeof FILTERS;
  scale: number;
  /** Phases from one sample to the next. */
  rows: number;
  taps: number;
  /** Taps before a position. */
  before: number;
}
let cached: Rows | undefined;

/** Lays the filter out for a cutoff: `scale` of half the source's rate. */
function layOut(filter: keyof typeof FILTERS, scale: number): Rows {
  if (cached?.filter === filter && cached.scale === scale) return cached;
  const wing = wingOf(filter);
  // The lower the cutoff the longer the filter, and the slower it changes from phase to phase.
  const rows = Math.ceil(STEPS_A_CROSSING * scale);
  const before = Math.ceil(FILTERS[filter].zeroCrossings / scale);
  const taps = 4 * Math.ceil((2 * before + 2) / 4);
  // A row more than there are phases to read towards, and one for rounding.
  for (let row = 0, at = 0; row <= rows + 1; row++) {
    for (let tap = 0; tap < taps; tap++, at++) {
      const place = Math.abs(row / rows + before - tap) * scale * STEPS_A_CROSSING;
      const whole = Math.floor(place);
      const low = wing[whole] ?? 0;
      table[at] = scale * (low + (place - whole) * ((wing[whole + 1] ?? 0) - low));
    }
  }
  return (cached = { filter, scale, rows, taps, before });
}

/**
 * The signal read at `i * increment`; beyond its ends lies silence.
 * @param increment source frames an output frame, above 0 to 400; 2 is an octave up in half the time
 * @param length output frames
 * @param filter `steep` keeps the top octave whole, at nearly three times the cost
 * @throws RangeError for another increment
 */
export function resampleFine(
  signal: Float32Array,
  increment: number,
  length: number,
  filter: keyof typeof FILTERS = 'quick',
): Float32Array {
  if (!(increment > 0 && increment <= MAX_INCREMENT)) {
    throw new RangeError(`increment is ${increment}; it must be above 0 and at most ${MAX_INCREMENT}`);
  }
  const out = new Float32Array(length);
  if (increment === 1) {
    out.set(signal.subarray(0, length));
    return out;
  }
  const { rows, taps, before } = layOut(filter, FILTERS[filter].pass * Math.min(1, 1 / increment));
  const run = Math.max(1, Math.min(result.length, Math.floor((window.length - taps - 2) / increment)));
  for (let first = 0; first < length; first += run) {
    const count = Math.min(run, length - first);
    const base = Math.floor(first * increment) - before;
    const end = Math.floor((first + count - 1) * increment) - before + taps;
    const from = Math.min(Math.max(0, base), end);
    const to = Math.max(from, Math.min(signal.length, end));
    if (from > base || to < end) window.fill(0, 0, end - base);
    if (to > from) window.set(signal.subarray(from, to), from - base);
    kernel.resampleRun(first, increment, count, base, rows, taps, before);
    out.set(result.subarray(0, count), first);
  }
  return out;
}
