/** Which records of a table are others than before. */

type Table = Readonly<Record<string, unknown>>;

const lastOf = new WeakMap<object, { before: object; keys: readonly string[] }>();

/**
 * Keys whose values are not the same in both tables: changed and removed ones in the order of `before`, then added ones.
 * The checks of a change, its undo step and its save ask for the same two tables, so the last answer is remembered.
 */
export function changedKeys(before: Table, after: Table): readonly string[] {
  const known = lastOf.get(after);
  if (known?.before === before) return known.keys;
  const keys: string[] = [];
  let kept = 0;
  for (const key of Object.keys(before)) {
    if (after[key] === before[key]) kept++;
    else {
      keys.push(key);
      if (Object.hasOwn(after, key)) kept++;
    }
  }
  const present = Object.keys(after);
  if (present.length > kept) for (const key of present) if (!Object.hasOwn(before, key)) keys.push(key);
  lastOf.set(after, { before, keys });
  return keys;
}

/** The record of a table's own; undefined for one that is not there, whatever its name. */
export function ownRecord<T>(table: Readonly<Record<string, T>>, key: string): T | undefined {
  return Object.hasOwn(table, key) ? table[key] : undefined;
}
