/** Where parts are heard: channels, copies of their signals into others, and their effects. */
import * as z from 'zod/mini';
import { EFFECT_KINDS, EFFECT_ROWS } from '../../params/effects.ts';
import { MOST_PATHS } from '../../params/effect-rows/paths.ts';
import { valuesSchema } from '../../params/values-schema.ts';
import { CHANNEL_ROWS, SEND_ROWS } from '../../params/tables.ts';
import { CHANNEL_KINDS } from '../limits.ts';
import { id, listOf, name } from './basics.ts';

export const channel = z.strictObject({
  id,
  kind: z.enum(CHANNEL_KINDS),
  /** Of a bus; a part's channel is called as the part. */
  name: z.optional(name),
  /** The bus that it is heard through; null: through the main channel. */
  outputId: z.nullable(id),
  values: valuesSchema(CHANNEL_ROWS),
  effectOrder: listOf(id, 32),
});
export type Channel = z.infer<typeof channel>;

/** A copy of a channel's signal into another one, after its effects. */
export const send = z.strictObject({ id, fromChannelId: id, toChannelId: id, values: valuesSchema(SEND_ROWS) });
export type Send = z.infer<typeof send>;

export const effect = z.discriminatedUnion(
  'kind',
  EFFECT_KINDS.map((kind) =>
    z.strictObject({
      id,
      kind: z.literal(kind),
      bypassed: z.boolean(),
      /** The channel that it listens to beside its own. */
      sideChannelId: z.nullable(id),
      values: valuesSchema(EFFECT_ROWS[kind]),
      /** It stands in this path, from 0, of the paths that come before it in the order. */
      path: z.optional(z.int().check(z.gte(0), z.lt(MOST_PATHS))),
    }),
  ) as unknown as [z.ZodMiniObject],
);
export interface Effect {
  id: string;
  kind: (typeof EFFECT_KINDS)[number];
  bypassed: boolean;
  sideChannelId: string | null;
  values: Record<string, number | string | boolean>;
  path?: number;
}
