/** Many strips at once: transformed, put down, two sounds exchanged everywhere, back to where they lie in the loop. */
import { transformStrips, type TransformId } from '../../patterns/transforms.ts';
import { eventsOf, orderedEvents, patternLengthTicks } from '../../queries/patterns.ts';
import { songValues } from '../../queries/values.ts';
import { seededRandom } from '../../units/random.ts';
import { countedBeats, countedBeatTicks, TICKS_PER_BEAT } from '../../units/time.ts';
import { homeId } from '../../document/home-id.ts';
import type { PatternEvent } from '../../document/schema.ts';
import { find, refused, withPattern, type Command } from './command.ts';
import { fitLength } from './events.ts';

/** Nearer than this two positions are the same, in ticks. */
const SAME_TICKS = 2;

/** Does one of the transforms to strips. @param gridTicks null for a free grid: sixteenths then */
export const transformEvents: Command<{
  patternId: string;
  eventIds: readonly string[];
  transform: TransformId;
  gridTicks: number | null;
}> = (document, { patternId, eventIds, transform, gridTicks }, env) => {
  const { beatsPerBar } = songValues(document);
  return withPattern(document, patternId, (pattern) => {
    const chosen = new Set(eventIds);
    const events = orderedEvents(pattern.events).filter(
      ({ id, positionTicks }) => chosen.has(id) && positionTicks < pattern.lengthTicks,
    );
    if (events.length === 0) return null;
    const after = transformStrips(transform, events, {
      lengthTicks: pattern.lengthTicks,
      gridTicks: gridTicks ?? TICKS_PER_BEAT / 4,
      beatTicks: countedBeatTicks(beatsPerBar),
      beatsPerBar: countedBeats(beatsPerBar),
      random: seededRandom(env.newSeed()),
      newId: env.newId,
    });
    const next = { ...pattern.events };
    for (const { id } of events) delete next[id];
    for (const event of after) next[event.id] = event;
    return { ...pattern, events: next };
  });
};

export interface StripToPlace {
  zoneId: string;
  positionTicks: number;
  lengthTicks: number;
  values: PatternEvent['values'];
}

/** Puts several strips down at once; what would begin outside of the pattern is left out. */
export const placeEvents: Command<{ patternId: string; strips: readonly StripToPlace[] }> = (
  document,
  { patternId, strips },
  env,
) => {
  const pattern = find(document.patterns, patternId);
  if (pattern && strips.some(({ zoneId }) => find(document.zones, zoneId)?.partId !== pattern.partId)) {
    return refused('one of these sounds is not in this part');
  }
  return withPattern(document, patternId, (current) => {
    const inside = strips.filter(({ positionTicks }) => positionTicks >= 0 && positionTicks < current.lengthTicks);
    if (inside.length === 0) return null;
    const events = { ...current.events };
    for (const strip of inside) {
      const id = env.newId();
      events[id] = { id, ...strip, lengthTicks: fitLength(current, strip.positionTicks, strip.lengthTicks) };
    }
    return { ...current, events };
  });
};

/** Two sounds change places wherever the pattern plays them. */
export const swapSounds: Command<{ patternId: string; zoneId: string; otherId: string }> = (
  document,
  { patternId, zoneId, otherId },
) =>
  withPattern(document, patternId, (pattern) => {
    let count = 0;
    const events = Object.fromEntries(
      Object.entries(pattern.events).map(([id, event]) => {
        const to = event.zoneId === zoneId ? otherId : event.zoneId === otherId ? zoneId : null;
        if (to === null) return [id, event];
        count++;
        return [id, { ...event, zoneId: to }];
      }),
    );
    return count > 0 ? { ...pattern, events } : null;
  });

/**
 * Strips back to what the loop itself plays from one place to another; what else lies there goes. Held strips stay, and
 * nothing is put where one of them begins.
 * @param fromTicks in the pattern; the loop goes round over a longer one
 */
export const goHome: Command<{ patternId: string; cutId: string; fromTicks: number; toTicks: number }> = (
  document,
  { patternId, cutId, fromTicks, toTicks },
  env,
) => {
  if (!find(document.cuts, cutId)) return refused('this cut is gone');
  const home = eventsOf(document, homeId(cutId));
  const homeTicks = patternLengthTicks(document, homeId(cutId));
  return withPattern(document, patternId, (pattern) => {
    if (home.length === 0 || homeTicks <= 0) return null;
    const isInside = ({ positionTicks }: { positionTicks: number }) =>
      positionTicks >= fromTicks - 1 && positionTicks < Math.min(toTicks, pattern.lengthTicks) - 1;
    const events = Object.fromEntries(
      Object.entries(pattern.events).filter(([, event]) => event.values.hold || !isInside(event)),
    );
    const heldTicks = Object.values(events).flatMap((event) => (event.values.hold ? [event.positionTicks] : []));
    for (let round = 0; round * homeTicks < pattern.lengthTicks; round++) {
      for (const { zoneId, positionTicks, lengthTicks } of home) {
        const at = { zoneId, positionTicks: positionTicks + round * homeTicks, lengthTicks, values: {} };
        if (!isInside(at) || heldTicks.some((ticks) => Math.abs(ticks - at.positionTicks) < SAME_TICKS)) continue;
        const id = env.newId();
        events[id] = { id, ...at };
      }
    }
    return { ...pattern, events };
  });
};
