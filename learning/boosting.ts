/** Gradient boosting of the log odds (J. Friedman, "Greedy function approximation: a gradient boosting machine", Annals of Statistics 29, 2001; Newton steps). */

import { shareOf, type EvidenceTree } from '#core/analysis/evidence-tree.ts';

export interface Case {
  /** The first number are the log odds that the trees add to. */
  row: Float64Array;
  isRight: boolean;
  weight: number;
}

const TREES = 70;
const DEPTH = 3;
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

export function boost(cases: readonly Case[]): EvidenceTree[] {
  const features = cases[0]!.row.length;
  const thresholds = Array.from({ length: features }, (_, feature) => quantiles(cases, feature));
  const bins = thresholds.map((list, feature) =>
    Uint8Array.from(cases, ({ row }) => {
      let bin = 0;
      while (bin < list.length && row[feature]! > list[bin]!) bin++;
      return bin;
    }),
  );
  const odds = Float64Array.from(cases, ({ row }) => row[0]!);
  const trees: EvidenceTree[] = [];
  const [first, second] = [new Float64Array(cases.length), new Float64Array(cases.length)];
  const everyone = Int32Array.from(cases, (_, n) => n);
  while (trees.length < TREES) {
    cases.forEach(({ isRight, weight }, n) => {
      const p = 1 / (1 + Math.exp(-odds[n]!));
      first[n] = weight * (Number(isRight) - p);
      second[n] = weight * p * (1 - p);
    });
    const tree = grow(everyone, DEPTH, { first, second }, thresholds, bins);
    trees.push(tree);
    cases.forEach(({ row }, n) => (odds[n]! += shareOf(tree, row)));
  }
  return trees;
}

function grow(
  those: Int32Array,
  depth: number,
  slopes: Slopes,
  thresholds: readonly number[][],
  bins: readonly Uint8Array[],
): EvidenceTree {
  const { first, second } = slopes;
  let [slope, bend] = [0, 0];
  for (const n of those) [slope, bend] = [slope + first[n]!, bend + second[n]!];
  const leaf = (RATE * slope) / (bend + RIDGE);
  if (depth === 0 || those.length < 2 * LEAST_CASES) return leaf;
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
  if (best.feature < 0) return leaf;
  const binOf = bins[best.feature]!;
  const branch = (isThen: boolean) =>
    grow(
      those.filter((n) => binOf[n]! <= best.bin === isThen),
      depth - 1,
      slopes,
      thresholds,
      bins,
    );
  return [best.feature, thresholds[best.feature]![best.bin]!, branch(true), branch(false)];
}

function quantiles(cases: readonly Case[], feature: number): number[] {
  const sorted = cases.map(({ row }) => row[feature]!).sort((a, b) => a - b);
  const at = Array.from(
    { length: THRESHOLDS },
    (_, k) => sorted[Math.floor(((k + 0.5) / THRESHOLDS) * sorted.length)]!,
  );
  return [...new Set(at.map((one) => Number(one.toFixed(3))))];
}
