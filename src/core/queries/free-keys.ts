/** Keys of a part on which nothing lies. */
import type { KeyRange, Part, ProjectDocument } from '../document/schema.ts';
import { zonesOfPart, type PlacedZone } from './zones.ts';

const LAST_KEY = 127;

/** A sound on one key. */
export const oneKey = (key: number): KeyRange => ({ low: key, high: key, root: key });

/** Keys of a part on which nothing lies, from one on. */
export function freeKeys(document: ProjectDocument, part: Part | undefined, from: number, count: number): number[] {
  const taken = new Set<number>();
  for (const { keys } of part ? zonesOfPart(document, part) : []) {
    if (keys) for (let key = keys.low; key <= keys.high; key++) taken.add(key);
  }
  const free: number[] = [];
  for (let key = from; key <= LAST_KEY && free.length < count; key++) if (!taken.has(key)) free.push(key);
  return free;
}

/** Is a key taken, key by key? @param but this sound may give its own keys up */
function takenKeys(placed: readonly PlacedZone[], but: string): boolean[] {
  const taken = Array.from({ length: LAST_KEY + 1 }, () => false);
  for (const { zone, keys } of placed) {
    if (keys && zone.id !== but) taken.fill(true, keys.low, keys.high + 1);
  }
  return taken;
}

/**
 * Keys around a root on which nothing else lies, as far as `reach` to either side; where the root itself is taken, around
 * the same note some octaves away in the widest free stretch, as near its middle as there is one; else around the middle.
 * Null where every key is taken.
 */
export function freeRange(placed: readonly PlacedZone[], zoneId: string, root: number, reach: number): KeyRange | null {
  const taken = takenKeys(placed, zoneId);
  const around = (from: number): KeyRange => {
    let low = from;
    let high = from;
    while (low > Math.max(0, from - reach) && !taken[low - 1]) low--;
    while (high < Math.min(LAST_KEY, from + reach) && !taken[high + 1]) high++;
    return { low, high, root: from };
  };
  if (!taken[root]) return around(root);
  let widest: { low: number; high: number } | null = null;
  for (let low = 0; low <= LAST_KEY; low++) {
    if (taken[low]) continue;
    let high = low;
    while (high < LAST_KEY && !taken[high + 1]) high++;
    if (!widest || high - low > widest.high - widest.low) widest = { low, high };
    low = high;
  }
  if (!widest) return null;
  const middle = Math.round((widest.low + widest.high) / 2);
  const octavesAway = root + 12 * Math.round((middle - root) / 12);
  return around(octavesAway >= widest.low && octavesAway <= widest.high ? octavesAway : middle);
}

/** Keys that letters play from the first of them on: two rows, one above the other. */
export const LETTER_KEYS = 29;
const OCTAVE = 12;

/**
 * The key that the first letter plays: where the part's own keys begin; octaves away where the letters would miss more
 * than half of what they could play there, the nearer one of two that play as many.
 * @param startKey of the part
 */
export function firstLetterKey(placed: readonly PlacedZone[], startKey: number): number {
  const filled = takenKeys(placed, '');
  const playedFrom = (from: number) =>
    filled.slice(Math.max(0, from), Math.max(0, from + LETTER_KEYS)).filter(Boolean).length;
  let best = startKey;
  for (let away = OCTAVE; away <= LAST_KEY; away += OCTAVE) {
    for (const from of [startKey - away, startKey + away]) {
      if (from > -OCTAVE && from <= LAST_KEY && playedFrom(from) > playedFrom(best)) best = from;
    }
  }
  return 2 * playedFrom(startKey) >= playedFrom(best) ? startKey : best;
}
