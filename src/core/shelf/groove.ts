/** Grooves lifted out of loops, under names. */
import * as z from 'zod/mini';
import { groove, type Groove } from '../document/schema.ts';
import { readBySchema, type RecordKind } from './record-kind.ts';

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
  read: (json) => readBySchema('groove', namedGroove, json) as Groove,
  factsOf: (one) => ({ groove: one }),
  sourceIdsOf: () => [],
};
