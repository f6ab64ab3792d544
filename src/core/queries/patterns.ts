/** Patterns as they are played and drawn, home patterns included. */
import { cutIdOfHome } from '../document/home-id.ts';
import type { Cut, Pattern, PatternEvent, ProjectDocument, Part } from '../document/schema.ts';
import { homeEvents } from '../strips/home.ts';
import { compareText, slicesOfCut, type PlacedSlice } from './slices.ts';
import { songValues } from './values.ts';
import { zonesBySlice, zonesOfPart, type PlacedZone } from './zones.ts';
import { loopLengthTicks, TICKS_PER_BEAT } from '../units/time.ts';

const NO_EVENTS: readonly PatternEvent[] = [];
const homeByCut = new WeakMap<Cut, { zones: readonly PlacedZone[]; barTicks: number; events: PatternEvent[] }>();
const orderedByEvents = new WeakMap<Pattern['events'], PatternEvent[]>();

/**
 * Events by position, so that every machine plays them in one order. Of several on one step the strongest comes last: where
 * a part plays one at a time that is the one that is heard, and of equally strong ones always that of the same sound.
 */
export function orderedEvents(events: Pattern['events']): readonly PatternEvent[] {
  const known = orderedByEvents.get(events);
  if (known) return known;
  const ordered = Object.values(events).sort((a, b) => a.positionTicks - b.positionTicks || onOneStep(a, b));
  orderedByEvents.set(events, ordered);
  return ordered;
}

function onOneStep(a: PatternEvent, b: PatternEvent): number {
  const weaker = (a.values.velocity ?? 1) - (b.values.velocity ?? 1);
  return weaker || compareText(a.zoneId, b.zoneId) || compareText(a.id, b.id);
}

function barTicks(document: ProjectDocument): number {
  return songValues(document).beatsPerBar * TICKS_PER_BEAT;
}

/** Length of a cut's home pattern: its loop's; a bar of the song for each four slices of what is no loop. */
function homeLengthTicks(document: ProjectDocument, cut: Cut, placed: readonly PlacedSlice[]): number {
  if (cut.loop) return loopLengthTicks(cut.loop);
  const bar = barTicks(document);
  return Math.max(1, Math.ceil((placed.length * TICKS_PER_BEAT) / bar)) * bar;
}

function homePatternEvents(document: ProjectDocument, cut: Cut): readonly PatternEvent[] {
  const part = document.parts[cut.partId]!;
  const zones = zonesOfPart(document, part);
  const bar = barTicks(document);
  const known = homeByCut.get(cut);
  if (known && known.zones === zones && (cut.loop || known.barTicks === bar)) return known.events;
  const placed = slicesOfCut(document, cut.id);
  const own = zones.filter((zone) => zone.cut === cut);
  const bySlice = zonesBySlice(own);
  const zoneIdBySlice = new Map(placed.map(({ slice }) => [slice.id, bySlice.get(slice.id)?.zone.id]));
  const events = homeEvents(placed, cut.loop, homeLengthTicks(document, cut, placed)).flatMap(
    ({ sliceId, positionTicks, lengthTicks }) => {
      const zoneId = zoneIdBySlice.get(sliceId);
      return zoneId === undefined
        ? []
        : [{ id: `home-${zoneId}`.slice(0, 80), zoneId, positionTicks, lengthTicks, values: {} }];
    },
  );
  // What has not moved stays the same list, so that whoever follows it sees that nothing has changed.
  const kept = known && isSameEvents(known.events, events) ? known.events : events;
  homeByCut.set(cut, { zones, barTicks: bar, events: kept });
  return kept;
}

function isSameEvents(a: readonly PatternEvent[], b: readonly PatternEvent[]): boolean {
  return (
    a.length === b.length &&
    a.every(({ zoneId, positionTicks, lengthTicks }, place) => {
      const other = b[place]!;
      return other.zoneId === zoneId && other.positionTicks === positionTicks && other.lengthTicks === lengthTicks;
    })
  );
}

/** Events of a pattern by position; what lies beyond its end waits there until it is made longer again. */
export function eventsOf(document: ProjectDocument, patternId: string): readonly PatternEvent[] {
  const cutId = cutIdOfHome(patternId);
  if (cutId !== null) {
    const cut = document.cuts[cutId];
    return cut ? homePatternEvents(document, cut) : NO_EVENTS;
  }
  const pattern = document.patterns[patternId];
  if (!pattern) return NO_EVENTS;
  const ordered = orderedEvents(pattern.events);
  const last = ordered.at(-1);
  if (!last || last.positionTicks < pattern.lengthTicks) return ordered;
  return ordered.filter((event) => event.positionTicks < pattern.lengthTicks);
}

/** Length of a pattern in ticks; 0 for an id that names none. */
export function patternLengthTicks(document: ProjectDocument, patternId: string): number {
  const cut = document.cuts[cutIdOfHome(patternId) ?? ''];
  if (cut) return homeLengthTicks(document, cut, slicesOfCut(document, cut.id));
  return document.patterns[patternId]?.lengthTicks ?? 0;
}

const NO_GROUND: Pattern['events'] = {};

/** The events of a hand: the pattern's ground with what differs. */
export function eventsOfHand(pattern: Pick<Pattern, 'ground' | 'hands'>, handId: string): Pattern['events'] {
  const hand = pattern.hands[handId];
  const ground = pattern.ground ?? NO_GROUND;
  if (!hand) return ground;
  const known = handEvents.get(hand);
  if (known?.ground === ground) return known.events;
  const events: Pattern['events'] = { ...ground };
  for (const [id, event] of Object.entries(hand.differs)) {
    if (event === null) delete events[id];
    else events[id] = event;
  }
  handEvents.set(hand, { ground, events });
  return events;
}
/** With the ground that they were put together from: a hand stays the same record when only its ground changes. */
const handEvents = new WeakMap<Pattern['hands'][string], { ground: Pattern['ground']; events: Pattern['events'] }>();

/** What was just dealt need not be put together again. @param events of the hand, all of them */
export function rememberHand(
  hand: Pattern['hands'][string],
  ground: Pattern['ground'],
  events: Pattern['events'],
): void {
  handEvents.set(hand, { ground, events });
}

/** What a home pattern is called: "home", and of further sounds of a part after the sound. */
export function nameOfHome({ cuts, sources, parts }: ProjectDocument, cutId: string): string {
  const cut = cuts[cutId]!;
  const isFirst = parts[cut.partId]!.cutOrder[0] === cutId;
  return isFirst ? 'home' : `home: ${sources[cut.sourceId]!.name}`;
}

/** What the pattern that a part plays is called. */
export function patternName(
  { patterns }: Pick<ProjectDocument, 'patterns'>,
  { activePatternId }: Pick<Part, 'activePatternId'>,
): string {
  return patterns[activePatternId]?.name ?? 'home';
}

/** The name of any pattern, a home pattern too. */
export function nameOfPattern(document: ProjectDocument, patternId: string): string {
  const homeOf = cutIdOfHome(patternId);
  return homeOf === null ? (document.patterns[patternId]?.name ?? '') : nameOfHome(document, homeOf);
}
