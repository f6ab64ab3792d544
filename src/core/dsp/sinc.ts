/**
 * Reading a signal between its samples: band-limited interpolation with a Kaiser-windowed sinc (J. O. Smith, "Digital
 * Audio Resampling", section "Windowed sinc interpolation").
 */
import { kernels } from '../kernels/kernels.ts';
import { SINC_REACH } from './sinc-reach.ts';

const PLAIN_REACH = 12;
const PHASES = 1024;
const KAISER_BETA = 8;

/**
 * Cutoffs for reading faster than the source runs, so that what lies above half the rate does not fold back: each table
 * falls by 80 dB within 0.16 on each side of its cutoff, the width of a Kaiser window of 32 taps (A. Oppenheim and R.
 * Schafer, "Discrete-Time Signal Processing", section on the Kaiser window: `delta w = (A - 8) / (2.285 M)`).
 */
const CUTOFFS = [1, 0.83, 0.77, 0.7, 0.62, 0.54, 0.46, 0.4, 0.34, 0.28, 0.22, 0.17, 0.12, 0.08] as const;
const FALL = 0.16;

/** Places of one table: a row of taps for every phase from 0 to 1. */
const TABLE_LENGTH = (PHASES + 1) * 2 * SINC_REACH;

/** An interpolation table: one of those that lie side by side in the kernel's memory. */
export interface SincTable {
  values: Float32Array;
  address: number;
  /** Samples on each side of a position. */
  reach: number;
}

/** What the kernel works on, in its memory: windows of a signal around the positions of a run, and the values read. */
const kernel = kernels();
const windowLeft = kernel.floats('sincWindowLeft', kernel.value('SINC_WINDOW'));
const windowRight = kernel.floats('sincWindowRight', kernel.value('SINC_WINDOW'));
/** Values that one {@link sincReadRun} may give. */
export const SINC_RUN = kernel.value('SINC_RUN');
/** The values of the last {@link sincReadRun}: shared, so to be used before the next. */
export const sincLeft: Float32Array = kernel.floats('sincOutLeft', SINC_RUN);
export const sincRight: Float32Array = kernel.floats('sincOutRight', SINC_RUN);
const tables: (SincTable | undefined)[] = [];

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
export function sincTable(increment: number): SincTable {
  const most = 1 / Math.abs(increment || 1);
  if (most >= 1 - 1e-9) return tableAt(0);
  const index = CUTOFFS.findIndex((cutoff) => cutoff <= most - FALL);
  return tableAt(index < 0 ? CUTOFFS.length - 1 : index);
}

/** Builds every table, so that none has to be built while sound runs. */
export function prepareSincTables(): void {
  CUTOFFS.forEach((_, index) => tableAt(index));
}

function tableAt(index: number): SincTable {
  return (tables[index] ??= buildTable(CUTOFFS[index]!, index));
}

function buildTable(cutoff: number, index: number): SincTable {
  const values = kernel.floats('sincTables', CUTOFFS.length * TABLE_LENGTH).subarray(index * TABLE_LENGTH);
  const reach = index === 0 ? PLAIN_REACH : SINC_REACH;
  const window = windowOf(reach);
  const taps = 2 * reach;
  const row = new Float64Array(taps);
  for (let phase = 0; phase <= PHASES; phase++) {
    let sum = 0;
    for (let tap = 0; tap < taps; tap++) {
      const x = tap - (reach - 1) - phase / PHASES;
      const sinc = x === 0 ? 1 : Math.sin(Math.PI * x * cutoff) / (Math.PI * x * cutoff);
      row[tap] = sinc * window[phase * taps + tap]!;
      sum += row[tap]!;
    }
    for (let tap = 0; tap < taps; tap++) values[phase * taps + tap] = row[tap]! / sum;
  }
  return { values, address: values.byteOffset, reach };
}

const windows = new Map<number, Float64Array>();

/** The window of every phase: the same for all tables of a reach. */
function windowOf(reach: number): Float64Array {
  const known = windows.get(reach);
  if (known) return known;
  const taps = 2 * reach;
  const window = Float64Array.from({ length: (PHASES + 1) * taps }, (_, i) => {
    const x = (i % taps) - (reach - 1) - Math.floor(i / taps) / PHASES;
    return Math.abs(x) < reach ? besselI0(KAISER_BETA * Math.sqrt(1 - (x / reach) ** 2)) : 0;
  });
  windows.set(reach, window);
  return window;
}

/** The signal's value at a fractional position; 0 beyond its ends. */
export function sincRead(table: SincTable, signal: Float32Array, position: number): number {
  const whole = Math.floor(position);
  const taps = 2 * table.reach;
  const row = (((position - whole) * PHASES + 0.5) | 0) * taps;
  const first = whole - (table.reach - 1);
  let sum = 0;
  for (let tap = 0; tap < taps; tap++) sum += table.values[row + tap]! * (signal[first + tap] ?? 0);
  return sum;
}

/**
 * The values of {@link sincRead} at `position + i * step`, for both channels, into {@link sincLeft} and
 * {@link sincRight}: no tap asks where the signal ends, and four are taken at a time. Allocates nothing; how a run is
 * divided changes no bit of it.
 * @param right the same array as `left` for one channel; {@link sincRight} is then not written
 * @param step how far apart the values lie, below 4000 either way; below 0 reads backwards
 * @param count values, at most {@link SINC_RUN}
 * @param fromFrame frames before this and from `toFrame` on count as 0: what lies outside a slice does not bleed into it
 * @returns the position after the last value
 */
export function sincReadRun(
  table: SincTable,
  left: Float32Array,
  right: Float32Array,
  startPosition: number,
  step: number,
  count: number,
  fromFrame = 0,
  toFrame = left.length,
): number {
  const stereo = right !== left;
  const most = Math.max(1, Math.floor((windowLeft.length - 2 * SINC_REACH - 4) / Math.max(1e-3, Math.abs(step))));
  let position = startPosition;
  for (let done = 0; done < count;) {
    const to = Math.min(count, done + most);
    const reached = position + (to - done) * step;
    // One sample more on each side: the sum of the steps is rounded otherwise than their product.
    const base = Math.floor(Math.min(position, reached)) - SINC_REACH;
    const span = Math.min(windowLeft.length, Math.floor(Math.max(position, reached)) + SINC_REACH + 2 - base);
    fillWindow(windowLeft, left, base, span, fromFrame, toFrame);
    if (stereo) fillWindow(windowRight, right, base, span, fromFrame, toFrame);
    position = kernel.readSinc(table.address, position, step, base, done, to, stereo, table.reach === SINC_REACH);
    done = to;
  }
  return position;
}

function fillWindow(
  window: Float32Array,
  signal: Float32Array,
  base: number,
  span: number,
  fromFrame: number,
  toFrame: number,
): void {
  const from = Math.min(span, Math.max(0, fromFrame - base));
  const to = Math.max(from, Math.min(span, toFrame - base));
  for (let i = 0; i < from; i++) window[i] = 0;
  for (let i = from; i < to; i++) window[i] = signal[base + i]!;
  for (let i = to; i < span; i++) window[i] = 0;
}

/** Resamples a whole signal by `ratio` source samples an output sample. */
export function resample(signal: Float32Array, ratio: number): Float32Array {
  const out = new Float32Array(Math.max(0, Math.round(signal.length / ratio)));
  const table = sincTable(ratio);
  for (let at = 0; at < out.length; at += SINC_RUN) {
    const count = Math.min(SINC_RUN, out.length - at);
    sincReadRun(table, signal, signal, at * ratio, ratio, count);
    out.set(sincLeft.subarray(0, count), at);
  }
  return out;
}
