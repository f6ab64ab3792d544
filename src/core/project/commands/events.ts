/** Events of a pattern: placing, moving, lengthening, repeating, reversing, holding, removing. */
import type { Pattern, PatternEvent } from '../schema.ts';
import { refused, withPattern, type Command } from './command.ts';

/** Shortest event, in ticks: a 1/512 note. */
const MIN_LENGTH_TICKS = 7.5;

export interface PlaceEventArgs {
  patternId: string;
  sliceId: string;
  positionTicks: number;
  lengthTicks: number;
  velocity?: number;
}

export const placeEvent: Command<PlaceEventArgs> = (document, args, env) => {
  const pattern = document.patterns[args.patternId];
  if (pattern && !document.cuts[pattern.partId]!.slices[args.sliceId]) return refused('this slice is gone');
  return withPattern(document, args.patternId, (current) => {
    if (args.positionTicks < 0 || args.positionTicks >= current.lengthTicks) return null;
    const event: PatternEvent = {
      id: env.newId(),
      sliceId: args.sliceId,
      positionTicks: args.positionTicks,
      lengthTicks: fitLength(current, args.positionTicks, args.lengthTicks),
      velocity: args.velocity ?? 1,
      reverse: false,
      repeats: 1,
      held: false,
    };
    return { ...current, events: { ...current.events, [event.id]: event } };
  });
};

/** Lengths reach to the pattern's end at most. */
function fitLength(pattern: Pattern, positionTicks: number, lengthTicks: number): number {
  return Math.max(MIN_LENGTH_TICKS, Math.min(lengthTicks, pattern.lengthTicks - positionTicks));
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
      const event = events[eventId];
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
    const moving = args.eventIds.flatMap((eventId) => pattern.events[eventId] ?? []);
    if (moving.length === 0) return null;
    const first = Math.min(...moving.map((event) => event.positionTicks));
    const last = Math.max(...moving.map((event) => event.positionTicks));
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

/** Settings of events that are simply put. */
export type EventSettings = Partial<Pick<PatternEvent, 'sliceId' | 'velocity' | 'reverse' | 'repeats' | 'held'>>;

export const setEvents: Command<EventSelection & { settings: EventSettings }> = (document, args) => {
  const { repeats, velocity, sliceId } = args.settings;
  if (repeats !== undefined && !(Number.isInteger(repeats) && repeats >= 1 && repeats <= 32)) {
    return refused('a slice repeats 1 to 32 times');
  }
  if (velocity !== undefined && !(velocity >= 0 && velocity <= 1)) return refused('a velocity goes from 0 to 1');
  const pattern = document.patterns[args.patternId];
  if (sliceId !== undefined && pattern && !document.cuts[pattern.partId]!.slices[sliceId]) {
    return refused('this slice is gone');
  }
  return withPattern(
    document,
    args.patternId,
    changeEvents(args, (event) => ({ ...event, ...args.settings })),
  );
};

export const removeEvents: Command<EventSelection> = (document, { patternId, eventIds }) =>
  withPattern(document, patternId, (pattern) => {
    const events = Object.fromEntries(Object.entries(pattern.events).filter(([id]) => !eventIds.includes(id)));
    return Object.keys(events).length < Object.keys(pattern.events).length ? { ...pattern, events } : null;
  });
