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

const tables: (Float32Array | undefined)[] = [];

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
export function sincTable(increment: number): Float32Array {
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

function buildTable(cutoff: number): Float32Array {
  const table = new Float32Array((PHASES + 1) * TAPS);
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
export function sincRead(table: Float32Array, signal: Float32Array, position: number): number {
  // Whole numbers as such: several times as fast as floating point indices.
  const whole = position >= 0 ? position | 0 : Math.floor(position) | 0;
  const row = (((position - whole) * PHASES + 0.5) | 0) * TAPS;
  const first = whole - (SINC_REACH - 1);
  const from = first < 0 ? -first : 0;
  const to = Math.min(TAPS, signal.length - first);
  let sum = 0;
  for (let tap = from; tap < to; tap++) sum += table[row + tap]! * signal[first + tap]!;
  return sum;
}

/**
 * The values of {@link sincRead} at `position + i * step`, for both channels, to the last bit; where no tap reaches
 * beyond the signal the channels share one walk over the table, which halves the time. Allocates nothing.
 * @param right the same array as `left` for one channel
 * @param step how far apart the values lie; below 0 reads backwards
 * @returns the position after the last value
 */
export function sincReadRun(
  table: Float32Array,
  left: Float32Array,
  right: Float32Array,
  startPosition: number,
  step: number,
  outLeft: Float64Array,
  outRight: Float64Array,
  count: number,
): number {
  const stereo = right !== left;
  const last = left.length - TAPS + SINC_REACH - 1;
  let position = startPosition;
  for (let i = 0; i < count; i++) {
    if (position >= SINC_REACH && position < last) {
      const whole = position | 0;
      const row = (((position - whole) * PHASES + 0.5) | 0) * TAPS;
      const first = whole - (SINC_REACH - 1);
      let sumLeft = 0;
      let sumRight = 0;
      for (let tap = 0; tap < TAPS; tap++) {
        const weight = table[row + tap]!;
        sumLeft += weight * left[first + tap]!;
        if (stereo) sumRight += weight * right[first + tap]!;
      }
      outLeft[i] = sumLeft;
      outRight[i] = stereo ? sumRight : sumLeft;
    } else {
      outLeft[i] = sincRead(table, left, position);
      outRight[i] = stereo ? sincRead(table, right, position) : outLeft[i]!;
    }
    position += step;
  }
  return position;
}

/** Resamples a whole signal by `ratio` source samples an output sample. */
export function resample(signal: Float32Array, ratio: number): Float32Array {
  const out = new Float32Array(Math.max(0, Math.round(signal.length / ratio)));
  const table = sincTable(ratio);
  for (let i = 0; i < out.length; i++) out[i] = sincRead(table, signal, i * ratio);
  return out;
}
