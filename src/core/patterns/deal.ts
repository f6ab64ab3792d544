/**
 * Deals a pattern: a share of its steps, the reach, exchange what they play at random. Places, lengths and accents stay,
 * so the rhythm holds while the words change. The same seed, reach and events give the same hand on every machine.
 */
import type { PatternEvent } from '../project/schema.ts';
import { seededRandom, shuffled } from '../units/random.ts';

/** Grows when the same seed gives another hand. */
export const DEALER_VERSION = 1;

export interface DealSettings {
  seed: number;
  /** Share of the free steps that take part, 0..100. */
  reachPercent: number;
}

/**
 * @param events in order of position; those that hold keep what they play
 * @returns the same events with their zones exchanged; none is dealt its own where that can be helped
 */
export function dealEvents(events: readonly PatternEvent[], { seed, reachPercent }: DealSettings): PatternEvent[] {
  const random = seededRandom(seed);
  const free = events.map((_, index) => index).filter((index) => !events[index]!.values.hold);
  const wanted = reachPercent <= 0 ? 0 : Math.max(2, Math.round((free.length * reachPercent) / 100));
  const chosen = shuffled(free, random)
    .slice(0, wanted)
    .sort((a, b) => a - b);
  if (chosen.length < 2) return [...events];
  const dealt = shuffled(
    chosen.map((index) => events[index]!.zoneId),
    random,
  );
  // A step that drew its own slice exchanges with the first step for which that helps both.
  for (let at = 0; at < chosen.length; at++) {
    const own = events[chosen[at]!]!.zoneId;
    if (dealt[at] !== own) continue;
    const other = dealt.findIndex((zoneId, to) => zoneId !== own && events[chosen[to]!]!.zoneId !== own);
    if (other >= 0) [dealt[at], dealt[other]] = [dealt[other]!, dealt[at]!];
  }
  const out = [...events];
  chosen.forEach((index, at) => {
    out[index] = { ...events[index]!, zoneId: dealt[at]! };
  });
  return out;
}
