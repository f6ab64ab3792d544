/** Events of a pattern: placing, moving, lengthening, exchanging what they play, removing. */
import { MAX_TICKS } from '../../document/limits.ts';
import type { Pattern, PatternEvent } from '../../document/schema.ts';
import { find, refused, withPattern, type Command } from './command.ts';

/** Shortest event, in ticks: a 1/512 note. */
const MIN_LENGTH_TICKS = 7.5;

export interface PlaceEventArgs {
  patternId: string;
  zoneId: string;
  positionTicks: number;
  lengthTicks: number;
  values?: PatternEvent['values'];
}

export const placeEvent: Command<PlaceEventArgs> = (document, args, env) => {
  const pattern = find(document.patterns, args.patternId);
  if (pattern && find(document.zones, args.zoneId)?.partId !== pattern.partId) return refused('this slice is gone');
  return withPattern(document, args.patternId, (current) => {
    if (!(args.positionTicks >= 0 && args.positionTicks < current.lengthTicks)) return null;
    const event: PatternEvent = {
      id: env.newId(),
      zoneId: args.zoneId,
      positionTicks: args.positionTicks,
      lengthTicks: fitLength(current, args.positionTicks, args.lengthTicks),
      values: args.values ?? {},
    };
    return { ...current, events: { ...current.events, [event.id]: event } };
  });
};

/** Lengths reach to the pattern's end at most. */
export function fitLength(pattern: Pattern, positionTicks: number, lengthTicks: number): number {
  return Math.max(MIN_LENGTH_TICKS, Math.min(lengthTicks, pattern.lengthTicks - positionTicks, MAX_TICKS));
}

interface EventSelection {
  patternId: string;
  eventIds: readonly string[];
}

function changeEvents(
  { eventIds }: EventSelection,
  change: (event: PatternEvent, pattern: Pattern) => PatternEvent,
): (pattern: Pattern) => Pattern | null {
  return (pattern) => {
    const events = { ...pattern.events };
    let count = 0;
    for (const eventId of eventIds) {
      const event = find(events, eventId);
      if (!event) continue;
      events[eventId] = change(event, pattern);
      count++;
    }
    return count > 0 ? { ...pattern, events } : null;
  };
}

/** Moves events together by ticks; the group stops at the pattern's ends. */
export const moveEvents: Command<EventSelection & { byTicks: number }> = (document, args) =>
  withPattern(document, args.patternId, (pattern) => {
    let first = Infinity;
    let last = -Infinity;
    for (const eventId of args.eventIds) {
      const event = find(pattern.events, eventId);
      if (!event) continue;
      first = Math.min(first, event.positionTicks);
      last = Math.max(last, event.positionTicks);
    }
    if (first === Infinity) return null;
    const byTicks = Math.max(-first, Math.min(pattern.lengthTicks - MIN_LENGTH_TICKS - last, args.byTicks));
    return changeEvents(args, (event) => {
      const positionTicks = event.positionTicks + byTicks;
      return { ...event, positionTicks, lengthTicks: fitLength(pattern, positionTicks, event.lengthTicks) };
    })(pattern);
  });

/** Gives events a length. */
export const resizeEvents: Command<EventSelection & { lengthTicks: number }> = (document, args) =>
  withPattern(
    document,
    args.patternId,
    changeEvents(args, (event, pattern) => ({
      ...event,
      lengthTicks: fitLength(pattern, event.positionTicks, args.lengthTicks),
    })),
  );

/** Lets events play another zone. */
export const setEventZone: Command<EventSelection & { zoneId: string }> = (document, args) => {
  const pattern = find(document.patterns, args.patternId);
  if (pattern && find(document.zones, args.zoneId)?.partId !== pattern.partId) return refused('this slice is gone');
  return withPattern(
    document,
    args.patternId,
    changeEvents(args, (event) => ({ ...event, zoneId: args.zoneId })),
  );
};

/** Lets events play other zones, each the one that is told for its own; those whose zone is not told stay. */
export const exchangeEventZones: Command<EventSelection & { zoneIds: ReadonlyMap<string, string> }> = (
  document,
  args,
) => {
  const pattern = find(document.patterns, args.patternId);
  const isGone = [...args.zoneIds.values()].some((id) => find(document.zones, id)?.partId !== pattern?.partId);
  if (pattern && isGone) return refused('this slice is gone');
  return withPattern(
    document,
    args.patternId,
    changeEvents(args, (event) => {
      const zoneId = args.zoneIds.get(event.zoneId);
      return zoneId === undefined ? event : { ...event, zoneId };
    }),
  );
};

export const removeEvents: Command<EventSelection> = (document, { patternId, eventIds }) =>
  withPattern(document, patternId, (pattern) => {
    const going = new Set(eventIds);
    const events = Object.fromEntries(Object.entries(pattern.events).filter(([id]) => !going.has(id)));
    return Object.keys(events).length < Object.keys(pattern.events).length ? { ...pattern, events } : null;
  });
