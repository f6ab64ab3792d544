/** What is measured around a moment to tell whether a hit begins there. */
import { kernels } from '../kernels/kernels.ts';
import { BAND_COUNT, type BandEnergies } from './band-energies.ts';

/** Rises below this are the play of noise and beating, in dB. */
const RISE_FLOOR_DB = 2;
/** Energy that counts as silence, relative to the loudest moment of the whole source in any band. */
const RELATIVE_FLOOR = 10 ** (-66 / 10);

/**
 * Windows in hops (about 1 ms) over which energy after and before a moment is compared; no longer than what the kernel
 * sees around a block.
 */
interface Scale {
  after: number;
  before: number;
}
const SHORT: Scale = { after: 5, before: 8 };
const LONG: Scale = { after: 16, before: 22 };

export interface RiseMaps {
  /** Rise in dB of each band at each hop over the short windows, never below 0. */
  short: Float32Array[];
  /** The same over the long windows. */
  long: Float32Array[];
  /** Sum of the rises over the bands: its local maxima are the candidates. */
  total: Float32Array;
  /** Floor energy that was added before taking logarithms. */
  floor: number;
  /** Running sums of the bands' energies: `sums[band][hop]` is the energy before the hop. */
  sums: Float64Array[];
}

/** Bands from the lowest that count by their long windows: narrow ones follow slowly and beat. */
const SLOW_BANDS = 3;
/** How much the windows that a band counts by weigh against the others. */
const MAIN_SHARE = 0.7;

/** What the kernel works on, in its memory: filled and read again block by block. */
const kernel = kernels();
const BLOCK = kernel.value('RISE_HOPS');
const BACK = kernel.value('RISE_BACK');
const input = kernel.floats('riseEnergies', BACK + BLOCK + kernel.value('RISE_AHEAD'));
const shortOut = kernel.floats('riseShort', BLOCK);
const longOut = kernel.floats('riseLong', BLOCK);
const totalOut = kernel.floats('riseTotal', BLOCK);

/** Compares the energy just after with the energy just before, in every band at every hop; beyond the ends lies nothing. */
export function measureRises(energies: BandEnergies): RiseMaps {
  const { bands, length } = energies;
  const floor = Math.max(0, ...bands.map(greatest)) * RELATIVE_FLOOR + 1e-12;
  const short = bands.map(() => new Float32Array(length));
  const long = bands.map(() => new Float32Array(length));
  const total = new Float32Array(length);
  for (let from = 0; from < length; from += BLOCK) {
    const hops = Math.min(BLOCK, length - from);
    totalOut.fill(0);
    bands.forEach((band, index) => {
      loadEnergies(band, from);
      const shortShare = index < SLOW_BANDS ? 1 - MAIN_SHARE : MAIN_SHARE;
      kernel.measureBandRises(
        hops,
        SHORT.after,
        SHORT.before,
        LONG.after,
        LONG.before,
        floor,
        shortShare,
        RISE_FLOOR_DB,
      );
      short[index]!.set(shortOut.subarray(0, hops), from);
      long[index]!.set(longOut.subarray(0, hops), from);
    });
    total.set(totalOut.subarray(0, hops), from);
  }
  return { short, long, total, floor, sums: bands.map(runningSum) };
}

/** Brings the energies from `from` on to the kernel, with what its windows see before and after. */
function loadEnergies(band: Float32Array, from: number): void {
  const first = Math.max(0, from - BACK);
  const last = Math.min(band.length, first + input.length - (first - (from - BACK)));
  const offset = first - (from - BACK);
  input.fill(0, 0, offset);
  input.set(band.subarray(first, last), offset);
  input.fill(0, offset + last - first);
}

function greatest(values: Float32Array): number {
  let most = 0;
  for (let i = 0; i < values.length; i++) if (values[i]! > most) most = values[i]!;
  return most;
}

/** Candidates nearer to each other than this are one, in hops. */
const CANDIDATE_REACH_HOPS = 9;
/** Local maxima of the total below this are never hits, in dB summed over the bands. */
const CANDIDATE_FLOOR_DB = 5;

/** Hops at which the total rise is the greatest within {@link CANDIDATE_REACH_HOPS}. */
export function findCandidates(total: Float32Array): number[] {
  const found: number[] = [];
  for (let i = 0; i < total.length; i++) {
    const value = total[i]!;
    if (value < CANDIDATE_FLOOR_DB) continue;
    const from = Math.max(0, i - CANDIDATE_REACH_HOPS);
    const to = Math.min(total.length - 1, i + CANDIDATE_REACH_HOPS);
    let isPeak = true;
    for (let j = from; j <= to && isPeak; j++) {
      if (total[j]! > value || (total[j]! === value && j < i)) isPeak = false;
    }
    if (isPeak) found.push(i);
  }
  return found;
}

/** A hit out of silence rises without end; what follows it is judged as after any hit. In dB summed over the bands. */
const RISE_BEFORE_CEILING_DB = 80;

/** Numbers that describe one candidate: see {@link candidateFeatures}. */
export const FEATURE_COUNT = 4 * BAND_COUNT + 7;

/**
 * Describes candidates, a row of {@link FEATURE_COUNT} numbers each: for every band the short rise, the long rise, the
 * level after (dB against the loudest band moment of the source) and how far the sound holds (15 to 45 ms after against
 * the 30 ms before); then the total rise, the greatest total within 30 and 70 ms before and after and within 400 ms,
 * and the mean total of the second around.
 */
export function candidateFeatures(
  energies: BandEnergies,
  rises: RiseMaps,
  candidates: readonly number[],
): Float64Array[] {
  const { total, floor, sums } = rises;
  const totalSums = runningSum(total);
  const last = energies.length;
  const mean = (sum: Float64Array, from: number, to: number) => {
    const a = Math.max(0, from);
    const b = Math.min(last, to);
    return b > a ? (sum[b]! - sum[a]!) / (b - a) : 0;
  };
  let loudest = 1e-12;
  for (const sum of sums) for (let i = 0; i + 10 <= last; i += 5) loudest = Math.max(loudest, mean(sum, i, i + 10));
  return candidates.map((hop) => {
    const row = new Float64Array(FEATURE_COUNT);
    for (let band = 0; band < BAND_COUNT; band++) {
      const sum = sums[band]!;
      row[band] = maxAround(rises.short[band]!, hop - 2, hop + 2);
      row[BAND_COUNT + band] = maxAround(rises.long[band]!, hop - 2, hop + 2);
      const level = 10 * Math.log10((mean(sum, hop, hop + 8) + loudest * 1e-7) / loudest);
      row[2 * BAND_COUNT + band] = Math.max(-60, level);
      const hold = 10 * Math.log10((mean(sum, hop + 12, hop + 45) + floor) / (mean(sum, hop - 35, hop - 2) + floor));
      row[3 * BAND_COUNT + band] = Math.max(-20, Math.min(30, hold));
    }
    const reach = CANDIDATE_REACH_HOPS + 1;
    const before = (hops: number) => Math.min(RISE_BEFORE_CEILING_DB, maxAround(total, hop - hops, hop - reach));
    const after = (hops: number) => maxAround(total, hop + reach, hop + hops);
    row.set(
      [total[hop]!, before(30), after(30), before(70), after(70), Math.max(before(400), after(400))],
      4 * BAND_COUNT,
    );
    row[FEATURE_COUNT - 1] = mean(totalSums, hop - 500, hop + 500);
    return row;
  });
}

function runningSum(values: Float32Array): Float64Array {
  const sums = new Float64Array(values.length + 1);
  for (let i = 0; i < values.length; i++) sums[i + 1] = sums[i]! + values[i]!;
  return sums;
}

function maxAround(values: Float32Array, from: number, to: number): number {
  let max = 0;
  for (let i = Math.max(0, from); i <= Math.min(values.length - 1, to); i++) if (values[i]! > max) max = values[i]!;
  return max;
}
