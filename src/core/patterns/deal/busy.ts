/** Fewer or more hits: a step gives its time to the one before it, or is divided in two. */
import type { PatternEvent } from '../../document/schema.ts';
import { mix32 } from '../../units/hash.ts';
import { seededRandom } from '../../units/random.ts';
import type { DrawNext } from './draw.ts';

/** Place of these draws in the seed: never to be changed, or a seed deals otherwise. */
const BUSY = 9;
/** The second half of a step that was divided, by the step's id. */
const SECOND_HALF = '-half';
/** What is shorter than this is not divided. */
const SHORTEST_DIVIDED_TICKS = 120;
/** Steps nearer than this come right after each other. */
const NEAR_TICKS = 60;

/** Joins what an earlier deal has divided, so that deals do not pile up. */
export function joinedAgain(
  events: readonly PatternEvent[],
  isFree: (event: PatternEvent) => boolean,
  plainOf: (id: string) => PatternEvent | undefined,
): PatternEvent[] {
  const halves = new Set(events.filter((event) => event.id.endsWith(SECOND_HALF) && isFree(event)));
  const divided = new Set([...halves].map(({ id }) => id.slice(0, -SECOND_HALF.length)));
  return events.flatMap((event) => {
    if (halves.has(event)) return [];
    if (!divided.has(event.id)) return [event];
    return [{ ...event, lengthTicks: plainOf(event.id)?.lengthTicks ?? event.lengthTicks * 2 }];
  });
}

/**
 * @param busyPercent below 0 so many of the free steps give their time away, above so many are divided; two numbers are
 * drawn for each, whether it is hit or not
 */
export function madeBusy(
  events: readonly PatternEvent[],
  seed: number,
  busyPercent: number,
  isFree: (event: PatternEvent) => boolean,
  next: DrawNext,
): PatternEvent[] {
  const random = seededRandom(mix32(seed, BUSY));
  const out: PatternEvent[] = [];
  for (const event of events) {
    const isHit = random() * 100 < Math.abs(busyPercent) && isFree(event);
    const own = random();
    const before = out.at(-1);
    if (isHit && busyPercent < 0 && before && isFree(before) && follows(before, event)) {
      out[out.length - 1] = { ...before, lengthTicks: event.positionTicks + event.lengthTicks - before.positionTicks };
    } else if (isHit && busyPercent > 0 && event.lengthTicks >= SHORTEST_DIVIDED_TICKS) {
      const lengthTicks = event.lengthTicks / 2;
      const half = { ...event, lengthTicks };
      const zoneId = next(event.zoneId, event.zoneId, () => own);
      const id = event.id.slice(0, 80 - SECOND_HALF.length) + SECOND_HALF;
      out.push(half, { ...half, id, zoneId, positionTicks: event.positionTicks + lengthTicks });
    } else out.push(event);
  }
  return out.sort((a, b) => a.positionTicks - b.positionTicks);
}

/** Does a step come right after another? */
function follows(before: PatternEvent, event: PatternEvent): boolean {
  return Math.abs(before.positionTicks + before.lengthTicks - event.positionTicks) <= NEAR_TICKS;
}
