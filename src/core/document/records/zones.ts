/** What answers keys, and what moves its settings. */
import * as z from 'zod/mini';
import { MODULATOR_ROWS, ROUTE_ROWS, TARGET_KINDS, type ModulatorKind } from '../../params/modulators.ts';
import { valuesSchema } from '../../params/values-schema.ts';
import { ZONE_ROWS } from '../../params/tables.ts';
import { MAX_LANE_POINTS, MAX_MACROS, MAX_TICKS } from '../limits.ts';
import { between, frame, id, key, listOf, name, unit, whole } from './basics.ts';

const velocity = whole(1, 127);

export const keyRange = z
  .strictObject({ low: key, high: key, root: key })
  .check(z.refine(({ low, high }) => low <= high, 'a range of keys goes upwards'));
export type KeyRange = z.infer<typeof keyRange>;

/** How strong a press has to be, as MIDI tells it; over `fade` steps outside of it the sound comes and goes. */
export const velocityRange = z
  .strictObject({ low: velocity, high: velocity, fade: whole(0, 126) })
  .check(z.refine(({ low, high }) => low <= high, 'a range of strengths goes upwards'));
export type VelocityRange = z.infer<typeof velocityRange>;

/** What goes round inside a sound, in frames of its source. */
export const soundLoop = z
  .strictObject({ startFrame: frame, endFrame: frame, crossfadeFrames: frame })
  .check(z.refine((value) => value.endFrame > value.startFrame, 'a loop ends after its start'));
export type SoundLoop = z.infer<typeof soundLoop>;

/** What answers a key, and how. Several zones may play one slice, each in its own way. */
export const zone = z
  .strictObject({
    id,
    partId: id,
    /** A slice, or the whole loop of a cut going round in time with the song. */
    plays: z.discriminatedUnion('kind', [
      z.strictObject({ kind: z.literal('slice'), cutId: id, sliceId: id }),
      z.strictObject({ kind: z.literal('loop'), cutId: id, sliceId: z.null() }),
    ]),
    /** `itself`: on the key that follows from its slice's place; `hand`: where it was put, for good. */
    laid: z.enum(['itself', 'hand']),
    /** Of a zone laid by hand; null: it has no key. */
    keys: z.nullable(keyRange),
    velocities: velocityRange,
    /** Null: the whole of what it plays goes round, if it is to. */
    loop: z.nullable(soundLoop),
    values: valuesSchema(ZONE_ROWS),
  })
  .check(z.refine(({ laid, keys }) => laid === 'hand' || keys === null, 'a zone that lays itself keeps no keys'));
export type Zone = z.infer<typeof zone>;

const amount = between(-1, 1);
/** Shortest lane, in ticks: a 1/256 note. */
const MIN_LANE_TICKS = 15;
/** A place that a lane goes through, and how it goes on from there: straight, bent, or staying where it is. */
const lanePoint = z.strictObject({
  /** In ticks from the lane's start. */
  at: between(0, MAX_TICKS),
  /** From the bottom of its range to the top. */
  value: unit,
  /** See dsp/bend.ts; straight where it is left out. */
  bend: z.optional(amount),
  /** Stays until the next point. */
  stays: z.optional(z.literal(true)),
});
export type LanePoint = z.infer<typeof lanePoint>;

const movementFields = <Kind extends ModulatorKind>(kind: Kind) => ({
  kind: z.literal(kind),
  values: valuesSchema(MODULATOR_ROWS[kind]),
  /** Of `steps`: their values. */
  ...(kind === 'steps' ? { steps: listOf(amount, 32, 2) } : {}),
  /** Of a `curve`: where it goes through, in the order of their places in the round. */
  ...(kind === 'curve' ? { points: listOf(z.strictObject({ at: unit, value: amount }), 64, 2) } : {}),
  ...(kind === 'macro' ? { name, place: whole(0, MAX_MACROS - 1) } : {}),
  ...(kind === 'lane'
    ? {
        points: listOf(lanePoint, MAX_LANE_POINTS, 1),
        /** Goes round by itself after so long; as long as its pattern where it is left out. */
        lengthTicks: z.optional(between(MIN_LANE_TICKS, MAX_TICKS)),
      }
    : {}),
});
const ofEachKind = (fields: (kind: ModulatorKind) => Record<string, z.ZodMiniType>) =>
  z.discriminatedUnion(
    'kind',
    (Object.keys(MODULATOR_ROWS) as ModulatorKind[]).map((kind) => z.strictObject(fields(kind))) as unknown as [
      z.ZodMiniObject,
    ],
  );

/** How a modulator moves, whatever it belongs to. */
export const movement = ofEachKind(movementFields);
/** Moves settings while they sound: of one zone, of all zones of a part, or of what the part is heard through. */
export const modulator = ofEachKind((kind) => ({ id, ownerId: id, ...movementFields(kind) }));
export interface Modulator {
  id: string;
  ownerId: string;
  kind: ModulatorKind;
  values: Record<string, number | string | boolean>;
  steps?: readonly number[];
  points?: readonly LanePoint[];
  /** Of a macro: what it is called, and its place among them. */
  name?: string;
  place?: number;
  /** Of a lane that is not as long as its pattern. */
  lengthTicks?: number | undefined;
}

export const route = z.strictObject({
  id,
  modulatorId: id,
  /** Whose setting is moved: the record of this id; `zone` with null for the sounds that the modulator belongs to. */
  target: z
    .strictObject({ kind: z.enum(TARGET_KINDS), id: z.nullable(id) })
    .check(z.refine(({ kind, id }) => kind === 'zone' || id !== null, 'a target is a record, or the own sounds')),
  /** Id of a row of the target's table; one that says how far it is moved. */
  paramId: name,
  values: valuesSchema(ROUTE_ROWS),
});
export type RouteTarget = z.infer<typeof route>['target'];
export type Route = z.infer<typeof route>;
