/** Exchanging at random: what strips play, or whole stretches of time with all that is in them. */
import type { PatternEvent } from '../../document/schema.ts';
import { seededRandom, shuffled, type Random } from '../../units/random.ts';
import { EARLY_TICKS, type DealSettings } from './table.ts';

/** The grid that a strip's feel is measured against. */
const FEEL_STEP_TICKS = 240;

/**
 * Which of so many take part: a share of them, at least two where any do, in their order.
 * @param free places of those that may
 */
export function chosenOf(free: readonly number[], reachPercent: number, random: Random): number[] {
  const wanted = reachPercent <= 0 ? 0 : Math.max(2, Math.round((free.length * reachPercent) / 100));
  return shuffled(free, random)
    .slice(0, wanted)
    .sort((a, b) => a - b);
}

/** Shuffles before an order is mended by hand: of different sounds one in three stands nowhere as it was. */
const MOST_SHUFFLES = 200;

/**
 * Items in random order, none in a place where its like was before where that can be helped. Shuffled until none is, so
 * that each order that can be comes as often as any other (rejection; D. E. Knuth, The Art of Computer Programming, vol. 2,
 * section 3.4.1, from memory).
 */
export function exchanged<T>(items: readonly T[], likeOf: (item: T) => string, random: Random): T[] {
  if (items.length < 2) return [...items];
  const likes = items.map(likeOf);
  let dealt = shuffled(items, random);
  for (let n = 1; n < MOST_SHUFFLES && dealt.some((item, at) => likeOf(item) === likes[at]); n++) {
    dealt = shuffled(items, random);
  }
  // One that drew its own exchanges with the first for which that helps both.
  for (let at = 0; at < items.length; at++) {
    const own = likes[at]!;
    if (likeOf(dealt[at]!) !== own) continue;
    const other = dealt.findIndex((item, to) => likeOf(item) !== own && likes[to] !== own);
    if (other >= 0) [dealt[at], dealt[other]] = [dealt[other]!, dealt[at]!];
  }
  return dealt;
}

/** Places by what they have in common, in the order in which each kind comes first. */
function grouped(places: readonly number[], kindOf: (place: number) => string): number[][] {
  const groups = new Map<string, number[]>();
  for (const place of places) {
    const kind = kindOf(place);
    const group = groups.get(kind);
    if (group) group.push(place);
    else groups.set(kind, [place]);
  }
  return [...groups.values()];
}

/**
 * Lets a share of the free steps exchange what they play; places, lengths and accents stay.
 * @param free places of the events that take part
 * @param roleOf only among steps of one role; null: among all
 */
export function exchangeSounds(
  events: readonly PatternEvent[],
  free: readonly number[],
  { seed, reachPercent }: DealSettings,
  roleOf: ((zoneId: string) => string) | null,
): PatternEvent[] {
  const random = seededRandom(seed);
  const chosen = chosenOf(free, reachPercent, random);
  const out = [...events];
  for (const group of grouped(chosen, (place) => roleOf?.(events[place]!.zoneId) ?? '')) {
    const dealt = exchanged(
      group.map((place) => events[place]!.zoneId),
      (zoneId) => zoneId,
      random,
    );
    group.forEach((place, at) => {
      out[place] = { ...events[place]!, zoneId: dealt[at]! };
    });
  }
  return out;
}

export interface StretchRules {
  /** Length of a stretch, in ticks. */
  unitTicks: number;
  lengthTicks: number;
  /** What is a little early or late is so in its new place as what was there before, or as it was itself. */
  keepsFeel: boolean;
  /** Only stretches that begin with one role exchange; null: all do. */
  roleOf: ((zoneId: string) => string) | null;
}

/**
 * Lets a share of the stretches of time exchange places, with all that begins in them and their silences. A stretch in
 * which something stays does not move, nor does a rest at the end that is shorter than one.
 */
export function exchangeStretches(
  events: readonly PatternEvent[],
  isFree: (event: PatternEvent) => boolean,
  { seed, reachPercent }: DealSettings,
  { unitTicks, lengthTicks, keepsFeel, roleOf }: StretchRules,
): PatternEvent[] {
  const count = Math.floor(lengthTicks / unitTicks + 1e-6);
  const stretchOf = ({ positionTicks }: PatternEvent) => Math.floor((positionTicks + EARLY_TICKS) / unitTicks);
  const contents: PatternEvent[][] = Array.from({ length: count }, () => []);
  for (const event of events) contents[stretchOf(event)]?.push(event);
  const free = contents.flatMap((inside, place) => (inside.every(isFree) ? [place] : []));
  const random = seededRandom(seed);
  const chosen = chosenOf(free, reachPercent, random);
  const placeOf = new Map<number, number>();
  const firstRole = (place: number) => (contents[place]![0] ? roleOf?.(contents[place]![0].zoneId) : '') ?? '';
  const sounds = (place: number) => contents[place]!.map(({ zoneId }) => zoneId).join(' ');
  for (const group of grouped(chosen, firstRole)) {
    exchanged(group, sounds, random).forEach((from, at) => placeOf.set(from, group[at]!));
  }
  const feel = keepsFeel ? feelByLine(events) : null;
  const moved = events
    .map((event) => {
      const from = stretchOf(event);
      const to = placeOf.get(from);
      if (to === undefined || to === from) return event;
      const there = event.positionTicks + (to - from) * unitTicks;
      const positionTicks = there + (feel ? feelShift(feel, event.positionTicks, there) : 0);
      return { ...event, positionTicks: Math.max(0, Math.min(lengthTicks - 1, positionTicks)) };
    })
    .sort((a, b) => a.positionTicks - b.positionTicks);
  return moved.map((event, place) => withoutOverlap(event, moved[place + 1], isFree));
}

/** What reaches a little into the next, because that is earlier here, ends where it begins. */
function withoutOverlap(
  event: PatternEvent,
  next: PatternEvent | undefined,
  isFree: (event: PatternEvent) => boolean,
): PatternEvent {
  const over = next ? event.positionTicks + event.lengthTicks - next.positionTicks : 0;
  if (over <= 0 || over > EARLY_TICKS || over >= event.lengthTicks || !isFree(event)) return event;
  return { ...event, lengthTicks: event.lengthTicks - over };
}

/** The sixteenth that a position is on, a little early or late; null for what lies between two. */
function lineOf(ticks: number): number | null {
  const line = Math.round(ticks / FEEL_STEP_TICKS) * FEEL_STEP_TICKS;
  return Math.abs(ticks - line) <= EARLY_TICKS ? line : null;
}

/** How late the first event on each sixteenth is, in ticks. */
function feelByLine(events: readonly PatternEvent[]): Map<number, number> {
  const feel = new Map<number, number>();
  for (const { positionTicks } of events) {
    const line = lineOf(positionTicks);
    if (line !== null && !feel.has(line)) feel.set(line, positionTicks - line);
  }
  return feel;
}

/** From the feel of one place to that of another: strokes of one hit keep their distance. */
function feelShift(feel: ReadonlyMap<number, number>, fromTicks: number, toTicks: number): number {
  const there = feel.get(lineOf(toTicks) ?? NaN);
  const here = feel.get(lineOf(fromTicks) ?? NaN);
  return there === undefined || here === undefined ? 0 : there - here;
}
