/** Chains of effects under names. */
import * as z from 'zod/mini';
import { EFFECT_KINDS, EFFECT_ROWS, EFFECT_WORDS } from '../params/effects.ts';
import { MOST_PATHS } from '../params/effect-rows/paths.ts';
import { CHANNEL_ROWS } from '../params/tables.ts';
import { valuesSchema } from '../params/values-schema.ts';
import { CHAIN_VERSION, type Chain } from '../project/chain-of.ts';
import { readBySchema, type RecordKind } from './record-kind.ts';

const { chainWet } = CHANNEL_ROWS;
const chainSchema = z.strictObject({
  schemaVersion: z.literal(CHAIN_VERSION),
  name: z.string().check(z.trim(), z.minLength(1), z.maxLength(200)),
  effects: z
    .array(
      z.discriminatedUnion(
        'kind',
        EFFECT_KINDS.map((kind) =>
          z.strictObject({
            kind: z.literal(kind),
            bypassed: z.boolean(),
            // A channel of another project is no channel of this one.
            sideChannelId: z.null(),
            values: valuesSchema(EFFECT_ROWS[kind]),
            path: z.optional(z.int().check(z.gte(0), z.lt(MOST_PATHS))),
          }),
        ) as unknown as [z.ZodMiniObject],
      ),
    )
    .check(z.minLength(1), z.maxLength(32)),
  values: valuesSchema({ chainWet }),
});

export interface ChainFacts {
  /** What its effects are called, in their order. */
  words: string[];
}

export const CHAIN_KIND: RecordKind<Chain, ChainFacts> = {
  what: 'chain',
  version: CHAIN_VERSION,
  versionOf: (json) => (json as Partial<Chain>).schemaVersion,
  migrations: {},
  read: (json) => readBySchema('chain', chainSchema, json) as unknown as Chain,
  factsOf: ({ effects }) => ({ words: effects.map(({ kind }) => EFFECT_WORDS[kind]) }),
  sourceIdsOf: () => [],
};
