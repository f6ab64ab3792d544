/** A third hand from two: of each step, what the one or the other plays. */
import type { PatternEvent } from '../../document/schema.ts';
import { mix32 } from '../../units/hash.ts';
import { seededRandom } from '../../units/random.ts';

/** Place of these draws in the seed: never to be changed, or a seed breeds otherwise. */
const BREED = 10;

/**
 * @param steps ids of the steps in either hand, in one order on every machine
 * @param otherPercent how much of the other hand, 0..100
 * @returns the events of the third hand; a step that the chosen hand lacks is lacking
 */
export function breedEvents(
  steps: readonly string[],
  one: Readonly<Record<string, PatternEvent>>,
  other: Readonly<Record<string, PatternEvent>>,
  seed: number,
  otherPercent: number,
): Record<string, PatternEvent> {
  const random = seededRandom(mix32(seed, BREED));
  const out: Record<string, PatternEvent> = {};
  for (const id of steps) {
    const from = random() * 100 < otherPercent ? other : one;
    if (Object.hasOwn(from, id)) out[id] = from[id]!;
  }
  return out;
}
