/**
 * Opens documents from outside, and checks changed ones: schema, migrations, and the rules that a schema cannot say. What
 * has not changed is not checked again, so that checking costs what changed.
 */
import type * as z from 'zod/mini';
import { AppError } from '../units/errors.ts';
import { changedKeys, ownRecord } from './changed-keys.ts';
import { migrate } from './migrations/index.ts';
import { firstBrokenRule } from './rules/index.ts';
import { SCHEMA_VERSION } from './limits.ts';
import {
  HEAD,
  isEvent,
  patternEvent,
  projectDocument,
  TABLES,
  type Pattern,
  type ProjectDocument,
  type TableName,
} from './schema.ts';

/**
 * Turns parsed JSON of any known version into a valid document.
 * @throws AppError `document.newer` for a version that this program does not know, `document.invalid` otherwise
 */
export function openDocument(json: unknown): ProjectDocument {
  const parsed = projectDocument.safeParse(migrate(json, versionOf(json), SCHEMA_VERSION));
  if (!parsed.success) throw invalid(issueWords(parsed.error));
  const document = parsed.data as unknown as ProjectDocument;
  const problem = firstBrokenRule(document, null);
  if (problem) throw invalid(problem);
  return document;
}

/** @throws AppError `document.newer`, or `document.invalid` for what has no version */
export function versionOf(json: unknown): number {
  const version = (json as { schemaVersion?: unknown } | null)?.schemaVersion;
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1) {
    throw invalid('this is not a project: it has no schemaVersion');
  }
  if (version > SCHEMA_VERSION) {
    throw new AppError('document.newer', `the project was made by a newer version (schema ${version})`, {
      version,
      known: SCHEMA_VERSION,
    });
  }
  return version;
}

function invalid(message: string): AppError {
  return new AppError('document.invalid', message);
}

function issueWords(error: z.core.$ZodError, where: readonly PropertyKey[] = []): string {
  const issue = error.issues[0]!;
  return `${[...where, ...issue.path].join('.') || 'document'}: ${issue.message}`;
}

/**
 * What is wrong with a document that comes from a valid one, in words; null when it is valid. Only records that are others
 * than before are looked at, and what refers to them.
 */
export function problemOfChange(before: ProjectDocument, after: ProjectDocument): string | null {
  for (const key of Object.keys(after)) {
    if (!Object.hasOwn(HEAD, key) && !Object.hasOwn(TABLES, key)) return `document: there is no "${key}" in a project`;
  }
  for (const [key, schema] of Object.entries(HEAD)) {
    if (before[key as keyof typeof HEAD] === after[key as keyof typeof HEAD]) continue;
    const parsed = schema.safeParse(after[key as keyof typeof HEAD]);
    if (!parsed.success) return issueWords(parsed.error, [key]);
  }
  for (const table of Object.keys(TABLES) as TableName[]) {
    const problem = tableProblem(table, before, after);
    if (problem) return problem;
  }
  return firstBrokenRule(after, before);
}

function tableProblem(table: TableName, before: ProjectDocument, after: ProjectDocument): string | null {
  const records = after[table] as Record<string, object> | undefined;
  if (before[table] === records) return null;
  if (!isRecord(records)) return `${table}: this is no table`;
  const known = before[table] as Record<string, object>;
  for (const key of changedKeys(known, records)) {
    if (!Object.hasOwn(records, key)) continue;
    const old = ownRecord(known, key);
    const problem =
      table === 'patterns'
        ? patternProblem(old as Pattern | undefined, records[key] as Pattern)
        : schemaProblem(TABLES[table], records[key], [table, key]);
    if (problem) return problem;
  }
  return null;
}

function schemaProblem(schema: z.ZodMiniType, value: unknown, where: string[]): string | null {
  const parsed = schema.safeParse(value);
  return parsed.success ? null : issueWords(parsed.error, where);
}

/** A list answers to `typeof` as a record does, and is none. */
function isRecord(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/** Of thousands of events only those that changed are looked at. */
function patternProblem(old: Pattern | undefined, pattern: Pattern): string | null {
  const where = ['patterns', String(pattern?.id)];
  if (!old || !isRecord(pattern) || ![pattern.events, pattern.hands].every(isRecord)) {
    return schemaProblem(TABLES.patterns, pattern, where);
  }
  const settled = {
    events: {},
    ground: pattern.ground === old.ground || pattern.ground === old.events ? null : pattern.ground,
    hands: pattern.hands === old.hands ? {} : withoutSoundEvents(changedOnly(old.hands, pattern.hands)),
  };
  const problem = schemaProblem(TABLES.patterns, { ...pattern, ...settled }, where);
  if (problem) return problem;
  for (const key of changedKeys(old.events, pattern.events)) {
    if (!Object.hasOwn(pattern.events, key)) continue;
    const event = pattern.events[key]!;
    if (isEvent(event)) continue;
    const found = schemaProblem(patternEvent, event, [...where, 'events', key]);
    if (found) return found;
  }
  return null;
}

/** Hands without the events in them that are beyond doubt: there may be thousands in each. */
function withoutSoundEvents(hands: Pattern['hands']): Pattern['hands'] {
  return Object.fromEntries(
    Object.entries(hands).map(([key, hand]) => {
      if (!isRecord(hand?.differs)) return [key, hand];
      const doubtful = Object.entries(hand.differs).filter(
        ([name, event]) => name in Object.prototype || (event !== null && !isEvent(event)),
      );
      return [key, { ...hand, differs: Object.fromEntries(doubtful) }];
    }),
  );
}

function changedOnly<T>(old: Record<string, T>, now: Record<string, T>): Record<string, T> {
  return Object.fromEntries(Object.entries(now).filter(([key, value]) => old[key] !== value));
}

/** The first broken rule between tables, in words; null when all hold. */
export function brokenRule(document: ProjectDocument): string | null {
  return firstBrokenRule(document, null);
}
