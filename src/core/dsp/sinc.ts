/**
 * Reading a signal between its samples: band-limited interpolation with a Kaiser-windowed sinc (J. O. Smith, "Digital
 * Audio Resampling", section "Windowed sinc interpolation").
 */
import { kernels } from '../kernels/kernels.ts';

const KAISER_BETA = 8;
/** Taps at the source's own speed, and how many more for each time that it is read faster: it has to be steeper then. */
const PLAIN_TAPS = 64;
const TAPS_A_SPEED = 48;
/**
 * By Kaiser's formula (A. Oppenheim and R. Schafer, "Discrete-Time Signal Processing", section on the Kaiser window:
 * `delta w = (A - 8) / (2.285 M)`) 48 taps fall by 80 dB within 0.21 of half the rate: it begins to fall at 0.79 of it, is
 * 6 dB down in the middle, and nothing folds back.
 */
const FASTER_CUTOFF = 0.896;
const MOST_PHASES = 1024;
/** A little faster than a table is made for: what folds back then lies at the upper end of what can be heard. */
const TOLERANCE = 1.02;

/** Speeds that tables are made for: semitones to an octave, then two, then three together, up to four octaves. */
const SEMITONES = [...range(0, 12, 1), ...range(14, 24, 2), ...range(27, 48, 3)];
/** Of sounds of other usual rates at their own pitch, where the engine runs at 44.1 kHz. */
const RATES = [48, 96, 192].map((kHz) => kHz / 44.1);
const SPEEDS = [...SEMITONES.map((semitones) => 2 ** (semitones / 12)), ...RATES].sort((a, b) => a - b);
/** They are read all the time at this very speed: steeper, so that their treble stays. */
const STEEP_TAPS_A_SPEED = 96;
const STEEP_CUTOFF = 0.948;
const isSteep = (index: number) => RATES.includes(SPEEDS[index]!);

function range(from: number, to: number, step: number): number[] {
  return Array.from({ length: (to - from) / step + 1 }, (_, index) => from + index * step);
}

/** An interpolation table: one of those that lie side by side in the kernel's memory. */
export interface SincTable {
  values: Float32Array;
  address: number;
  /** Samples on each side of a position. */
  reach: number;
  /** Rows of taps from one sample to the next. */
  phases: number;
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
  const speed = Math.abs(increment || 1) / TOLERANCE;
  let index = 0;
  while (index < SPEEDS.length - 1 && SPEEDS[index]! < speed) index++;
  return tableAt(index);
}

/** Builds every table, so that none has to be built while sound runs. */
export function prepareSincTables(): void {
  SPEEDS.forEach((_, index) => tableAt(index));
}

function tapsAt(index: number): number {
  const each = isSteep(index) ? STEEP_TAPS_A_SPEED : TAPS_A_SPEED;
  return index === 0 ? PLAIN_TAPS : 16 * Math.ceil((each * SPEEDS[index]!) / 16);
}

/** The lower the cutoff, the slower the filter changes from phase to phase. */
function phasesAt(index: number): number {
  return Math.max(64, MOST_PHASES >> Math.floor(Math.log2(SPEEDS[index]! + 1e-9)));
}

const lengthAt = (index: number) => (phasesAt(index) + 1) * tapsAt(index);
const OFFSETS = SPEEDS.map((_, index) => SPEEDS.slice(0, index).reduce((sum, _speed, at) => sum + lengthAt(at), 0));

function tableAt(index: number): SincTable {
  return (tables[index] ??= buildTable(index));
}

/** One wing of the window, from its middle to its end, close enough together to be read straight between. */
const WING_STEPS = 4096;
let wing: Float64Array | undefined;
function windowAt(share: number): number {
  wing ??= Float64Array.from({ length: WING_STEPS + 2 }, (_, i) =>
    besselI0(KAISER_BETA * Math.sqrt(Math.max(0, 1 - (i / WING_STEPS) ** 2))),
  );
  if (share >= 1) return 0;
  const at = share * WING_STEPS;
  const whole = Math.floor(at);
  return wing[whole]! + (wing[whole + 1]! - wing[whole]!) * (at - whole);
}

function buildTable(index: number): SincTable {
  const values = kernel
    .floats('sincTables', kernel.value('SINC_TABLES'))
    .subarray(OFFSETS[index]!, OFFSETS[index]! + lengthAt(index));
  const taps = tapsAt(index);
  const phases = phasesAt(index);
  const reach = taps / 2;
  const cutoff = index === 0 ? 1 : (isSteep(index) ? STEEP_CUTOFF : FASTER_CUTOFF) / SPEEDS[index]!;
  const row = new Float64Array(taps);
  // sin(a - b) of the tap's place and the phase: no sine a value.
  const sines = Float64Array.from({ length: taps }, (_, tap) => Math.sin(Math.PI * cutoff * (tap - (reach - 1))));
  const cosines = Float64Array.from({ length: taps }, (_, tap) => Math.cos(Math.PI * cutoff * (tap - (reach - 1))));
  // The other half is the same backwards: a sinc has two like sides.
  for (let phase = 0; phase <= phases / 2; phase++) {
    const gone = phase / phases;
    const sine = Math.sin(Math.PI * cutoff * gone);
    const cosine = Math.cos(Math.PI * cutoff * gone);
    let sum = 0;
    for (let tap = 0; tap < taps; tap++) {
      const x = tap - (reach - 1) - gone;
      const sinc = Math.abs(x) < 1e-12 ? 1 : (sines[tap]! * cosine - cosines[tap]! * sine) / (Math.PI * x * cutoff);
      row[tap] = sinc * windowAt(Math.abs(x) / reach);
      sum += row[tap]!;
    }
    const mirrored = (phases - phase + 1) * taps - 1;
    for (let tap = 0; tap < taps; tap++) values[phase * taps + tap] = values[mirrored - tap] = row[tap]! / sum;
  }
  return { values, address: values.byteOffset, reach, phases };
}

/** The signal's value at a fractional position; 0 beyond its ends. */
export function sincRead(table: SincTable, signal: Float32Array, position: number): number {
  const whole = Math.floor(position);
  const taps = 2 * table.reach;
  const row = (((position - whole) * table.phases + 0.5) | 0) * taps;
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
 * @param step how far apart the values lie, below 2000 either way; below 0 reads backwards
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
  const { reach, phases } = table;
  const most = Math.max(1, Math.floor((windowLeft.length - 2 * reach - 4) / Math.max(1e-3, Math.abs(step))));
  let position = startPosition;
  for (let done = 0; done < count;) {
    const to = Math.min(count, done + most);
    const reached = position + (to - done) * step;
    // One sample more on each side: the sum of the steps is rounded otherwise than their product.
    const base = Math.floor(Math.min(position, reached)) - reach;
    const span = Math.min(windowLeft.length, Math.floor(Math.max(position, reached)) + reach + 2 - base);
    fillWindow(windowLeft, left, base, span, fromFrame, toFrame);
    if (stereo) fillWindow(windowRight, right, base, span, fromFrame, toFrame);
    position = kernel.readSinc(table.address, position, step, base, done, to, stereo, reach, phases);
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
