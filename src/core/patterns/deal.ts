/**
 * Deals a pattern: a share of its steps, the reach, exchange their slices at random. Places, lengths and accents stay,
 * so the rhythm holds while the words change. The same seed, reach and events give the same hand on every machine.
 */
import type { PatternEvent } from '../project/schema.ts';
import { seededRandom, shuffled } from '../units/random.ts';

export interface DealSettings {
  seed: number;
  /** Share of the free steps that take part, 0..100. */
  reachPercent: number;
}

/**
 * @param events in order of position; held ones keep their slice
 * @returns the same events with slices exchanged; none is dealt its own slice where that can be helped
 */
export function dealEvents(events: readonly PatternEvent[], { seed, reachPercent }: DealSettings): PatternEvent[] {
  const random = seededRandom(seed);
  const free = events.map((_, index) => index).filter((index) => !events[index]!.held);
  const wanted = reachPercent <= 0 ? 0 : Math.max(2, Math.round((free.length * reachPercent) / 100));
  const chosen = shuffled(free, random)
    .slice(0, wanted)
    .sort((a, b) => a - b);
  if (chosen.length < 2) return [...events];
  const dealt = shuffled(
    chosen.map((index) => events[index]!.sliceId),
    random,
  );
  // A step that drew its own slice exchanges with the first step for which that helps both.
  for (let at = 0; at < chosen.length; at++) {
    const own = events[chosen[at]!]!.sliceId;
    if (dealt[at] !== own) continue;
    const other = dealt.findIndex((sliceId, to) => sliceId !== own && events[chosen[to]!]!.sliceId !== own);
    if (other >= 0) [dealt[at], dealt[other]] = [dealt[other]!, dealt[at]!];
  }
  const out = [...events];
  chosen.forEach((index, at) => {
    out[index] = { ...events[index]!, sliceId: dealt[at]! };
  });
  return out;
}
