/** Patterns as columns, and what has changed between two of them. */
import type { PatternEvent } from '../../document/schema.ts';
import { repeatsOf } from '../../strips/repeats.ts';
import { textHash } from '../../units/hash.ts';
import { eventValues } from '../../queries/values.ts';
import {
  COLUMN_NAMES,
  eventColumns,
  ON_KEY,
  PAST_HELPERS,
  REPEATED,
  REVERSE,
  splicePattern,
  type EventColumns,
  type PatternFragment,
  type PatternSplice,
} from './fragments.ts';

/** A pattern as it was compiled last. */
export interface KnownPattern {
  /** In order of position. */
  events: readonly PatternEvent[];
  numbers: ZoneNumbers;
  fragment: PatternFragment;
  /** Any event starts more than once: then a start's place is not its event's. */
  hasRepeats: boolean;
}

/** Zones of a pattern by place; a zone keeps its place for good. */
class ZoneNumbers {
  readonly ids: string[] = [];
  private readonly places = new Map<string, number>();

  placeOf(zoneId: string): number {
    let place = this.places.get(zoneId);
    if (place === undefined) {
      place = this.ids.push(zoneId) - 1;
      this.places.set(zoneId, place);
    }
    return place;
  }
}

const seedById = new WeakMap<PatternEvent, number>();
function seedOf(event: PatternEvent): number {
  let seed = seedById.get(event);
  if (seed === undefined) seedById.set(event, (seed = textHash(event.id)));
  return seed;
}

/** Compiles a pattern. @param events in order of position */
export function beginPattern(
  head: Pick<PatternFragment, 'id' | 'partId' | 'handId' | 'lengthTicks'>,
  events: readonly PatternEvent[],
): KnownPattern {
  const numbers = new ZoneNumbers();
  const columns = columnsOf(events, numbers);
  const hasRepeats = columns.positionTicks.length !== events.length;
  return { events, numbers, hasRepeats, fragment: { ...head, zoneIds: [...numbers.ids], events: columns } };
}

/** Lets a compiled pattern follow its events. @returns what has changed; only that was compiled, unless events repeat */
export function followPattern(
  known: KnownPattern,
  events: readonly PatternEvent[],
  { lengthTicks, handId }: Pick<PatternFragment, 'lengthTicks' | 'handId'>,
): PatternSplice {
  const { fragment, numbers } = known;
  const count = numbers.ids.length;
  const { at, same } = endsInCommon(known.events, events);
  const columns = columnsOf(known.hasRepeats ? events : events.slice(at, events.length - same), numbers);
  const isWhole = known.hasRepeats || columns.positionTicks.length !== events.length - at - same;
  const moreZoneIds = numbers.ids.slice(count);
  let splice: PatternSplice;
  if (isWhole) {
    const whole = known.hasRepeats ? columns : columnsOf(events, numbers);
    known.fragment = { ...fragment, lengthTicks, handId, zoneIds: [...numbers.ids], events: whole };
    known.hasRepeats = whole.positionTicks.length !== events.length;
    splice = spliceBetween(fragment, known.fragment);
  } else {
    const removed = known.events.length - at - same;
    splice = { id: fragment.id, handId, lengthTicks, moreZoneIds, at, removed, events: columns };
    known.fragment = splicePattern(fragment, splice);
  }
  known.events = events;
  return splice;
}

/** How many events at the start and at the end of two lists are the same ones. */
function endsInCommon(before: readonly PatternEvent[], after: readonly PatternEvent[]): { at: number; same: number } {
  const most = Math.min(before.length, after.length);
  let at = 0;
  while (at < most && before[at] === after[at]) at++;
  let same = 0;
  while (same < most - at && before[before.length - 1 - same] === after[after.length - 1 - same]) same++;
  return { at, same };
}

/** Spreads events out into columns, by position. */
function columnsOf(events: readonly PatternEvent[], numbers: ZoneNumbers): EventColumns {
  let count = 0;
  let hasRepeats = false;
  for (const event of events) {
    const repeats = event.values.repeats ?? 1;
    count += repeats;
    hasRepeats ||= repeats > 1;
  }
  const columns = eventColumns(count);
  let at = 0;
  for (const event of events) {
    const values = eventValues(event);
    const zone = numbers.placeOf(event.zoneId);
    const flags =
      (values.reverse ? REVERSE : 0) |
      (values.repeats > 1 ? REPEATED : 0) |
      (values.onKey ? ON_KEY : 0) |
      (values.pastHelpers ? PAST_HELPERS : 0);
    for (const repeat of repeatsOf(values)) {
      columns.positionTicks[at] = event.positionTicks + event.lengthTicks * repeat.startShare;
      columns.lengthTicks[at] = event.lengthTicks * repeat.lengthShare;
      columns.zone[at] = zone;
      columns.velocity[at] = values.velocity;
      columns.gainDb[at] = values.gainDb + repeat.gainDb;
      columns.pan[at] = values.pan;
      columns.tuneCents[at] = values.tuneCents + repeat.tuneCents;
      columns.chancePercent[at] = values.chancePercent;
      columns.flags[at] = flags;
      columns.everyRounds[at] = values.everyRounds;
      columns.seed[at] = seedOf(event);
      at++;
    }
  }
  return hasRepeats ? sorted(columns) : columns;
}

/** Repeats of one event may lie among those of others. */
function sorted(columns: EventColumns): EventColumns {
  const { positionTicks } = columns;
  const order = Array.from(positionTicks.keys()).sort((a, b) => positionTicks[a]! - positionTicks[b]! || a - b);
  const out = eventColumns(order.length);
  for (const name of COLUMN_NAMES) {
    const from = columns[name];
    const to = out[name];
    for (let i = 0; i < order.length; i++) to[i] = from[order[i]!]!;
  }
  return out;
}

function isSameStart(a: EventColumns, at: number, b: EventColumns, to: number): boolean {
  for (const name of COLUMN_NAMES) if (a[name][at] !== b[name][to]) return false;
  return true;
}

/** What turns one state of a pattern into the next: the stretch of starts that differ. */
function spliceBetween(before: PatternFragment, after: PatternFragment): PatternSplice {
  const old = before.events.positionTicks.length;
  const now = after.events.positionTicks.length;
  const most = Math.min(old, now);
  let at = 0;
  while (at < most && isSameStart(before.events, at, after.events, at)) at++;
  let same = 0;
  while (same < most - at && isSameStart(before.events, old - 1 - same, after.events, now - 1 - same)) same++;
  const events = Object.fromEntries(
    COLUMN_NAMES.map((name) => [name, after.events[name].slice(at, now - same)]),
  ) as unknown as EventColumns;
  const { id, handId, lengthTicks } = after;
  return {
    id,
    handId,
    lengthTicks,
    moreZoneIds: after.zoneIds.slice(before.zoneIds.length),
    at,
    removed: old - same - at,
    events,
  };
}
