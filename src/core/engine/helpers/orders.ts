/** In which order a runner goes through its sounds: one rule each. */
import { RUN_ORDERS, type RunOrder } from '../../params/helper-rows/runner.ts';
import { hashed01 } from '../../units/hash.ts';

/** Most sounds that are gone through: all keys, four octaves. */
export const MOST_RUN = 512;

/** Where a runner is. Steps are counted from its start; draws follow from the step and nothing else. */
export interface RunPlace {
  /** Sounds that have had their turn so far. */
  turn: number;
  /** How many there are to go through. */
  count: number;
  /** The one before; -1 before the first. */
  last: number;
  /** What is drawn from. */
  seed: number;
  /** The order of `each`, and for which turns it holds. */
  bag: Int16Array;
  bagTurn: number;
  bagCount: number;
}

export const newPlace = (): RunPlace => ({
  turn: 0,
  count: 0,
  last: -1,
  seed: 0,
  bag: new Int16Array(MOST_RUN),
  bagTurn: -1,
  bagCount: 0,
});

const inwards = (turn: number, count: number) => (turn % 2 === 0 ? turn / 2 : count - 1 - (turn - 1) / 2);

/** Goes up and comes down again, each end once. */
function upAndDown(turn: number, count: number): number {
  if (count < 2) return 0;
  const place = turn % (2 * count - 2);
  return place < count ? place : 2 * count - 2 - place;
}

/** All of them in an order that is drawn (R. A. Fisher, F. Yates, "Statistical tables", 1938), then in another. */
function each(place: RunPlace): number {
  const { turn, count, bag, last } = place;
  const cycle = turn - (turn % count);
  if (place.bagTurn !== cycle || place.bagCount !== count) {
    place.bagTurn = cycle;
    place.bagCount = count;
    for (let i = 0; i < count; i++) bag[i] = i;
    for (let i = count - 1; i > 0; i--) {
      const other = Math.floor(hashed01(place.seed, i) * (i + 1));
      const held = bag[i]!;
      bag[i] = bag[other]!;
      bag[other] = held;
    }
    // Not the one that was heard just now.
    if (count > 1 && bag[0] === last) {
      bag[0] = bag[count - 1]!;
      bag[count - 1] = last;
    }
  }
  return bag[turn - cycle]!;
}

/** One up or down from where it was, by chance; at the ends there is one way only. */
function walk({ last, count, seed }: RunPlace): number {
  if (last < 0) return 0;
  if (count < 2) return 0;
  if (last >= count) return count - 1;
  if (last === 0) return 1;
  if (last === count - 1) return count - 2;
  return last + (hashed01(seed, 0) < 0.5 ? -1 : 1);
}

const RULES: Readonly<Record<RunOrder, (place: RunPlace) => number>> = {
  up: ({ turn, count }) => turn % count,
  down: ({ turn, count }) => count - 1 - (turn % count),
  updown: ({ turn, count }) => upAndDown(turn, count),
  inwards: ({ turn, count }) => inwards(turn % count, count),
  outwards: ({ turn, count }) => inwards(count - 1 - (turn % count), count),
  played: ({ turn, count }) => turn % count,
  random: ({ seed, count }) => Math.floor(hashed01(seed, 0) * count),
  each,
  walk,
};
const RULE_AT = RUN_ORDERS.map((order) => RULES[order]);
export const AS_PLAYED = RUN_ORDERS.indexOf('played');
export const EACH = RUN_ORDERS.indexOf('each');

/** Which of the sounds, counted in their order, is played at a place. @param order place among {@link RUN_ORDERS} */
export function soundAt(order: number, place: RunPlace): number {
  return place.count === 0 ? -1 : RULE_AT[order]!(place);
}
