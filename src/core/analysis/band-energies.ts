/** The energy of a signal in a few frequency bands, millisecond by millisecond: what hits are read from. */
import { bandPass, type Biquad } from '../dsp/biquad.ts';
import { runToEnd } from '../units/steps.ts';

/** Lower edges of the bands in Hz; each reaches to the next edge. */
export const BAND_EDGES_HZ = [35, 90, 180, 360, 720, 1440, 2880, 5760, 11520, 20000] as const;
export const BAND_COUNT = BAND_EDGES_HZ.length - 1;

/** The bands below 720 Hz are read at a quarter of rates from here on. */
const QUARTERED_BANDS = 4;
const QUARTERED_FROM_HZ = 40000;
const BLOCK = 2048;

export interface BandEnergies {
  /** Frames from one value to the next (about 1 ms). */
  hopFrames: number;
  /** Values in each band. */
  length: number;
  /** Mean square of each band in each hop: `bands[band][hop]`. */
  bands: Float32Array[];
}

/**
 * Splits a signal with two equal band-pass sections a band and takes the mean square in every hop of about 1 ms.
 * Bands above 45% of the sample rate stay 0. Cost: about 0.4% of real time.
 */
export function measureBandEnergies(signal: Float32Array, sampleRate: number): BandEnergies {
  return runToEnd(bandEnergySteps(signal, sampleRate));
}

/** The same in steps, one for two bands, each yielding the share that is done. */
export function* bandEnergySteps(signal: Float32Array, sampleRate: number): Generator<number, BandEnergies> {
  const hopFrames = Math.max(1, Math.round(sampleRate / 1000));
  const length = Math.ceil(signal.length / hopFrames);
  const bands = BAND_EDGES_HZ.slice(0, BAND_COUNT).map(() => new Float32Array(length));
  // The low bands need no more than a quarter of the rate.
  const isQuartered = sampleRate >= QUARTERED_FROM_HZ && hopFrames % 4 === 0;
  const groups = isQuartered
    ? [
        { from: 0, to: QUARTERED_BANDS, factor: 4 },
        { from: QUARTERED_BANDS, to: BAND_COUNT, factor: 1 },
      ]
    : [{ from: 0, to: BAND_COUNT, factor: 1 }];
  for (const { from, to, factor } of groups) {
    const driven = withZeros(factor === 4 ? quarterRate(signal) : signal);
    const sectionOf = (band: number) => bandSection(band, sampleRate, factor);
    for (let band = from; band < to; band += 2) {
      yield band / BAND_COUNT;
      // Without a second band, or where it lies too high, the first keeps itself company.
      const first = sectionOf(band);
      if (!first) continue;
      const second = band + 1 < to ? sectionOf(band + 1) : null;
      const other = second ? bands[band + 1]! : new Float32Array(length);
      pairEnergies(first, second ?? first, driven, hopFrames / factor, bands[band]!, other);
    }
  }
  return { hopFrames, length, bands };
}

/** The section that lets one band through at a part of the sample rate; null where the band lies too high. */
function bandSection(band: number, sampleRate: number, factor: number): Biquad | null {
  const low = BAND_EDGES_HZ[band]!;
  const high = Math.min(BAND_EDGES_HZ[band + 1]!, sampleRate * 0.47);
  if (low >= sampleRate * 0.4) return null;
  const centre = Math.sqrt(low * high);
  return bandPass(centre, centre / (high - low), sampleRate / factor);
}

/** What three running means over four samples, one after the other, weigh ten samples by. */
const QUARTER_WEIGHTS = [1, 3, 6, 10, 12, 12, 10, 6, 3, 1].map((weight) => weight / 64);

/**
 * Every fourth value of a signal smoothed so that what would fold onto the low bands lies 66 dB and more below. Value
 * `n` belongs to the middle of samples `4 n` to `4 n + 3`.
 */
function quarterRate(signal: Float32Array): Float32Array {
  const out = new Float32Array(Math.ceil(signal.length / 4));
  const firstEnd = Math.max(1, Math.floor((signal.length - 7) / 4) + 1);
  inBlocks(1, firstEnd, (from, to) => quarterBlock(signal, out, from, to));
  // At the ends the signal is not there: it counts as 0.
  const ends = [0];
  for (let n = firstEnd; n < out.length; n++) ends.push(n);
  for (const n of ends)
    out[n] = QUARTER_WEIGHTS.reduce((sum, weight, k) => sum + weight * (signal[4 * n - 3 + k] ?? 0), 0);
  return out;
}

function quarterBlock(signal: Float32Array, out: Float32Array, fromValue: number, toValue: number): void {
  const [w0, w1, w2, w3, w4] = QUARTER_WEIGHTS as [number, number, number, number, number];
  for (let n = fromValue, i = 4 * fromValue; n < toValue; n++, i += 4) {
    out[n] =
      w0 * (signal[i - 3]! + signal[i + 6]!) +
      w1 * (signal[i - 2]! + signal[i + 5]!) +
      w2 * (signal[i - 1]! + signal[i + 4]!) +
      w3 * (signal[i]! + signal[i + 3]!) +
      w4 * (signal[i + 1]! + signal[i + 2]!);
  }
}

/** The zeros that both sections of every band share, `(1 - z^-2)^2`: computed once for all. */
function withZeros(signal: Float32Array): Float32Array {
  const out = new Float32Array(signal.length);
  for (let i = 0; i < Math.min(4, out.length); i++) out[i] = signal[i]! - 2 * (signal[i - 2] ?? 0);
  inBlocks(4, out.length, (from, to) => zerosBlock(signal, out, from, to));
  return out;
}

function zerosBlock(signal: Float32Array, out: Float32Array, from: number, to: number): void {
  for (let i = from; i < to; i++) out[i] = signal[i]! - 2 * signal[i - 2]! + signal[i - 4]!;
}

/** A function that is called often is compiled well at once; one long loop is not. */
function inBlocks(from: number, to: number, work: (from: number, to: number) => void): void {
  for (let at = from; at < to; at += BLOCK) work(at, Math.min(to, at + BLOCK));
}

/** Runs the poles of two bands over a whole signal: the mean squares in every hop. */
function pairEnergies(
  first: Biquad,
  second: Biquad,
  driven: Float32Array,
  hopFrames: number,
  firstOut: Float32Array,
  secondOut: Float32Array,
): void {
  const firstGain = first.b0 ** 4;
  const secondGain = second.b0 ** 4;
  const state = new Float64Array(10);
  for (let hop = 0; hop < firstOut.length; hop++) {
    const from = hop * hopFrames;
    const to = Math.min(driven.length, from + hopFrames);
    pairHop(first, second, driven, from, to, state);
    firstOut[hop] = (state[8]! * firstGain) / (to - from);
    secondOut[hop] = (state[9]! * secondGain) / (to - from);
  }
}

/**
 * Runs the poles of two bands, each twice, over one hop, and squares without keeping the filtered signals. Two bands
 * side by side take half the time of one after the other: a recursion waits for itself, the other fills the gaps.
 * @param state four values a band, then the sum of squares of each
 */
function pairHop(
  { a1, a2 }: Biquad,
  { a1: c1, a2: c2 }: Biquad,
  driven: Float32Array,
  from: number,
  to: number,
  state: Float64Array,
): void {
  let y1 = state[0]!;
  let y2 = state[1]!;
  let z1 = state[2]!;
  let z2 = state[3]!;
  let v1 = state[4]!;
  let v2 = state[5]!;
  let w1 = state[6]!;
  let w2 = state[7]!;
  let firstSum = 0;
  let secondSum = 0;
  for (let i = from; i < to; i++) {
    const x = driven[i]!;
    const y = x - a2 * y2 - a1 * y1;
    const z = y - a2 * z2 - a1 * z1;
    firstSum += z * z;
    y2 = y1;
    y1 = y;
    z2 = z1;
    z1 = z;
    const v = x - c2 * v2 - c1 * v1;
    const w = v - c2 * w2 - c1 * w1;
    secondSum += w * w;
    v2 = v1;
    v1 = v;
    w2 = w1;
    w1 = w;
  }
  state[0] = y1;
  state[1] = y2;
  state[2] = z1;
  state[3] = z2;
  state[4] = v1;
  state[5] = v2;
  state[6] = w1;
  state[7] = w2;
  state[8] = firstSum;
  state[9] = secondSum;
}
