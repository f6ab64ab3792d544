/** Grooves lifted out of loops, under names. */
import * as z from 'zod/mini';
import { groove, type Groove } from '../document/schema.ts';
import { AppError } from '../units/errors.ts';
import type { RecordKind } from './record-kind.ts';

const namedGroove = z.strictObject({
  ...groove.shape,
  name: z.string().check(z.trim(), z.minLength(1), z.maxLength(200)),
});

export interface GrooveFacts {
  /** All of it: a list draws it. */
  groove: Groove;
}

export const GROOVE_KIND: RecordKind<Groove, GrooveFacts> = {
  what: 'groove',
  version: 1,
  // The first version does not say which it is.
  versionOf: (json) => (json as { schemaVersion?: unknown }).schemaVersion ?? 1,
  migrations: {},
  read(json) {
    const parsed = namedGroove.safeParse(json);
    if (parsed.success) return parsed.data as Groove;
    const issue = parsed.error.issues[0]!;
    throw new AppError('document.invalid', `${issue.path.join('.') || 'groove'}: ${issue.message}`);
  },
  factsOf: (one) => ({ groove: one }),
  sourceIdsOf: () => [],
};
