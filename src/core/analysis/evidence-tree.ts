/** Trees that were learned by gradient boosting (learning/boosting.ts): each asks a few questions and gives a share of the log odds, or of
 * another number. */

/** A share, or a question: number of the row, at most, what then, what else. */
export type EvidenceTree =
  number | readonly [feature: number, atMost: number, then: EvidenceTree, otherwise: EvidenceTree];

/**
 * @param row begins with the log odds that the trees add to
 * @returns the log odds with what each tree adds
 */
export function logOddsByTrees(row: Float64Array, trees: readonly EvidenceTree[]): number {
  let sum = row[0]!;
  // Read by index: taking apart that many rows by iterators takes several times as long.
  for (let i = 0; i < trees.length; i++) sum += shareOf(trees[i]!, row);
  return sum;
}

/** The same as a likelihood, 0..1. */
export function likelihoodByTrees(row: Float64Array, trees: readonly EvidenceTree[]): number {
  return 1 / (1 + Math.exp(-logOddsByTrees(row, trees)));
}

/** What one tree adds. */
export function shareOf(tree: EvidenceTree, row: Float64Array): number {
  let at = tree;
  while (typeof at !== 'number') at = row[at[0]]! <= at[1] ? at[2] : at[3];
  return at;
}
