/** Patterns as columns, and what has changed between two of them. */
import type { PatternEvent } from '../../project/schema.ts';
import { eventValues } from '../../queries/values.ts';
import {
  COLUMN_NAMES,
  eventColumns,
  REPEATED,
  REVERSE,
  type EventColumns,
  type PatternFragment,
  type PatternSplice,
} from './fragments.ts';

/** Zones of a pattern by place; a zone keeps its place for good. */
export class ZoneNumbers {
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

/** A whole number that an id always gives (FNV-1a, 32 bits). */
function hashOf(text: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return hash >>> 0;
}
const seedById = new WeakMap<PatternEvent, number>();
function seedOf(event: PatternEvent): number {
  let seed = seedById.get(event);
  if (seed === undefined) seedById.set(event, (seed = hashOf(event.id)));
  return seed;
}

/** Spreads events out into columns, by position. @param events in order of position */
export function columnsOf(events: readonly PatternEvent[], numbers: ZoneNumbers): EventColumns {
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
    const flags = (values.reverse ? REVERSE : 0) | (values.repeats > 1 ? REPEATED : 0);
    for (let repeat = 0; repeat < values.repeats; repeat++, at++) {
      columns.positionTicks[at] = event.positionTicks + (event.lengthTicks * repeat) / values.repeats;
      columns.lengthTicks[at] = event.lengthTicks / values.repeats;
      columns.zone[at] = zone;
      columns.velocity[at] = values.velocity;
      columns.gainDb[at] = values.gainDb;
      columns.pan[at] = values.pan;
      columns.tuneCents[at] = values.tuneCents;
      columns.chancePercent[at] = values.chancePercent;
      columns.flags[at] = flags;
      columns.seed[at] = seedOf(event);
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
export function spliceBetween(before: PatternFragment, after: PatternFragment): PatternSplice {
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
  const { id, lengthTicks } = after;
  return {
    id,
    lengthTicks,
    moreZoneIds: after.zoneIds.slice(before.zoneIds.length),
    at,
    removed: old - same - at,
    events,
  };
}
