/** Where parts are heard: channels and their effects. */
import * as z from 'zod/mini';
import { EFFECT_KINDS, EFFECT_ROWS } from '../../params/effects.ts';
import { valuesSchema } from '../../params/row.ts';
import { CHANNEL_ROWS } from '../../params/tables.ts';
import { between, id, listOf } from './basics.ts';

export const channel = z.strictObject({
  id,
  values: valuesSchema(CHANNEL_ROWS),
  effectOrder: listOf(id, 32),
  /** Copies of its signal into other channels, after its effects and level. */
  sends: listOf(z.strictObject({ channelId: id, gainDb: between(-60, 12) }), 16),
});
export type Channel = z.infer<typeof channel>;

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
    }),
  ) as unknown as [z.ZodMiniObject],
);
export interface Effect {
  id: string;
  kind: (typeof EFFECT_KINDS)[number];
  bypassed: boolean;
  sideChannelId: string | null;
  values: Record<string, number | string | boolean>;
}
