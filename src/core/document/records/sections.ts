/** The running order: sections of bars, and who plays which pattern when in them. */
import * as z from 'zod/mini';
import { SECTION_ROWS } from '../../params/section-rows.ts';
import { valuesSchema } from '../../params/values-schema.ts';
import { MAX_TICKS, MOST_PLACINGS } from '../limits.ts';
import { id, listOf, name, whole } from './basics.ts';

/** A pattern that a part plays from somewhere in a section on, round after round, for so long. */
export const placing = z.strictObject({
  id,
  partId: id,
  /** A home pattern too. */
  patternId: id,
  /** From the beginning of the section. */
  startTicks: whole(0, MAX_TICKS),
  lengthTicks: whole(1, MAX_TICKS),
  /** It is there and not heard. */
  muted: z.boolean(),
  /** Only in the last round of the section, in place of what else the part would play then. */
  isFill: z.boolean(),
  /** How the part sounds meanwhile: one of its treatments; left out: as it does by itself. */
  treatmentId: z.optional(id),
});
export type Placing = z.infer<typeof placing>;

export const section = z.strictObject({
  id,
  name,
  values: valuesSchema(SECTION_ROWS),
  placings: listOf(placing, MOST_PLACINGS),
});
export type Section = z.infer<typeof section>;
