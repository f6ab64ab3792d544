/**
 * What a slice is, given what the loop's other slices are: what sounds like it, where in the bar it stands and what else
 * stands there, how bright and how long it is among them, and its neighbours. Told to a second network beside the first
 * one's answers.
 */
import { BANDS, GROUP_AT } from './ear-layout.ts';

/** A slice as the first look has it. */
export interface FirstLook {
  /** See {@link EarFeatures}. */
  features: Float32Array;
  /** Logarithms of the likelihoods of the roles. */
  logits: Float64Array;
  seconds: number;
  /** In beats from a bar line; null where no tempo is known. */
  beats: number | null;
}

/** Windows whose levels and news tell likeness; those that tell brightness; those whose whole level tells length. */
const LIKE_WINDOWS = [0, 1, 2, 4, 6];
const BRIGHT_WINDOWS = [0, 1, 2, 4];
const LENGTH_WINDOWS = [4, 6, 8, 10];
/** So far apart two slices are half alike, about, in tens of decibels. */
const LIKE_SPREAD = 0.55;
/** So far from each other two places in the half bar are the same, in beats. */
const SAME_PLACE_BEATS = 0.06;
const NEAR_BEATS = 0.1;
const LONG_SECONDS = 0.4;
const MANY = 32;

const likeIndices = [GROUP_AT.levels, GROUP_AT.news].flatMap((group) =>
  LIKE_WINDOWS.flatMap((window) => Array.from({ length: BANDS }, (_, band) => group + window * BANDS + band)),
);

/** How alike each two are, 0..1: a row a slice. */
export function likenesses(slices: readonly FirstLook[]): Float64Array[] {
  const told = slices.map(({ features }) => {
    const out = new Float64Array(likeIndices.length);
    for (let i = 0; i < out.length; i++) out[i] = features[likeIndices[i]!]!;
    return out;
  });
  const spread = likeIndices.length * LIKE_SPREAD ** 2;
  const rows = slices.map(() => new Float64Array(slices.length).fill(1));
  for (let a = 0; a < told.length; a++) {
    for (let b = 0; b < a; b++) {
      const [one, other] = [told[a]!, told[b]!];
      let sum = 0;
      for (let i = 0; i < one.length; i++) sum += (one[i]! - other[i]!) * (one[i]! - other[i]!);
      rows[a]![b] = rows[b]![a] = Math.exp(-sum / spread);
    }
  }
  return rows;
}

/** Weighted mean of rows of numbers, all of one length. */
function weightedMean(weights: ArrayLike<number>, rows: readonly Float64Array[], total: number): Float64Array {
  const out = new Float64Array(rows[0]!.length);
  for (let i = 0; i < rows.length; i++) {
    if (weights[i] === 0) continue;
    const row = rows[i]!;
    const weight = weights[i]! / total;
    for (let n = 0; n < out.length; n++) out[n]! += weight * row[n]!;
  }
  return out;
}

/** The middle of its bands by their mean levels, -1..1. */
function brightness(features: Float32Array): number {
  let weighted = 0;
  let all = 0;
  for (let band = 0; band < BANDS; band++) {
    let tens = 0;
    for (const window of BRIGHT_WINDOWS) tens += features[GROUP_AT.levels + window * BANDS + band]!;
    const level = 10 ** (tens / BRIGHT_WINDOWS.length);
    weighted += level * ((2 * band) / (BANDS - 1) - 1);
    all += level;
  }
  return weighted / all;
}

const lengthOf = (features: Float32Array): number =>
  LENGTH_WINDOWS.reduce((sum, window) => sum + features[GROUP_AT.whole + window]!, 0) / LENGTH_WINDOWS.length;

/** Place of each among all, 0..1. */
function ranks(values: readonly number[]): number[] {
  const order = values.map((_, i) => i).sort((a, b) => values[a]! - values[b]! || a - b);
  const out = new Array<number>(values.length);
  for (const [place, i] of order.entries()) out[i] = place / Math.max(1, values.length - 1);
  return out;
}

/** Does a place lie on one of these beats of a bar of four? */
function isOn(beats: number, wanted: readonly number[]): boolean {
  const inBar = ((beats % 4) + 4) % 4;
  return wanted.some((beat) => Math.abs(inBar - beat) < NEAR_BEATS);
}

/** So far from alike slices count less, or nothing, for what one is: `likeness ** KINSHIP`. */
const KINSHIP = 4;

/**
 * The same hit struck again gets the same guess: each one's answers are the mean of those of the slices that are all but
 * the same as it, by how alike they are.
 * @param alike see {@link likenesses}
 * @param logits of each slice's roles
 */
export function agreed(alike: readonly Float64Array[], logits: readonly Float64Array[]): Float64Array[] {
  return alike.map((row) => {
    const weights = row.map((one) => one ** KINSHIP);
    const total = weights.reduce((sum, one) => sum + one, 0);
    const mean = weightedMean(weights, logits, total);
    const all = Math.log(mean.reduce((sum, one) => sum + Math.exp(one), 0));
    return mean.map((one) => one - all);
  });
}

/**
 * @param slices of one loop, in their order
 * @param alike see {@link likenesses}
 * @returns what the second network is told of each
 */
export function loopFeatures(
  slices: readonly FirstLook[],
  beatsPerBar: number,
  alike: readonly Float64Array[] = likenesses(slices),
): Float32Array[] {
  const count = slices.length;
  const roles = slices[0]!.logits.length;
  const odds = slices.map(({ logits }) => logits.map(Math.exp));
  const sums = alike.map((row) => row.reduce((sum, one) => sum + one, 0));
  const logits = slices.map((one) => one.logits);
  const ofLike = alike.map((row, i) => weightedMean(row, logits, sums[i]!));
  const evenly = new Array<number>(count).fill(1);
  const loopMean = weightedMean(evenly, odds, count).map((one) => Math.log(one + 1e-3));
  const loopMost = Array.from({ length: roles }, (_, role) =>
    Math.log(Math.max(...ofLike.map((row) => Math.exp(row[role]!))) + 1e-3),
  );
  const bright = slices.map(({ features }) => brightness(features));
  const brightRank = ranks(bright);
  const [backbeats, ones] = standing(slices, beatsPerBar) as [readonly boolean[], readonly boolean[]];
  const lengthRank = ranks(slices.map(({ features }) => lengthOf(features)));
  return slices.map(({ beats, seconds }, i) => {
    const row = alike[i]!;
    return Float32Array.from([
      ...logits[i]!,
      ...ofLike[i]!,
      ...loopMean,
      ...loopMost,
      ...samePlace(slices, i, odds, beatsPerBar),
      ...odds[(i + count - 1) % count]!,
      ...odds[(i + 1) % count]!,
      ...phases(beats, beatsPerBar),
      shareThere(backbeats, row, sums[i]!),
      shareThere(ones, row, sums[i]!),
      sums[i]! / count,
      row.filter((one) => one > 0.5).length / count,
      brightRank[i]!,
      lengthRank[i]!,
      bright[i]!,
      Math.min(1, count / MANY),
      Math.min(1, seconds / LONG_SECONDS),
    ]);
  });
}

/** What sounds at the same place of the other half bars. */
function samePlace(
  slices: readonly FirstLook[],
  own: number,
  odds: readonly Float64Array[],
  beatsPerBar: number,
): Float64Array {
  const weights = new Float64Array(slices.length);
  const { beats } = slices[own]!;
  let total = 0;
  for (let i = 0; i < slices.length; i++) {
    const other = slices[i]!.beats;
    if (i === own || beats === null || other === null) continue;
    const apart = (((beats - other + beatsPerBar / 2) % beatsPerBar) + beatsPerBar) % beatsPerBar;
    const distance = (apart - beatsPerBar / 2) / SAME_PLACE_BEATS;
    // Farther away it counts nothing.
    if (Math.abs(distance) < 7) total += weights[i] = Math.exp(-(distance * distance));
  }
  return weightedMean(weights, odds, Math.max(0.5, total));
}

/** Where it stands in the bar, in half of it, in the beat and in half of that. */
function phases(beats: number | null, beatsPerBar: number): number[] {
  if (beats === null) return new Array<number>(8).fill(0);
  return [beatsPerBar, beatsPerBar === 4 ? 2 : 1.5, 1, 0.5].flatMap((period) => {
    const phase = (2 * Math.PI * beats) / period;
    return [Math.cos(phase), Math.sin(phase)];
  });
}

/** Which slices stand on the second and fourth beat, and which on the first; none in other metres. */
function standing(slices: readonly FirstLook[], beatsPerBar: number): readonly (readonly boolean[])[] {
  if (beatsPerBar !== 4 || slices[0]!.beats === null) return [[], []];
  return [
    [1, 3],
    [0, 4],
  ].map((wanted) => slices.map(({ beats }) => isOn(beats!, wanted)));
}

/** How much of what sounds like a slice stands there. */
function shareThere(isThere: readonly boolean[], alike: Float64Array, total: number): number {
  let sum = 0;
  for (let i = 0; i < isThere.length; i++) if (isThere[i]) sum += alike[i]!;
  return sum / total;
}

/** Numbers that the second network is told. */
export const loopFeatureCount = (roles: number): number => 7 * roles + 17;
