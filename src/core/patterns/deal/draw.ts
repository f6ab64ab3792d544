/** Drawing sounds by their weights: any that are admitted, or those that tend to follow what came before. */
import type { PatternEvent } from '../../document/schema.ts';
import { mix32 } from '../../units/hash.ts';
import { seededRandom, type Random } from '../../units/random.ts';
import { chosenOf } from './exchange.ts';
import { soundOf, type DealSettings, type DealSound, type DealTable } from './table.ts';

/** Place of these draws in the seed: never to be changed, or a seed deals otherwise. */
const DRAWS = 8;

/** How often each sound came right after each, in orders that go round. */
export type Followers = ReadonlyMap<string, ReadonlyMap<string, number>>;

export function followersIn(orders: readonly (readonly string[])[]): Followers {
  const followers = new Map<string, Map<string, number>>();
  for (const order of orders) {
    order.forEach((zoneId, place) => {
      const next = order[(place + 1) % order.length]!;
      const counts = followers.get(zoneId) ?? new Map<string, number>();
      followers.set(zoneId, counts.set(next, (counts.get(next) ?? 0) + 1));
    });
  }
  return followers;
}

/** One of several by their weights; undefined where none has any. @param random one number is drawn */
function drawn(
  sounds: readonly DealSound[],
  weightOf: (sound: DealSound) => number,
  random: Random,
): string | undefined {
  const total = sounds.reduce((sum, sound) => sum + weightOf(sound), 0);
  let left = random() * total;
  if (total <= 0) return undefined;
  for (const sound of sounds) {
    left -= weightOf(sound);
    if (left < 0) return sound.zoneId;
  }
  return sounds.findLast((sound) => weightOf(sound) > 0)?.zoneId;
}

/** Draws what comes after a sound. */
export type DrawNext = (before: string | undefined, instead: string, random: Random) => string;

/**
 * @param followers what tends to follow what; null: all that is admitted, whatever came before
 * @param keepsRole only sounds of the role of the one that is replaced
 */
export function drawNext(table: DealTable, followers: Followers | null, keepsRole: boolean): DrawNext {
  return (before, instead, random) => {
    const role = soundOf(table, instead)?.role;
    const admitted = keepsRole ? table.sounds.filter((sound) => sound.role === role) : table.sounds;
    const counts = before === undefined ? undefined : followers?.get(before);
    const share = random();
    const again = () => share;
    const next = counts && drawn(admitted, ({ zoneId, weight }) => weight * (counts.get(zoneId) ?? 0), again);
    return next ?? drawn(admitted, ({ weight }) => weight, again) ?? instead;
  };
}

/** Lets a share of the free steps draw what they play, from the first to the last; places, lengths and accents stay. */
export function drawSounds(
  events: readonly PatternEvent[],
  free: readonly number[],
  { seed, reachPercent }: DealSettings,
  next: DrawNext,
): PatternEvent[] {
  const random = seededRandom(mix32(seed, DRAWS));
  const chosen = new Set(chosenOf(free, reachPercent, random));
  let before = events.at(-1)?.zoneId;
  return events.map((event, place) => {
    const dealt = chosen.has(place) ? { ...event, zoneId: next(before, event.zoneId, random) } : event;
    before = dealt.zoneId;
    return dealt;
  });
}
