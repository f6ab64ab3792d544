/**
 * What every command is made of. A command is a pure function from a document and arguments to a new document, or to
 * the reason why not: an expected refusal is a value, not an error, so asking "is it possible?" costs nothing.
 */
import type { Cut, Part, Pattern, ProjectDocument } from '../../document/schema.ts';

/** Where commands get what is not determined by their arguments. */
export interface CommandEnv {
  newId(): string;
  /** A whole number from 1 to 2^31 - 1. */
  newSeed(): number;
}

export type CommandResult = { ok: true; document: ProjectDocument } | { ok: false; reason: string };

export type Command<Args> = (document: ProjectDocument, args: Args, env: CommandEnv) => CommandResult;

export function done(document: ProjectDocument): CommandResult {
  return { ok: true, document };
}

export function refused(reason: string): CommandResult {
  return { ok: false, reason };
}

/** A record of a table's own, or undefined: no name that every object has is ever found. */
export function find<T>(table: Readonly<Record<string, T>>, id: string | undefined): T | undefined {
  return id !== undefined && Object.hasOwn(table, id) ? table[id] : undefined;
}

/** The document with one part changed. */
export function withPart(document: ProjectDocument, partId: string, change: (part: Part) => Part): CommandResult {
  const part = find(document.parts, partId);
  if (!part) return refused('this part is gone');
  return done({ ...document, parts: { ...document.parts, [partId]: change(part) } });
}

/** The document with one cut changed. */
export function withCut(document: ProjectDocument, cutId: string, change: (cut: Cut) => Cut): CommandResult {
  const cut = find(document.cuts, cutId);
  if (!cut) return refused('this cut is gone');
  return done({ ...document, cuts: { ...document.cuts, [cutId]: change(cut) } });
}

/** The document with one pattern changed. */
export function withPattern(
  document: ProjectDocument,
  patternId: string,
  change: (pattern: Pattern) => Pattern | null,
): CommandResult {
  const pattern = find(document.patterns, patternId);
  if (!pattern) return refused('the home pattern stays as it is: copy it to change it');
  const changed = change(pattern);
  if (!changed) return refused('there is nothing to change here');
  return done({ ...document, patterns: { ...document.patterns, [patternId]: changed } });
}
