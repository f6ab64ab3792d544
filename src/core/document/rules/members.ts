/** Lists that name each record of a table once. */
import { isSameList } from '../../units/same-list.ts';

/** Do two lists hold the same, each once, in whatever order? */
export function sameMembers(a: readonly string[], b: readonly string[]): boolean {
  if (a === b) return true;
  if (a.length !== b.length) return false;
  if (isSameList(a, b)) return new Set(a).size === a.length;
  const members = new Set(a);
  return members.size === a.length && b.every((item) => members.has(item));
}
