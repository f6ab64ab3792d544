/** What of the hit before still rings in a slice: how loud it is in each band at each moment. */
import { powersOf, type Spectrograph } from './spectra.ts';

/** Rows of the hit before, at its end, of which its ring is read; its attack is none of them. */
const READ_ROWS = 24;
const LEAST_ROWS = 4;
/** A ring falls at least as fast, in dB a second: what holds for ever is no ring. */
const SLOWEST_FALL_DB = 8;
/** Its fall is read from what is within so many dB of its loudest. */
const DB_OF_LOG = 10 / Math.LN10;

export interface RingSources {
  /** Channels of the hit before, from its start to where the slice begins. */
  before: readonly Float32Array[];
  /** The same hit where it rings on alone, from its start; null where it never does. */
  alone: readonly Float32Array[] | null;
}

export interface RingWish extends RingSources {
  /** How much of it is taken out, 0..100. */
  percent: number;
  /** From when on, and until when, in seconds from the slice's start. */
  fromSeconds: number;
  untilSeconds: number;
  /** What lies below 150 Hz stays in. */
  leavesLow: boolean;
}

/**
 * Powers of the ring by row and bin, from the slice's start on. Where the hit rings alone elsewhere, its ring there, as
 * loud as it is here; otherwise what it ends with, falling in each band as it falls before that.
 */
export function ringPowers(
  { before, alone }: RingSources,
  spectrograph: Spectrograph,
  rows: number,
  bandOfBin: Uint8Array,
): Float32Array {
  const { hop, size } = spectrograph;
  const { bins } = spectrograph;
  const frames = before[0]?.length ?? 0;
  const out = new Float32Array(rows * bins);
  if (frames < size) return out;
  const known = sumOfPowers(before, spectrograph, 0, frames);
  // Windows that lie in the hit before with all they have, the last ones.
  const zero = -spectrograph.frameOf(0) / hop;
  const last = zero + Math.floor((frames - size / 2) / hop);
  const first = Math.max(zero + Math.ceil(size / 2 / hop), last - READ_ROWS);
  if (last - first < LEAST_ROWS) return out;
  const bands = 1 + bandOfBin[bins - 1]!;
  const byBand = (powers: Float32Array, row: number) => {
    const sums = new Float64Array(bands);
    for (let bin = 0; bin < bins; bin++) sums[bandOfBin[bin]!] = sums[bandOfBin[bin]!]! + powers[row * bins + bin]!;
    return sums;
  };
  if (alone && (alone[0]?.length ?? 0) > frames + size) {
    const heard = sumOfPowers(alone, spectrograph, 0, frames + rows * hop);
    const gains = gainsBetween(byBand, known, heard, first, last, bands);
    const offset = Math.round(frames / hop);
    for (let row = 0; row < rows; row++) {
      const at = Math.min(offset + row, heard.length / bins - 1);
      for (let bin = 0; bin < bins; bin++) out[row * bins + bin] = heard[at * bins + bin]! * gains[bandOfBin[bin]!]!;
    }
    return out;
  }
  const falls = fallsOf(byBand, known, first, last, bands, hop / spectrograph.sampleRate);
  const end = Math.max(first, last - 2);
  const ended = new Float64Array(bins);
  for (let row = end; row <= last; row++)
    for (let bin = 0; bin < bins; bin++) ended[bin] = ended[bin]! + known[row * bins + bin]! / (last - end + 1);
  for (let row = 0; row < rows; row++) {
    const read = (spectrograph.frameOf(end) + spectrograph.frameOf(last)) / 2;
    const seconds = (frames + spectrograph.frameOf(row) - read) / spectrograph.sampleRate;
    for (let bin = 0; bin < bins; bin++)
      out[row * bins + bin] = ended[bin]! * 10 ** ((-falls[bandOfBin[bin]!]! * seconds) / 10);
  }
  return out;
}

/** Powers of all channels together. */
export function sumOfPowers(
  channels: readonly Float32Array[],
  spectrograph: Spectrograph,
  start: number,
  frames: number,
): Float32Array {
  const [first, ...others] = channels.map((channel) => powersOf(spectrograph.analyse(channel, start, frames)));
  for (const other of others) for (let i = 0; i < other.length; i++) first![i] = first![i]! + other[i]!;
  return first!;
}

type ByBand = (powers: Float32Array, row: number) => Float64Array;

function gainsBetween(
  byBand: ByBand,
  here: Float32Array,
  there: Float32Array,
  first: number,
  last: number,
  bands: number,
): Float64Array {
  const [sumHere, sumThere] = [new Float64Array(bands), new Float64Array(bands)];
  for (let row = first; row <= last; row++) {
    const [a, b] = [byBand(here, row), byBand(there, row)];
    for (let band = 0; band < bands; band++) {
      sumHere[band] = sumHere[band]! + a[band]!;
      sumThere[band] = sumThere[band]! + b[band]!;
    }
  }
  return sumHere.map((power, band) => power / (sumThere[band]! + 1e-20));
}

/** How fast each band falls, in dB a second: a line through its levels. */
function fallsOf(
  byBand: ByBand,
  powers: Float32Array,
  first: number,
  last: number,
  bands: number,
  rowSeconds: number,
): Float64Array {
  const count = last - first + 1;
  const middle = (count - 1) / 2;
  const slopes = new Float64Array(bands);
  let spread = 0;
  for (let at = 0; at < count; at++) {
    const levels = byBand(powers, first + at);
    spread += (at - middle) ** 2;
    for (let band = 0; band < bands; band++)
      slopes[band] = slopes[band]! + (at - middle) * Math.log(levels[band]! + 1e-20) * DB_OF_LOG;
  }
  return slopes.map((slope) => Math.max(SLOWEST_FALL_DB, -slope / spread / rowSeconds));
}
