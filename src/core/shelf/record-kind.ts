/**
 * A kind of named thing on the shelf: kits, grooves. Each has a version and migrations of its own: a newer version of the
 * project's document leaves them alone.
 */
import type * as z from 'zod/mini';
import { AppError } from '../units/errors.ts';

export interface RecordKind<T extends { name: string }, Facts extends object> {
  /** In words: "kit". */
  what: string;
  /** What this program writes. */
  version: number;
  /** The version that parsed JSON says it is of; undefined where it says none. */
  versionOf(json: object): unknown;
  /** `migrations[n]` turns a record of version n into one of n + 1; never changed once released. */
  migrations: Readonly<Record<number, (json: unknown) => unknown>>;
  /** Reads a record of the newest version. @throws AppError `document.invalid` */
  read(json: unknown): T;
  /** What lists show. */
  factsOf(record: T): Facts;
  /** The sounds that it plays: they are kept as long as it is. */
  sourceIdsOf(record: T): string[];
}

/** @throws AppError `document.invalid`, with the place and what is wrong there */
export function readBySchema<T>(what: string, schema: z.ZodMiniType<T>, json: unknown): T {
  const parsed = schema.safeParse(json);
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0]!;
  throw new AppError('document.invalid', `${issue.path.join('.') || what}: ${issue.message}`);
}

/**
 * Reads a record of any known version.
 * @throws AppError `document.newer` or `document.invalid`
 */
export function openRecord<T extends { name: string }>(kind: RecordKind<T, object>, json: unknown): T {
  const { what, migrations } = kind;
  const version = typeof json === 'object' && json !== null ? kind.versionOf(json) : undefined;
  if (typeof version !== 'number' || !Number.isInteger(version)) {
    throw new AppError('document.invalid', `this is not a ${what}: it has no schemaVersion`);
  }
  if (version > kind.version) {
    const details = { version, known: kind.version };
    throw new AppError('document.newer', `the ${what} was made by a newer version (schema ${version})`, details);
  }
  let current = json;
  for (let at = version; at < kind.version; at++) {
    const step = migrations[at];
    if (!step) throw new AppError('document.invalid', `there was no ${what} of version ${version}`);
    try {
      current = step(current);
    } catch (error) {
      const reason = error instanceof Error ? error.message : String(error);
      throw new AppError('document.invalid', `this ${what} of version ${version} cannot be read`, { reason });
    }
  }
  return kind.read(current);
}
