/** The instruments of a song, the ways they sound, and what their keys do that play nothing. */
import * as z from 'zod/mini';
import { EFFECT_KINDS, EFFECT_ROWS } from '../../params/effects.ts';
import { DOUBLE_ROWS } from '../../params/double-rows.ts';
import { MOST_HELPERS } from '../../params/helpers.ts';
import { ROUTE_ROWS } from '../../params/modulators.ts';
import { valuesSchema } from '../../params/values-schema.ts';
import { PART_ROWS, ZONE_ROWS } from '../../params/tables.ts';
import { TREATED_CHANNEL_ROWS, TREATED_PART_ROWS } from '../../params/treated-rows.ts';
import { MAX_TICKS, MOST_TREATMENT_CHANGES, SWITCH_KINDS } from '../limits.ts';
import { between, id, key, listOf, name, whole } from './basics.ts';
import type { Effect } from './mix.ts';
import { groove } from './patterns.ts';
import { movement, type Modulator } from './zones.ts';

/** What a key or controller of a part does that plays no sound. */
export const keySwitch = z
  .strictObject({
    /** Null: a controller switches. */
    key: z.nullable(key),
    /** Number of the MIDI controller, pressed from the middle of its way on; left out where a key switches. */
    control: z.optional(whole(0, 119)),
    does: z.enum(SWITCH_KINDS),
    /** Of `pattern`: which, a home pattern too; else null. */
    patternId: z.nullable(id),
    /** Of `treatment`: which. */
    treatmentId: z.optional(id),
    /** Of `mute`: which sound of the part. */
    zoneId: z.optional(id),
    /** Only as long as the key is pressed; else until something else is chosen. */
    whileHeld: z.boolean(),
  })
  .check(z.refine(({ key, control }) => (key === null) !== (control === undefined), 'a key or a controller switches'));
export type KeySwitch = z.infer<typeof keySwitch>;

const effectTables = EFFECT_KINDS.map((kind) =>
  z.strictObject({ kind: z.literal(kind), bypassed: z.boolean(), values: valuesSchema(EFFECT_ROWS[kind]) }),
);

/** How a part sounds, kept: what of it is no more is passed over, and what came since stays as it is. */
export const treatment = z.strictObject({
  id,
  name,
  /** Settings of the zones, by their ids; all but the weight in dealing. */
  zones: z.record(id, valuesSchema(ZONE_ROWS)),
  /** Of the part: those of {@link TREATED_PART_ROWS}. */
  values: valuesSchema(TREATED_PART_ROWS),
  channel: valuesSchema(TREATED_CHANNEL_ROWS),
  /** By the ids of the effects. */
  effects: z.record(id, z.discriminatedUnion('kind', effectTables as unknown as [z.ZodMiniObject])),
  /** How its modulators move, by their ids; left out where that was not kept yet. */
  modulators: z.optional(z.record(id, movement)),
  /** How far they move what, by the ids of the routes. One that came since moves nothing. Left out as those. */
  routes: z.optional(z.record(id, valuesSchema(ROUTE_ROWS))),
  /** Settings of its doubles, by their ids; left out where there were none. */
  doubles: z.optional(z.record(id, valuesSchema(DOUBLE_ROWS))),
});
export interface Treatment extends Omit<z.infer<typeof treatment>, 'effects' | 'modulators'> {
  effects: Record<string, Pick<Effect, 'kind' | 'bypassed' | 'values'>>;
  modulators?: Record<string, Movement> | undefined;
}
export type Movement = Omit<Modulator, 'id' | 'ownerId'>;

/** Another sound of the part under chosen hits, or in their place. */
export const double = z.strictObject({
  id,
  name,
  /** The hits, each in one double at most. */
  zoneIds: listOf(id, 512, 1),
  /** The zone that sounds under them; none of them. */
  soundId: id,
  /** A bus that it is heard through by itself; left out: with its part. */
  channelId: z.optional(id),
  values: valuesSchema(DOUBLE_ROWS),
});
export type Double = z.infer<typeof double>;

/** From a position of a pattern on the part sounds as one of its treatments; left out: as it does by itself. */
export const treatmentChange = z.strictObject({ at: between(0, MAX_TICKS), treatmentId: z.optional(id) });
export type TreatmentChange = z.infer<typeof treatmentChange>;

/** An instrument of the song: cuts of one or more sources, zones on its keys, patterns, a channel. */
export const part = z.strictObject({
  id,
  name,
  cutOrder: listOf(id, 256, 1),
  zoneOrder: z.array(id),
  patternOrder: listOf(id, 1024),
  /** What stands on the way to its keys, in the order in which notes pass. */
  helperOrder: listOf(id, MOST_HELPERS),
  /** A pattern's id, or the home pattern of one of its cuts (see homeId). */
  activePatternId: id,
  channelId: id,
  groove: z.nullable(groove),
  /** One a key or controller at most; none where it is left out. */
  switches: z.optional(listOf(keySwitch, 248)),
  /** None where it is left out. */
  doubles: z.optional(listOf(double, 64)),
  /** Ways to sound that were kept; none where it is left out. */
  treatments: z.optional(listOf(treatment, 64)),
  /** Where its patterns put them on, by the ids of those (home patterns, too), in order; none where it is left out. */
  treatmentChanges: z.optional(z.record(id, listOf(treatmentChange, MOST_TREATMENT_CHANGES, 1))),
  values: valuesSchema(PART_ROWS),
});
export interface Part extends Omit<z.infer<typeof part>, 'treatments'> {
  treatments?: Treatment[] | undefined;
}
