/** What is measured around a moment to tell whether a hit begins there. */
import { BAND_COUNT, type BandEnergies } from './band-energies.ts';

/** Rises below this are the play of noise and beating, in dB. */
const RISE_FLOOR_DB = 2;
const RISE_CEILING_DB = 30;
/** Energy that counts as silence, relative to the loudest moment of the whole source in any band. */
const RELATIVE_FLOOR = 10 ** (-66 / 10);

/** Windows in hops (about 1 ms) over which energy after and before a moment is compared. */
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

/** Compares the energy just after with the energy just before, in every band at every hop. */
export function measureRises(energies: BandEnergies): RiseMaps {
  let loudest = 0;
  for (const band of energies.bands) for (const energy of band) if (energy > loudest) loudest = energy;
  const floor = loudest * RELATIVE_FLOOR + 1e-12;
  const sums = energies.bands.map((band) => runningSum(band));
  const short = sums.map((sum) => riseOf(sum, SHORT, floor));
  const long = sums.map((sum) => riseOf(sum, LONG, floor));
  const total = new Float32Array(energies.length);
  for (let band = 0; band < BAND_COUNT; band++) {
    // The narrow low bands follow slowly and beat: they count by their long windows.
    const rises = band < 3 ? long[band]! : short[band]!;
    const other = band < 3 ? short[band]! : long[band]!;
    for (let i = 0; i < total.length; i++) {
      const rise = 0.7 * rises[i]! + 0.3 * other[i]! - RISE_FLOOR_DB;
      if (rise > 0) total[i]! += rise;
    }
  }
  return { short, long, total, floor, sums };
}

function riseOf(sums: Float64Array, { after, before }: Scale, floor: number): Float32Array {
  const length = sums.length - 1;
  const out = new Float32Array(length);
  const toDb = 10 / Math.LN10;
  for (let i = 0; i < length; i++) {
    const end = i + after < length ? i + after : length;
    const start = i > before ? i - before : 0;
    const energyAfter = (sums[end]! - sums[i]!) / after + floor;
    const energyBefore = (sums[i]! - sums[start]!) / before + floor;
    if (energyAfter > energyBefore) {
      const rise = toDb * Math.log(energyAfter / energyBefore);
      out[i] = rise < RISE_CEILING_DB ? rise : RISE_CEILING_DB;
    }
  }
  return out;
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
