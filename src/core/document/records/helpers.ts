/** What stands on the way to the keys of a part: chords, runners, echoes of notes. */
import * as z from 'zod/mini';
import {
  HELPER_KINDS,
  HELPER_ROWS,
  LEAST_STEPS,
  MOST_NOTES,
  MOST_STEPS,
  WIDEST_INTERVAL,
  type HelperKind,
} from '../../params/helpers.ts';
import { valuesSchema } from '../../params/values-schema.ts';
import { id, listOf, unit, whole } from './basics.ts';

export const helper = z.discriminatedUnion(
  'kind',
  HELPER_KINDS.map((kind) =>
    z.strictObject({
      id,
      partId: id,
      kind: z.literal(kind),
      bypassed: z.boolean(),
      values: valuesSchema(HELPER_ROWS[kind]),
      /** Of a chord: semitones above the key that is pressed; those of a named chord where it is left out. */
      ...(kind === 'chord'
        ? { intervals: z.optional(listOf(whole(-WIDEST_INTERVAL, WIDEST_INTERVAL), MOST_NOTES, 1)) }
        : {}),
      /** Strengths: of the steps of a runner; of the notes of a chord, as shares. All the same where it is left out. */
      ...(kind === 'echoes'
        ? {}
        : { strengths: z.optional(listOf(unit, MOST_STEPS, kind === 'chord' ? 1 : LEAST_STEPS)) }),
    }),
  ) as unknown as [z.ZodMiniObject],
);
export interface Helper {
  id: string;
  partId: string;
  kind: HelperKind;
  bypassed: boolean;
  values: Record<string, number | string | boolean>;
  intervals?: readonly number[];
  strengths?: readonly number[];
}
