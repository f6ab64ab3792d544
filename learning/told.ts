/** What the scripts that learn trees of hits have in common: labelled cases, how many are told right, and what is written. */
import { writeFile } from 'node:fs/promises';
import { logOddsByTrees, type EvidenceTree } from '#core/analysis/evidence-tree.ts';
import type { Case } from './boosting.ts';

/** A case of a kind of sounds, or of a file, that can be left out. */
export type Labelled = Case & { group: string };

const DECIMALS = 3;

export function told(cases: readonly Labelled[], treesOf: (one: Labelled) => readonly EvidenceTree[]): string {
  let [phantoms, missed, found] = [0, 0, 0];
  for (const one of cases) {
    const { row, isRight } = one;
    const isTaken = logOddsByTrees(row, treesOf(one)) > 0;
    if (isTaken && isRight) found++;
    else if (isTaken) phantoms++;
    else if (isRight) missed++;
  }
  return `F ${(found / (found + (phantoms + missed) / 2)).toFixed(3)} (${phantoms} phantoms, ${missed} missed of ${found + missed})`;
}

/**
 * Writes trees as a module of `src/core/analysis`.
 * @param before what stands in it before them
 */
export function keep(
  script: string,
  file: string,
  name: string,
  list: readonly EvidenceTree[],
  before = '',
): Promise<void> {
  const short = (_: string, value: unknown) => (typeof value === 'number' ? Number(value.toFixed(DECIMALS)) : value);
  return writeFile(
    new URL(`../src/core/analysis/${file}`, import.meta.url),
    `/** Learned by learning/${script}. */\nimport type { EvidenceTree } from './evidence-tree.ts';\n\n${before}// prettier-ignore\nexport const ${name}: readonly EvidenceTree[] = ${JSON.stringify(list, short)};\n`,
  );
}
