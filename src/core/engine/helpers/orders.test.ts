import { describe, expect, it } from 'vitest';
import { RUN_ORDERS, type RunOrder } from '#core/params/helper-rows/runner.ts';
import { newPlace, soundAt } from './orders.ts';

/** The sounds of so many turns, as a runner goes through them. */
function run(order: RunOrder, count: number, turns: number): number[] {
  const place = newPlace();
  place.count = count;
  return Array.from({ length: turns }, (_, turn) => {
    place.turn = turn;
    place.seed = 1000 + turn;
    return (place.last = soundAt(RUN_ORDERS.indexOf(order), place));
  });
}

describe('orders of a runner', () => {
  it.each<[RunOrder, number[]]>([
    ['up', [0, 1, 2, 3, 4, 0, 1, 2]],
    ['down', [4, 3, 2, 1, 0, 4, 3, 2]],
    ['updown', [0, 1, 2, 3, 4, 3, 2, 1]],
    ['inwards', [0, 4, 1, 3, 2, 0, 4, 1]],
    ['outwards', [2, 3, 1, 4, 0, 2, 3, 1]],
    ['played', [0, 1, 2, 3, 4, 0, 1, 2]],
  ])('%s', (order, expected) => {
    expect(run(order, 5, 8)).toEqual(expected);
  });

  it('each sound comes once before any comes again, and none twice in a row', () => {
    for (const count of [2, 3, 7, 64]) {
      const turns = run('each', count, 6 * count);
      for (let cycle = 0; cycle < 6; cycle++) {
        expect(new Set(turns.slice(cycle * count, (cycle + 1) * count)).size).toBe(count);
      }
      expect(turns.some((sound, at) => at > 0 && sound === turns[at - 1])).toBe(false);
    }
    expect(run('each', 7, 7)).not.toEqual(run('each', 7, 14).slice(7));
  });

  it('at random, every sound is as likely', () => {
    const turns = run('random', 8, 16_000);
    const counts = Array.from({ length: 8 }, (_, sound) => turns.filter((one) => one === sound).length);
    // 2,000 each; five standard deviations of the binomial distribution are 209.
    for (const count of counts) expect(Math.abs(count - 2000)).toBeLessThan(209);
  });

  it('a walk goes one step at a time, and reaches both ends', () => {
    const turns = run('walk', 6, 2000);
    turns.slice(1).forEach((sound, at) => expect(Math.abs(sound - turns[at]!)).toBe(1));
    expect(Math.min(...turns)).toBe(0);
    expect(Math.max(...turns)).toBe(5);
  });

  it('one sound alone is played, whatever the order', () => {
    for (const order of RUN_ORDERS) expect(run(order, 1, 4)).toEqual([0, 0, 0, 0]);
    for (const order of RUN_ORDERS) expect(soundAt(RUN_ORDERS.indexOf(order), { ...newPlace(), count: 0 })).toBe(-1);
  });
});
