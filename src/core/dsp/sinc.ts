/**
 * Reading a signal between its samples: band-limited interpolation with a Kaiser-windowed sinc (J. O. Smith, "Digital
 * Audio Resampling", section "Windowed sinc interpolation").
 */

/** Samples on each side of the position that are taken in. */
export const SINC_REACH = 8;
const TAPS = 2 * SINC_REACH;
const PHASES = 1024;
const KAISER_BETA = 8;

/** Cutoffs for reading faster than the source runs, so that what lies above half the rate does not fold back. */
const CUTOFFS = [1, 0.84, 0.7, 0.55, 0.42, 0.3, 0.2, 0.12] as const;

const tables: (Float64Array | undefined)[] = [];

/** Modified Bessel function of the first kind, order 0, by its power series (Abramowitz and Stegun, 9.6.10). */
export function besselI0(x: number): number {
  let sum = 1;
  let term = 1;
  for (let k = 1; k < 40; k++) {
    term *= (x / (2 * k)) ** 2;
    sum += term;
  }
  return sum;
}

/** The interpolation table for reading `increment` source samples a step; built once, then shared. */
export function sincTable(increment: number): Float64Array {
  const wanted = Math.min(1, 1 / Math.abs(increment || 1));
  let index = CUTOFFS.findIndex((cutoff) => cutoff <= wanted + 1e-9);
  if (index < 0) index = CUTOFFS.length - 1;
  return (tables[index] ??= buildTable(CUTOFFS[index]!));
}

/** Builds every table, so that none has to be built while sound runs. */
export function prepareSincTables(): void {
  CUTOFFS.forEach((cutoff, index) => {
    tables[index] ??= buildTable(cutoff);
  });
}

function buildTable(cutoff: number): Float64Array {
  const table = new Float64Array((PHASES + 1) * TAPS);
  for (let phase = 0; phase <= PHASES; phase++) {
    let sum = 0;
    const row = phase * TAPS;
    for (let tap = 0; tap < TAPS; tap++) {
      const x = tap - (SINC_REACH - 1) - phase / PHASES;
      const window = Math.abs(x) < SINC_REACH ? besselI0(KAISER_BETA * Math.sqrt(1 - (x / SINC_REACH) ** 2)) : 0;
      const sinc = x === 0 ? 1 : Math.sin(Math.PI * x * cutoff) / (Math.PI * x * cutoff);
      table[row + tap] = sinc * window;
      sum += table[row + tap]!;
    }
    for (let tap = 0; tap < TAPS; tap++) table[row + tap]! /= sum;
  }
  return table;
}

/** The signal's value at a fractional position; 0 beyond its ends. */
export function sincRead(table: Float64Array, signal: Float32Array, position: number): number {
  const whole = Math.floor(position);
  const row = (((position - whole) * PHASES + 0.5) | 0) * TAPS;
  const first = whole - (SINC_REACH - 1);
  let sum = 0;
  for (let tap = 0; tap < TAPS; tap++) sum += table[row + tap]! * (signal[first + tap] ?? 0);
  return sum;
}

/** Samples around the positions of a run, as doubles and with zeros beyond the signal's ends. */
const WINDOW = 4096;
const windowLeft = new Float64Array(WINDOW);
const windowRight = new Float64Array(WINDOW);

/**
 * The values of {@link sincRead} at `position + i * step`, for both channels. Two to three times as fast: each sample is
 * turned into a double once, and no tap asks where the signal ends. Allocates nothing; how a run is divided changes no
 * bit of it.
 * @param right the same array as `left` for one channel
 * @param step how far apart the values lie, below 4000 either way; below 0 reads backwards
 * @returns the position after the last value
 */
export function sincReadRun(
  table: Float64Array,
  left: Float32Array,
  right: Float32Array,
  startPosition: number,
  step: number,
  outLeft: Float64Array,
  outRight: Float64Array,
  count: number,
): number {
  const stereo = right !== left;
  const most = Math.max(1, Math.floor((WINDOW - TAPS - 4) / Math.max(1e-3, Math.abs(step))));
  let position = startPosition;
  for (let done = 0; done < count;) {
    const to = Math.min(count, done + most);
    const reached = position + (to - done) * step;
    // One sample more on each side: the sum of the steps is rounded otherwise than their product.
    const base = Math.floor(Math.min(position, reached)) - SINC_REACH;
    const span = Math.min(WINDOW, Math.floor(Math.max(position, reached)) + SINC_REACH + 2 - base);
    fillWindow(windowLeft, left, base, span);
    if (stereo) fillWindow(windowRight, right, base, span);
    const from = position;
    position = readWindow(table, windowLeft, base, from, step, outLeft, done, to);
    if (stereo) readWindow(table, windowRight, base, from, step, outRight, done, to);
    else for (let i = done; i < to; i++) outRight[i] = outLeft[i]!;
    done = to;
  }
  return position;
}

function fillWindow(window: Float64Array, signal: Float32Array, base: number, span: number): void {
  const from = Math.min(span, Math.max(0, -base));
  const to = Math.max(from, Math.min(span, signal.length - base));
  for (let i = 0; i < from; i++) window[i] = 0;
  for (let i = from; i < to; i++) window[i] = signal[base + i]!;
  for (let i = to; i < span; i++) window[i] = 0;
}

function readWindow(
  t: Float64Array,
  w: Float64Array,
  base: number,
  startPosition: number,
  step: number,
  out: Float64Array,
  from: number,
  to: number,
): number {
  let position = startPosition;
  for (let i = from; i < to; i++) {
    const inWindow = position - base;
    const whole = inWindow | 0;
    const r = (((inWindow - whole) * PHASES + 0.5) | 0) * TAPS;
    const f = whole - (SINC_REACH - 1);
    // Sums of four that do not wait for each other.
    out[i] =
      t[r]! * w[f]! +
      t[r + 1]! * w[f + 1]! +
      (t[r + 2]! * w[f + 2]! + t[r + 3]! * w[f + 3]!) +
      (t[r + 4]! * w[f + 4]! + t[r + 5]! * w[f + 5]! + (t[r + 6]! * w[f + 6]! + t[r + 7]! * w[f + 7]!)) +
      (t[r + 8]! * w[f + 8]! + t[r + 9]! * w[f + 9]! + (t[r + 10]! * w[f + 10]! + t[r + 11]! * w[f + 11]!)) +
      (t[r + 12]! * w[f + 12]! + t[r + 13]! * w[f + 13]! + (t[r + 14]! * w[f + 14]! + t[r + 15]! * w[f + 15]!));
    position += step;
  }
  return position;
}

/** Values read at one go when a whole signal is resampled. */
const RESAMPLE_BLOCK = 4096;

/** Resamples a whole signal by `ratio` source samples an output sample. */
export function resample(signal: Float32Array, ratio: number): Float32Array {
  const out = new Float32Array(Math.max(0, Math.round(signal.length / ratio)));
  const table = sincTable(ratio);
  const block = new Float64Array(RESAMPLE_BLOCK);
  for (let at = 0; at < out.length; at += RESAMPLE_BLOCK) {
    const count = Math.min(RESAMPLE_BLOCK, out.length - at);
    sincReadRun(table, signal, signal, at * ratio, ratio, block, block, count);
    out.set(block.subarray(0, count), at);
  }
  return out;
}
