/** What a part plays: events in patterns, the hands that were dealt, grooves. */
import * as z from 'zod/mini';
import { DEAL_ROWS } from '../../params/deal-rows.ts';
import { fitsRow } from '../../params/row.ts';
import { valuesSchema } from '../../params/values-schema.ts';
import { EVENT_ROWS } from '../../params/tables.ts';
import { MAX_TICKS, PATTERN_COLOURS } from '../limits.ts';
import { between, id, isId, listOf, name, whole } from './basics.ts';

/** Shortest event, in ticks: copies of a home pattern may hold slivers. */
const MIN_EVENT_TICKS = 1e-3;
/** Shortest pattern, in ticks: a 1/256 note. */
const MIN_PATTERN_TICKS = 15;

export const patternEvent = z.strictObject({
  id,
  zoneId: id,
  /** From the pattern's start; fractions keep the feel of a loop. */
  positionTicks: between(0, MAX_TICKS),
  lengthTicks: between(MIN_EVENT_TICKS, MAX_TICKS),
  values: valuesSchema(EVENT_ROWS),
});
export type PatternEvent = z.infer<typeof patternEvent>;
const events = z.record(id, patternEvent);

const isBetween = (value: unknown, min: number, max: number) =>
  typeof value === 'number' && value >= min && value <= max;
const EVENT_FIELDS = Object.keys(patternEvent.shape).length;

/**
 * Is it an event by the schema {@link patternEvent}? Without the schema's words, and without its cost: a change of
 * thousands of events is checked with every edit.
 */
export function isEvent(value: unknown): value is PatternEvent {
  if (typeof value !== 'object' || value === null || Object.keys(value).length !== EVENT_FIELDS) return false;
  const event = value as Partial<Record<keyof PatternEvent, unknown>>;
  const { values } = event;
  if (typeof values !== 'object' || values === null || Array.isArray(values)) return false;
  return (
    isId(event.id) &&
    isId(event.zoneId) &&
    isBetween(event.positionTicks, 0, MAX_TICKS) &&
    isBetween(event.lengthTicks, MIN_EVENT_TICKS, MAX_TICKS) &&
    Object.entries(values).every(
      ([name, one]) => Object.hasOwn(EVENT_ROWS, name) && fitsRow(EVENT_ROWS[name as keyof typeof EVENT_ROWS], one),
    )
  );
}

/** One deal of a pattern: told by its seed, its settings and the hand that it was dealt from. */
export const hand = z.strictObject({
  id,
  /** 0 for what was not dealt: the pattern before the first deal, or as it was changed by hand. */
  seed: whole(0, 2 ** 31),
  reachPercent: between(0, 100),
  /** What stayed and what coloured; nothing where it is left out. */
  rules: z.optional(valuesSchema(DEAL_ROWS)),
  /** Only these events took part; all where it is left out. */
  onlyIds: z.optional(z.array(id)),
  /** Bred: the hand that it was bred with, and how much of that one it has. */
  withHandId: z.optional(id),
  name: z.optional(name),
  /** Never pushed out by newer ones. */
  starred: z.optional(z.boolean()),
  /** Version of the dealer: a later one may deal otherwise from the same seed. */
  dealer: whole(1, 1000),
  /** What it was dealt from; null when that is not kept any more, and for what was not dealt. */
  fromHandId: z.nullable(id),
  /** Changed by hand after it was dealt. */
  isEdited: z.boolean(),
  /** What differs from the pattern's ground: events by id, null for those that are not in it. */
  differs: z.record(id, z.nullable(patternEvent)),
});
export type Hand = z.infer<typeof hand>;

/** Beyond those that a pattern keeps by itself, for documents of others. */
const MOST_HANDS_KEPT = 1024;

export const pattern = z.strictObject({
  id,
  partId: id,
  name,
  /** None where it is left out. */
  colour: z.optional(whole(0, PATTERN_COLOURS - 1)),
  lengthTicks: between(MIN_PATTERN_TICKS, MAX_TICKS),
  events,
  /** The events before the first deal, which hands are told against; null while nothing was dealt. */
  ground: z.nullable(events),
  hands: z.record(id, hand),
  handOrder: listOf(id, MOST_HANDS_KEPT),
  /** The hand on the table; null while nothing was dealt. */
  handId: z.nullable(id),
});
export type Pattern = z.infer<typeof pattern>;

/** Timing and accents of a loop, step by step; it goes round. */
export const groove = z.strictObject({
  name,
  stepTicks: between(15, 15_360),
  /** `shift`: how late a step is, in steps (-0.5..0.5); `accent`: its level against the others (1 is the same). */
  steps: listOf(z.strictObject({ shift: between(-0.5, 0.5), accent: between(0, 2) }), 256, 1),
});
export type Groove = z.infer<typeof groove>;
