/** Choosing many strips of a pattern at once: pure questions about its events. */
import type { PatternEvent } from '../document/schema.ts';

export const STRIP_RULES = {
  all: { words: 'all', needsOne: false },
  others: { words: 'the others', needsOne: true },
  'same-sound': { words: 'of the same sound', needsOne: true },
  'same-role': { words: 'of the same role', needsOne: true },
  'every-second': { words: 'every second one', needsOne: false },
  'on-beats': { words: 'those on beats', needsOne: false },
  held: { words: 'those that are held', needsOne: false },
} as const;
export type StripRule = keyof typeof STRIP_RULES;

/** Nearer to a beat than this an event is on it: a sixth of a quarter note. */
const NEAR_BEAT_TICKS = 160;

/**
 * Ids that a rule chooses, starting from those chosen now; every second one and those on beats are taken out of the
 * chosen ones, or out of all where none is chosen.
 * @param events in order of position
 * @param roleOf role of what an event plays
 */
export function selectStrips(
  events: readonly PatternEvent[],
  chosenIds: readonly string[],
  rule: StripRule,
  beatTicks: number,
  roleOf: (zoneId: string) => string | undefined,
): string[] {
  const isChosen = new Set(chosenIds);
  const chosen = events.filter(({ id }) => isChosen.has(id));
  const among = chosen.length > 1 ? chosen : events;
  const idsOf = (list: readonly PatternEvent[]) => list.map(({ id }) => id);
  switch (rule) {
    case 'all':
      return idsOf(events);
    case 'others':
      return idsOf(events.filter(({ id }) => !isChosen.has(id)));
    case 'same-sound': {
      const zones = new Set(chosen.map(({ zoneId }) => zoneId));
      return idsOf(events.filter(({ zoneId }) => zones.has(zoneId)));
    }
    case 'same-role': {
      const roles = new Set(chosen.map(({ zoneId }) => roleOf(zoneId)));
      return idsOf(events.filter(({ zoneId }) => roles.has(roleOf(zoneId))));
    }
    case 'every-second':
      return idsOf(among.filter((_, place) => place % 2 === 0));
    case 'on-beats':
      return idsOf(
        among.filter(({ positionTicks }) => {
          const off = positionTicks - Math.round(positionTicks / beatTicks) * beatTicks;
          return Math.abs(off) < NEAR_BEAT_TICKS;
        }),
      );
    case 'held':
      return idsOf(events.filter(({ values }) => values.hold));
  }
}
