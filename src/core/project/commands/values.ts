/** One command for every setting of the table: absolute or relative, of one owner or of many. */
import { broughtBy, fitValue, valueProblem, withValues, type Row, type Rows } from '../../params/row.ts';
import { DOUBLE_ROWS } from '../../params/double-rows.ts';
import { EVENT_ROWS, SONG_ROWS } from '../../params/tables.ts';
import { eventsOf } from '../../queries/patterns.ts';
import { findDouble, OWNER_TABLES, rowsOfRecord, type OwnerKind } from '../../document/owners.ts';
import { isHome } from '../../document/home-id.ts';
import type { PatternEvent, ProjectDocument } from '../../document/schema.ts';
import { done, find, refused, type Command } from './command.ts';

/** Who has settings. */
export type Owner =
  { kind: 'song' } | { kind: OwnerKind | 'double'; id: string } | { kind: 'event'; patternId: string; id: string };

export type Value = number | string | boolean;
type Valued = { values: Record<string, Value | undefined> };

export interface SetValueArgs {
  owners: readonly Owner[];
  /** Id of the row in the owners' table. */
  param: string;
  /** An absolute value, or for numbers how far each is moved from where it is; it stops at the ends of its range. */
  change: { to: Value } | { by: number };
}

/** The settings that an owner has; null when it is gone. */
export function rowsOf(document: ProjectDocument, owner: Owner): Rows | null {
  if (owner.kind === 'song') return SONG_ROWS;
  if (owner.kind === 'event') return eventOf(document, owner) ? EVENT_ROWS : null;
  if (owner.kind === 'double') return findDouble(document, owner.id) ? DOUBLE_ROWS : null;
  return rowsOfRecord(document, owner.kind, owner.id);
}

/** The row of a setting; null for an owner that is gone or has no such setting. */
export function rowOf(document: ProjectDocument, owner: Owner, param: string): Row | null {
  const rows = rowsOf(document, owner);
  return rows && Object.hasOwn(rows, param) ? rows[param]! : null;
}

/** The record that holds an owner's values; null when it is gone. */
function holderOf(document: ProjectDocument, owner: Owner): Valued | null {
  if (owner.kind === 'song') return document.song;
  if (owner.kind === 'event') return eventOf(document, owner);
  if (owner.kind === 'double') return findDouble(document, owner.id)?.double ?? null;
  return find(document[OWNER_TABLES[owner.kind]] as Record<string, Valued>, owner.id) ?? null;
}

/** Also of a home pattern, which is computed. */
function eventOf(document: ProjectDocument, { patternId, id }: Owner & { kind: 'event' }): PatternEvent | null {
  if (isHome(patternId)) return eventsOf(document, patternId).find((event) => event.id === id) ?? null;
  return find(find(document.patterns, patternId)?.events ?? {}, id) ?? null;
}

/** The value that a setting has now; null when its owner is gone. */
export function valueOf(document: ProjectDocument, owner: Owner, param: string): Value | null {
  const row = rowOf(document, owner, param);
  return row ? (holderOf(document, owner)!.values[param] ?? row.default) : null;
}

/** Have owners of one kind different values of a setting? The settings of the first are theirs. */
export function isMixedValue(document: ProjectDocument, owners: readonly Owner[], param: string): boolean {
  const first = owners[0] && rowOf(document, owners[0], param);
  if (!first) return false;
  const read = (owner: Owner) => holderOf(document, owner)?.values[param] ?? first.default;
  const value = read(owners[0]!);
  return owners.some((owner) => read(owner) !== value);
}

/** Sets one setting of all owners in one step; those that are gone are passed over. */
export const setValue: Command<SetValueArgs> = (document, { owners, param, change }) => {
  const writer = new Writer(document);
  let count = 0;
  for (const owner of owners) {
    if (owner.kind === 'event' && isHome(owner.patternId)) {
      return refused('the home pattern stays as it is: copy it to change it');
    }
    const rows = rowsOf(document, owner);
    if (!rows) continue;
    const row = Object.hasOwn(rows, param) ? rows[param]! : null;
    if (!row) return refused(`there is no setting "${param}" here`);
    if ('to' in change) {
      const problem = valueProblem(row, change.to);
      if (problem) return refused(problem);
    } else if (row.kind !== 'number' || !Number.isFinite(change.by))
      return refused(`${row.label} cannot be moved by that`);
    const { values } = holderOf(document, owner)!;
    const old = values[param] ?? row.default;
    const value = 'to' in change ? change.to : fitValue(row as Row & { kind: 'number' }, (old as number) + change.by);
    count++;
    if (value === old) continue;
    const brought = broughtBy(rows, row, value, values);
    writer.put(owner, withValues(rows, values, { ...brought, [param]: value } as object) as Valued['values']);
  }
  return count === 0 ? refused('there is nothing to change here') : done(writer.document);
};

/** Copies each table and pattern once, however many of its records change. */
class Writer {
  document: ProjectDocument;
  private readonly copies = new Set<object>();

  constructor(document: ProjectDocument) {
    this.document = document;
  }

  put(owner: Owner, values: Valued['values']): void {
    if (owner.kind === 'song') {
      this.document = { ...this.document, song: { ...this.document.song, values } };
    } else if (owner.kind === 'event') {
      const patterns = this.table('patterns');
      const pattern = (patterns[owner.patternId] = this.copy(patterns[owner.patternId]!));
      pattern.events = this.copy(pattern.events);
      pattern.events[owner.id] = { ...pattern.events[owner.id]!, values };
    } else if (owner.kind === 'double') {
      const { part } = findDouble(this.document, owner.id)!;
      const doubles = part.doubles!.map((one) => (one.id === owner.id ? { ...one, values } : one));
      this.table('parts')[part.id] = { ...part, doubles };
    } else {
      const table = this.table(OWNER_TABLES[owner.kind]) as Record<string, Valued>;
      table[owner.id] = { ...table[owner.id]!, values };
    }
  }

  private table<Name extends keyof ProjectDocument>(name: Name): ProjectDocument[Name] {
    const table = this.copy(this.document[name] as object) as ProjectDocument[Name];
    if (table !== this.document[name]) this.document = { ...this.document, [name]: table };
    return table;
  }

  private copy<T extends object>(record: T): T {
    if (this.copies.has(record)) return record;
    const copy = { ...record };
    this.copies.add(copy);
    return copy;
  }
}
