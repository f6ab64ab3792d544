/**
 * What differs between two documents. Documents share everything that did not change, so comparing references finds the
 * changes without walking the whole. Laws (checked as properties in tests/property): `applyDiff(a, diff(a, b))` equals
 * b; `applyDiff(b, invert(diff(a, b)))` equals a.
 */

/** One changed place. An absent `before` means added, an absent `after` removed. */
export interface Change {
  path: string[];
  before?: unknown;
  after?: unknown;
}
export type Diff = Change[];

type Table = Record<string, unknown>;

/** Changes from `before` to `after`; nested records are entered, arrays and plain values are replaced whole. */
export function diff(before: unknown, after: unknown): Diff {
  const changes: Diff = [];
  collect(before, after, [], changes);
  return changes;
}

/** The diff that leads back. */
export function invert(changes: Diff): Diff {
  return changes.map(({ path, before, after }) => {
    const change: Change = { path };
    if (after !== undefined) change.before = after;
    if (before !== undefined) change.after = before;
    return change;
  });
}

/**
 * Applies changes to a document and gives a new one that shares all else.
 * @throws RangeError when a path leads through something that is no record
 */
export function applyDiff<T>(document: T, changes: Diff): T {
  return changes.reduce((current, change) => put(current, change.path, 0, change.after) as T, document);
}

function collect(before: unknown, after: unknown, path: string[], out: Diff): void {
  if (before === after) return;
  if (isTable(before) && isTable(after)) {
    for (const key of new Set([...Object.keys(before), ...Object.keys(after)])) {
      collect(before[key], after[key], [...path, key], out);
    }
    return;
  }
  if (sameJson(before, after)) return;
  const change: Change = { path };
  if (before !== undefined) change.before = before;
  if (after !== undefined) change.after = after;
  out.push(change);
}

function put(target: unknown, path: readonly string[], depth: number, value: unknown): unknown {
  if (depth === path.length) return value;
  if (!isTable(target)) throw new RangeError(`the path ${path.join('.')} leads through something that is no record`);
  const key = path[depth]!;
  if (key === '__proto__') throw new RangeError('a path may not hold __proto__');
  const copy: Table = { ...target };
  const next = put(Object.hasOwn(target, key) ? target[key] : undefined, path, depth + 1, value);
  if (next === undefined) delete copy[key];
  else copy[key] = next;
  return copy;
}

function isTable(value: unknown): value is Table {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

function sameJson(a: unknown, b: unknown): boolean {
  return Array.isArray(a) && Array.isArray(b) && JSON.stringify(a) === JSON.stringify(b);
}
