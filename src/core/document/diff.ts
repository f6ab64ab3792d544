/**
 * What differs between two documents. Documents share everything that did not change, so comparing references finds the
 * changes without walking the whole. Laws (checked as properties in tests/property): `applyDiff(a, diff(a, b))` equals
 * b; `applyDiff(b, invert(diff(a, b)))` equals a.
 */

import { changedKeys, ownRecord } from './changed-keys.ts';

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
 * Applies changes, one after another, and gives a new document that shares all else. Each record on the way is copied
 * once, however many changes it has.
 * @throws RangeError when a path leads through something that is no record, or holds `__proto__`
 */
export function applyDiff<T>(document: T, changes: Diff): T {
  return apply(document, changes, false);
}

/** {@link applyDiff} that also holds each `before` against what is there. @throws RangeError where they differ */
export function applyCheckedDiff<T>(document: T, changes: Diff): T {
  return apply(document, changes, true);
}

function apply<T>(document: T, changes: Diff, isChecked: boolean): T {
  let root: unknown = document;
  const copies = new Set<unknown>();
  const copied = (table: Table): Table => {
    if (copies.has(table)) return table;
    const copy = { ...table };
    copies.add(copy);
    return copy;
  };
  for (const { path, before, after } of changes) {
    const last = path.at(-1);
    if (last === undefined) {
      if (isChecked && !isSameJson(root, before)) throw differs(path);
      root = after;
      continue;
    }
    if (path.includes('__proto__')) throw new RangeError('a path may not hold __proto__');
    if (!isTable(root)) throw noRecord(path);
    let table: Table = copied(root);
    root = table;
    for (const key of path.slice(0, -1)) {
      const next = Object.hasOwn(table, key) ? table[key] : undefined;
      if (!isTable(next)) throw noRecord(path);
      table = table[key] = copied(next);
    }
    if (isChecked && !isSameJson(Object.hasOwn(table, last) ? table[last] : undefined, before)) throw differs(path);
    if (after === undefined) delete table[last];
    else table[last] = after;
  }
  return root as T;
}

function noRecord(path: readonly string[]): RangeError {
  return new RangeError(`the path ${path.join('.')} leads through something that is no record`);
}

function differs(path: readonly string[]): RangeError {
  return new RangeError(`what is changed at ${path.join('.')} is not what is there`);
}

function collect(before: unknown, after: unknown, path: string[], out: Diff): void {
  if (before === after) return;
  if (isTable(before) && isTable(after)) {
    for (const key of changedKeys(before, after)) {
      collect(ownRecord(before, key), ownRecord(after, key), [...path, key], out);
    }
    return;
  }
  if (Array.isArray(before) && Array.isArray(after) && isSameJson(before, after)) return;
  const change: Change = { path };
  if (before !== undefined) change.before = before;
  if (after !== undefined) change.after = after;
  out.push(change);
}

function isTable(value: unknown): value is Table {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/** The same as JSON: key order and shared references make no difference. */
export function isSameJson(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  const keys = Object.keys(a);
  if (keys.length !== Object.keys(b).length) return false;
  return keys.every((key) => Object.hasOwn(b, key) && isSameJson((a as Table)[key], (b as Table)[key]));
}
