/**
 * Gradient boosting (J. Friedman, "Greedy function approximation: a gradient boosting machine", Annals of Statistics 29, 2001):
 * of log odds, by Newton steps, and of a quantile.
 */

import { shareOf, type EvidenceTree } from '#core/analysis/evidence-tree.ts';

export interface Case {
  /** The first number are the log odds that the trees add to. */
  row: Float64Array;
  isRight: boolean;
  weight: number;
}

/** How many trees, and how many questions each asks. */
export interface Forest {
  trees: number;
  depth: number;
}
const SMALL: Forest = { trees: 70, depth: 3 };

const RATE = 0.1;
const LEAST_CASES = 40;
/** Keeps the leaves of few cases small. */
const RIDGE = 8;
const THRESHOLDS = 40;

interface Slopes {
  /** First and second derivative of the loss at each case. */
  first: Float64Array;
  second: Float64Array;
}

/** What a tree is grown by. */
interface Growth extends Slopes {
  thresholds: readonly number[][];
  /** Which of the thresholds of a feature each case lies below. */
  bins: readonly Uint8Array[];
  leafOf: (those: Int32Array) => number;
}

/** Of what is true or not: what each tree adds to the log odds. */
export function boost(cases: readonly Case[], { trees: most, depth }: Forest = SMALL): EvidenceTree[] {
  const odds = Float64Array.from(cases, ({ row }) => row[0]!);
  const [first, second] = [new Float64Array(cases.length), new Float64Array(cases.length)];
  const leafOf = (those: Int32Array) => (RATE * sumOf(first, those)) / (sumOf(second, those) + RIDGE);
  const growth = { ...binned(cases), first, second, leafOf };
  const everyone = Int32Array.from(cases, (_, n) => n);
  return Array.from({ length: most }, () => {
    cases.forEach(({ isRight, weight }, n) => {
      const p = 1 / (1 + Math.exp(-odds[n]!));
      first[n] = weight * (Number(isRight) - p);
      second[n] = weight * p * (1 - p);
    });
    const tree = grow(everyone, depth, growth);
    cases.forEach(({ row }, n) => (odds[n]! += shareOf(tree, row)));
    return tree;
  });
}

export interface Measure {
  row: Float64Array;
  value: number;
  weight: number;
}

/**
 * Of a number: what each tree adds to a base, so that a share of the numbers lies below what is told (R. Koenker and
 * G. Bassett, "Regression quantiles", Econometrica 46, 1978).
 * @param share 0..1
 */
export function boostQuantile(
  cases: readonly Measure[],
  share: number,
  { trees: most, depth }: Forest,
): { base: number; trees: EvidenceTree[] } {
  const weights = Float64Array.from(cases, ({ weight }) => weight);
  const left = Float64Array.from(cases, ({ value }) => value);
  const everyone = Int32Array.from(cases, (_, n) => n);
  const base = quantileOf(left, weights, everyone, share);
  for (const n of everyone) left[n]! -= base;
  const first = new Float64Array(cases.length);
  const leafOf = (those: Int32Array) => RATE * quantileOf(left, weights, those, share);
  const growth = { ...binned(cases), first, second: weights, leafOf };
  const trees = Array.from({ length: most }, () => {
    for (const n of everyone) first[n] = weights[n]! * (left[n]! < 0 ? share - 1 : share);
    const tree = grow(everyone, depth, growth);
    cases.forEach(({ row }, n) => (left[n]! -= shareOf(tree, row)));
    return tree;
  });
  return { base, trees };
}

function binned(cases: readonly Pick<Case, 'row'>[]): Pick<Growth, 'thresholds' | 'bins'> {
  const thresholds = Array.from({ length: cases[0]!.row.length }, (_, feature) => quantiles(cases, feature));
  const bins = thresholds.map((list, feature) =>
    Uint8Array.from(cases, ({ row }) => {
      let bin = 0;
      while (bin < list.length && row[feature]! > list[bin]!) bin++;
      return bin;
    }),
  );
  return { thresholds, bins };
}

function grow(those: Int32Array, depth: number, growth: Growth): EvidenceTree {
  const { first, second, thresholds, bins, leafOf } = growth;
  const [slope, bend] = [sumOf(first, those), sumOf(second, those)];
  if (depth === 0 || those.length < 2 * LEAST_CASES) return leafOf(those);
  let best = { gain: 1e-6, feature: -1, bin: 0 };
  for (const [feature, list] of thresholds.entries()) {
    const [slopesOf, bendsOf, counts] = [
      new Float64Array(list.length + 1),
      new Float64Array(list.length + 1),
      new Int32Array(list.length + 1),
    ];
    const binOf = bins[feature]!;
    for (const n of those) {
      const bin = binOf[n]!;
      slopesOf[bin]! += first[n]!;
      bendsOf[bin]! += second[n]!;
      counts[bin]!++;
    }
    let [a, b, count] = [0, 0, 0];
    for (let bin = 0; bin < list.length; bin++) {
      a += slopesOf[bin]!;
      b += bendsOf[bin]!;
      count += counts[bin]!;
      if (count < LEAST_CASES || those.length - count < LEAST_CASES) continue;
      const gain = a ** 2 / (b + RIDGE) + (slope - a) ** 2 / (bend - b + RIDGE) - slope ** 2 / (bend + RIDGE);
      if (gain > best.gain) best = { gain, feature, bin };
    }
  }
  if (best.feature < 0) return leafOf(those);
  const binOf = bins[best.feature]!;
  const branch = (isThen: boolean) =>
    grow(
      those.filter((n) => binOf[n]! <= best.bin === isThen),
      depth - 1,
      growth,
    );
  return [best.feature, thresholds[best.feature]![best.bin]!, branch(true), branch(false)];
}

function sumOf(values: Float64Array, those: Int32Array): number {
  let sum = 0;
  for (const n of those) sum += values[n]!;
  return sum;
}

/** The value below which a share of some lies, by weight. */
function quantileOf(values: Float64Array, weights: Float64Array, those: Int32Array, share: number): number {
  const sorted = [...those].sort((a, b) => values[a]! - values[b]!);
  const until = share * sumOf(weights, those);
  let sum = 0;
  const found = sorted.find((n) => (sum += weights[n]!) >= until) ?? sorted.at(-1)!;
  return values[found]!;
}

function quantiles(cases: readonly Pick<Case, 'row'>[], feature: number): number[] {
  const sorted = cases.map(({ row }) => row[feature]!).sort((a, b) => a - b);
  const at = Array.from(
    { length: THRESHOLDS },
    (_, k) => sorted[Math.floor(((k + 0.5) / THRESHOLDS) * sorted.length)]!,
  );
  return [...new Set(at.map((one) => Number(one.toFixed(3))))];
}
