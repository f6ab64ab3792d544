/** Chance that is steered: over many seeds it comes out as it is set, and what is to stay stays. */
import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { DEAL_INTERVALS, DEAL_ROWS, type SparseDealValues } from '../params/deal-rows.ts';
import { fullValues } from '../params/row.ts';
import type { PatternEvent } from '../project/schema.ts';
import { dealEvents, isFreeStep, type DealTable } from './deal.ts';

const ROLES = ['kick', 'closed hat', 'snare', 'closed hat', 'kick', 'kick', 'snare', 'open hat'];
const SEEDS = 10_000;

/** A bar of eighths, each its own sound; the third step is held. */
const EVENTS: readonly PatternEvent[] = ROLES.map((role, i) => ({
  id: `e${i}`,
  zoneId: `${role} ${i}`,
  positionTicks: i * 480,
  lengthTicks: 480,
  values: i === 2 ? { hold: true } : {},
}));
const byId = new Map(EVENTS.map((event) => [event.id, event]));
const TABLE: DealTable = {
  roleOf: (zoneId) => zoneId.replace(/ \d+$/, ''),
  barTicks: 3840,
  beatTicks: 960,
  plainOf: (id) => byId.get(id),
};
const deal = (seed: number, rules: SparseDealValues, reachPercent = 0, events = EVENTS) =>
  dealEvents(events, { seed, reachPercent }, rules, TABLE);

/**
 * Pearson's chi-square of counts against what is expected of each. Critical values at the level of 0.001, from the table
 * of the chi-square distribution in NIST/SEMATECH, e-Handbook of Statistical Methods, 1.3.6.7.4 (from memory):
 * 10.828 for 1 degree of freedom, 13.816 for 2, 20.515 for 5, 24.322 for 7.
 */
function chiSquare(counts: readonly number[], expected: readonly number[]): number {
  return counts.reduce((sum, count, i) => sum + (count - expected[i]!) ** 2 / expected[i]!, 0);
}

describe('over 10,000 seeds', () => {
  it.each([
    ['backwardsPercent', ({ values }: PatternEvent) => values.reverse === true],
    ['silencePercent', ({ values }: PatternEvent) => values.chancePercent === 0],
    ['repeatsPercent', ({ values }: PatternEvent) => (values.repeats ?? 1) > 1],
    ['pitchPercent', ({ values }: PatternEvent) => (values.tuneCents ?? 0) !== 0],
    ['shortPercent', ({ lengthTicks }: PatternEvent) => lengthTicks === 240],
  ] as const)('%s hits as often as it says, each step by itself', (rule, isHit) => {
    const hits = EVENTS.map(() => 0);
    for (let seed = 1; seed <= SEEDS; seed++) {
      deal(seed, { [rule]: 30 }).forEach((event, place) => (hits[place]! += isHit(event) ? 1 : 0));
    }
    expect(hits[2]).toBe(0);
    hits.forEach((count, place) => {
      if (place === 2) return;
      expect(chiSquare([count, SEEDS - count], [0.3 * SEEDS, 0.7 * SEEDS])).toBeLessThan(10.828);
    });
  });

  it('repeats are spread evenly over their counts, pitch over its intervals', () => {
    const repeats = new Map<number, number>();
    const cents = new Map<number, number>();
    for (let seed = 1; seed <= SEEDS; seed++) {
      const { values } = deal(seed, { repeatsPercent: 100, mostRepeats: 4, pitchPercent: 100 })[0]!;
      repeats.set(values.repeats!, (repeats.get(values.repeats!) ?? 0) + 1);
      cents.set(values.tuneCents!, (cents.get(values.tuneCents!) ?? 0) + 1);
    }
    expect([...repeats.keys()].sort()).toEqual([2, 3, 4]);
    expect(chiSquare([...repeats.values()], Array(3).fill(SEEDS / 3))).toBeLessThan(13.816);
    expect([...cents.keys()].sort((a, b) => a - b)).toEqual(DEAL_INTERVALS.fifths.map((step) => step * 100));
    expect(chiSquare([...cents.values()], Array(6).fill(SEEDS / 6))).toBeLessThan(20.515);
  });

  it('level and pan lie within their spread, evenly', () => {
    const eighths = Array<number>(8).fill(0);
    for (let seed = 1; seed <= SEEDS; seed++) {
      const { gainDb = 0, pan = 0 } = deal(seed, { levelSpreadDb: 6, panSpread: 0.5 })[0]!.values;
      expect(Math.abs(pan)).toBeLessThanOrEqual(0.5);
      eighths[Math.min(7, Math.floor(((gainDb + 6) / 12) * 8))]!++;
    }
    expect(chiSquare(eighths, Array(8).fill(SEEDS / 8))).toBeLessThan(24.322);
  });
});

describe('what stays', () => {
  const anything = fc.record({
    seed: fc.integer({ min: 1, max: 2 ** 31 - 1 }),
    reach: fc.integer({ min: 0, max: 100 }),
    rules: fc.record({
      keepsRoles: fc.boolean(),
      keepsFirstBeats: fc.boolean(),
      keepsKicks: fc.boolean(),
      keepsSnares: fc.boolean(),
      silencePercent: fc.integer({ min: 0, max: 100 }),
      repeatsPercent: fc.integer({ min: 0, max: 100 }),
      pitchPercent: fc.integer({ min: 0, max: 100 }),
      shortPercent: fc.integer({ min: 0, max: 100 }),
      panSpread: fc.double({ min: 0, max: 1, noNaN: true }),
    }),
  });

  it('held steps, and those that the rules keep, never change; with roles every step keeps its role', () => {
    fc.assert(
      fc.property(anything, ({ seed, reach, rules }) => {
        const dealt = deal(seed, rules, reach);
        const full = fullValues(DEAL_ROWS, rules);
        dealt.forEach((event, place) => {
          const before = EVENTS[place]!;
          if (!isFreeStep(before, full, TABLE)) expect(event).toBe(before);
          if (rules.keepsRoles) expect(TABLE.roleOf(event.zoneId)).toBe(TABLE.roleOf(before.zoneId));
        });
        expect(dealt.map(({ zoneId }) => zoneId).sort()).toEqual(EVENTS.map(({ zoneId }) => zoneId).sort());
        expect(deal(seed, rules, reach)).toEqual(dealt);
      }),
    );
  });

  it('the first beat is a beat long, and a step a little before the bar line belongs to it', () => {
    const full = fullValues(DEAL_ROWS, { keepsFirstBeats: true });
    const isFree = (positionTicks: number) => isFreeStep({ ...EVENTS[0]!, positionTicks }, full, TABLE);
    expect([0, 480, 899, 3800, 3840].map(isFree)).toEqual([false, false, false, false, false]);
    expect([960, 1920, 3700].map(isFree)).toEqual([true, true, true]);
  });
});

describe('colours', () => {
  it('one changes nothing that another has drawn', () => {
    const alone = deal(77, { backwardsPercent: 50 }).map(({ values }) => values.reverse);
    const both = deal(77, { backwardsPercent: 50, pitchPercent: 50, silencePercent: 40 }, 100);
    expect(both.map(({ values }) => values.reverse)).toEqual(alone);
  });

  it('dealt again they do not pile up: a step that is not hit is as it was before', () => {
    let table: PatternEvent[] = [...EVENTS];
    for (let round = 1; round <= 50; round++)
      table = deal(round, { backwardsPercent: 50, silencePercent: 50 }, 0, table);
    expect(table).toEqual(deal(50, { backwardsPercent: 50, silencePercent: 50 }));
  });

  it('golden: a seed with rules deals the same for ever', () => {
    const rules = { silencePercent: 30, backwardsPercent: 30, repeatsPercent: 40, pitchPercent: 40, shortPercent: 20 };
    const words = deal(20417, rules, 60).map(
      ({ zoneId, lengthTicks, values }) =>
        `${zoneId.at(-1)}/${lengthTicks}/${values.repeats ?? 1}/${(values.tuneCents ?? 0) / 100}${values.reverse ? '<' : ''}${values.chancePercent === 0 ? '-' : ''}`,
    );
    expect(words.join(' ')).toMatchInlineSnapshot(
      `"3/480/3/0<- 1/480/3/-12< 2/480/1/0 7/480/3/0- 4/480/1/0 5/480/1/5 0/480/4/0 6/240/1/0<"`,
    );
  });
});
