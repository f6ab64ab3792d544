/** Chance that is steered: over many seeds it comes out as it is set, and what is to stay stays. */
import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { DEAL_INTERVALS, DEAL_ROWS, type SparseDealValues } from '../../params/deal-rows.ts';
import { fullValues } from '../../params/row.ts';
import type { PatternEvent } from '../../document/schema.ts';
import { dealEvents } from './deal.ts';
import { isFreeStep, type DealTable } from './table.ts';

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
const roleOf = (zoneId: string) => zoneId.replace(/ \d+$/, '');
const byId = new Map(EVENTS.map((event) => [event.id, event]));
const TABLE: DealTable = {
  sounds: EVENTS.map(({ zoneId }) => ({ zoneId, role: roleOf(zoneId), weight: 1 })),
  lengthTicks: 3840,
  barTicks: 3840,
  beatTicks: 960,
  plainOf: (id) => byId.get(id),
  onlyIds: null,
  learnFrom: { home: [EVENTS.map(({ zoneId }) => zoneId)], starred: [] },
};
const deal = (seed: number, rules: SparseDealValues, reachPercent = 0, events = EVENTS, table = TABLE) =>
  dealEvents(events, { seed, reachPercent }, rules, table);

/**
 * Pearson's chi-square of counts against what is expected of each. Critical values at the level of 0.001, from the table
 * of the chi-square distribution in NIST/SEMATECH, e-Handbook of Statistical Methods, 1.3.6.7.4 (from memory):
 * 10.828 for 1 degree of freedom, 13.816 for 2, 16.266 for 3, 20.515 for 5, 24.322 for 7.
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

  it('repeats go as told, and only repeats do', () => {
    const pulls = (rates: 'even' | 'faster' | 'slower' | 'any') =>
      Array.from({ length: SEEDS }, (_, seed) => {
        const { repeats = 1, repeatPull = 0 } = deal(seed, { repeatsPercent: 50, repeatRates: rates })[0]!.values;
        if (repeats === 1) expect(repeatPull).toBe(0);
        return repeats > 1 ? [repeatPull] : [];
      }).flat();
    expect(pulls('even').every((pull) => pull === 0)).toBe(true);
    expect(pulls('faster').every((pull) => pull >= 0.2 && pull <= 1)).toBe(true);
    expect(pulls('slower').every((pull) => pull <= -0.2 && pull >= -1)).toBe(true);
    const any = pulls('any');
    const counts = [1, 0, -1].map((sign) => any.filter((pull) => Math.sign(pull) === sign).length);
    expect(chiSquare(counts, Array(3).fill(any.length / 3))).toBeLessThan(13.816);
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
      keepsFirstBar: fc.constant(false),
      sounds: fc.constantFrom('exchanged' as const, 'any' as const, 'home' as const),
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
          if (rules.keepsRoles) expect(roleOf(event.zoneId)).toBe(roleOf(before.zoneId));
        });
        if (rules.sounds === 'exchanged') {
          expect(dealt.map(({ zoneId }) => zoneId).sort()).toEqual(EVENTS.map(({ zoneId }) => zoneId).sort());
        }
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

describe('sounds that are drawn', () => {
  /** The sounds with weights of their own. */
  const weighted = (weights: readonly number[]): DealTable => ({
    ...TABLE,
    sounds: TABLE.sounds.map((sound, place) => ({ ...sound, weight: weights[place]! })),
  });

  it('come as often as their weights say; what is left out neither comes nor goes', () => {
    const weights = [4, 2, 1, 1, 0, 0, 0, 0];
    const counts = [0, 0, 0, 0];
    for (let seed = 1; seed <= SEEDS; seed++) {
      const dealt = deal(seed, { sounds: 'any' }, 100, EVENTS, weighted(weights));
      for (const place of [2, 4, 5, 6, 7]) expect(dealt[place]).toBe(EVENTS[place]);
      counts[Number(dealt[0]!.zoneId.at(-1))]!++;
    }
    expect(
      chiSquare(
        counts,
        [0.5, 0.25, 0.125, 0.125].map((share) => share * SEEDS),
      ),
    ).toBeLessThan(16.266);
  });

  it('follow each other as in the loop: what always came next does, what came next by half does by half', () => {
    const order = ['kick 0', 'snare 2', 'kick 0', 'closed hat 1'];
    const table = { ...TABLE, learnFrom: { home: [order], starred: [] } };
    let snares = 0;
    let kicks = 0;
    for (let seed = 1; seed <= SEEDS; seed++) {
      const dealt = deal(seed, { sounds: 'home' }, 100, EVENTS, table).map(({ zoneId }) => zoneId);
      dealt.forEach((zoneId, place) => {
        const before = dealt[place - 1];
        if (place === 2 || place === 3 || before === undefined) return;
        if (before === 'kick 0') {
          expect(['snare 2', 'closed hat 1']).toContain(zoneId);
          kicks++;
          if (zoneId === 'snare 2') snares++;
        } else if (before === 'snare 2' || before === 'closed hat 1') expect(zoneId).toBe('kick 0');
      });
    }
    expect(kicks).toBeGreaterThan(SEEDS);
    expect(chiSquare([snares, kicks - snares], [kicks / 2, kicks / 2])).toBeLessThan(10.828);
  });

  it('of their role where roles stay, whatever follows what', () => {
    for (let seed = 1; seed <= 200; seed++) {
      deal(seed, { sounds: 'home', keepsRoles: true }, 100).forEach(({ zoneId }, place) =>
        expect(roleOf(zoneId)).toBe(ROLES[place]),
      );
    }
  });
});

describe('stretches of time', () => {
  /** Two bars, the second with nothing on its third beat; beats 2 and 4 a little late. */
  const LONG: readonly PatternEvent[] = [0, 1, 2, 3, 4, 5, 7].map((beat) => ({
    id: `b${beat}`,
    zoneId: `sound ${beat}`,
    positionTicks: beat * 960 + (beat % 2 === 1 ? 20 : 0),
    lengthTicks: 480,
    values: beat === 4 ? { hold: true } : {},
  }));
  const table: DealTable = { ...TABLE, lengthTicks: 7680, sounds: [] };
  const beatOf = ({ positionTicks }: PatternEvent) => Math.floor((positionTicks + 60) / 960);

  it('change places whole, with their silences; what is held keeps its beat', () => {
    const restAt = new Set<number>();
    for (let seed = 1; seed <= 300; seed++) {
      const dealt = deal(seed, { unit: 'beat' }, 100, LONG, table);
      expect(dealt.map(({ id }) => id).sort()).toEqual(LONG.map(({ id }) => id).sort());
      const beats = dealt.map(beatOf);
      expect(new Set(beats).size).toBe(7);
      expect(dealt.find(({ id }) => id === 'b4')).toBe(LONG[4]);
      restAt.add([0, 1, 2, 3, 4, 5, 6, 7].find((beat) => !beats.includes(beat))!);
      expect(beats).toEqual([...beats].sort((a, b) => a - b));
    }
    expect([...restAt].sort()).toEqual([0, 1, 2, 3, 5, 7]);
  });

  it('leave the feel where it is, or take it along', () => {
    const late = (keepsFeel: boolean) =>
      deal(5, { unit: 'beat', keepsFeel }, 100, LONG, table).filter(
        (event) => event.positionTicks % 960 === 20 && beatOf(event) % 2 === 1,
      ).length;
    const dealt = deal(5, { unit: 'beat', keepsFeel: true }, 100, LONG, table);
    // Where something was before, it comes as late as that did.
    for (const event of dealt) {
      if (beatOf(event) !== 6) expect(event.positionTicks % 960).toBe(beatOf(event) % 2 === 1 ? 20 : 0);
    }
    expect(late(false)).toBeLessThan(late(true));
  });

  it('keep the strokes of a flam, and what lies between sixteenths, as far apart as they were', () => {
    const strokes = [0, 30, 120, 960, 1920, 2880].map((positionTicks, place) => ({
      ...LONG[0]!,
      id: `f${place}`,
      zoneId: `stroke ${place}`,
      positionTicks: positionTicks + (positionTicks >= 1920 ? 15 : 0),
      lengthTicks: 20,
    }));
    for (let seed = 1; seed <= 50; seed++) {
      const dealt = deal(seed, { unit: 'beat' }, 100, strokes, { ...table, lengthTicks: 3840 });
      const at = (id: string) => dealt.find((event) => event.id === id)!.positionTicks;
      expect(at('f1') - at('f0')).toBe(30);
      expect(at('f2') - at('f0')).toBeGreaterThanOrEqual(105);
      expect(new Set(dealt.map(({ positionTicks }) => positionTicks)).size).toBe(strokes.length);
    }
  });

  it('gives every order as often as any other: nine of four, and each sound on each step of sixteen', () => {
    const strips = (count: number): PatternEvent[] =>
      Array.from({ length: count }, (_, n) => ({
        id: `e${n}`,
        zoneId: `z${n}`,
        positionTicks: n * 240,
        lengthTicks: 240,
        values: {},
      }));
    const dealt = (count: number, seed: number) =>
      dealEvents(strips(count), { seed, reachPercent: 100 }).map(({ zoneId }) => zoneId);
    const orders = new Map<string, number>();
    for (let seed = 1; seed <= 9_000; seed++) {
      const order = dealt(4, seed).join();
      orders.set(order, (orders.get(order) ?? 0) + 1);
    }
    // Of four there are nine orders in which nothing stays (subfactorial of 4); five standard deviations are 150.
    expect(orders.size).toBe(9);
    for (const count of orders.values()) expect(Math.abs(count - 1_000)).toBeLessThan(150);
    const places = Array.from({ length: 16 }, () => 0);
    for (let seed = 1; seed <= 6_000; seed++) places[dealt(16, seed).indexOf('z1')]!++;
    expect(places[1]).toBe(0);
    for (const count of places.filter((_, at) => at !== 1)) expect(Math.abs(count - 400)).toBeLessThan(100);
  });

  it('of bars exchange bars; the first and the last stay if they are to', () => {
    const bars = Array.from({ length: 4 }, (_, bar) => ({
      ...LONG[0]!,
      id: `c${bar}`,
      zoneId: `s${bar}`,
      positionTicks: bar * 3840,
    }));
    const four = { ...table, lengthTicks: 4 * 3840 };
    const orders = new Set<string>();
    for (let seed = 1; seed <= 100; seed++) {
      const order = deal(seed, { unit: 'bar', keepsFirstBar: true, keepsLastBar: true }, 100, bars, four);
      orders.add(order.map(({ zoneId }) => zoneId).join(' '));
    }
    expect([...orders]).toEqual(['s0 s2 s1 s3']);
  });
});

describe('how busy', () => {
  it('below 0 so many give their time to the one before, and no time is lost', () => {
    let taken = 0;
    for (let seed = 1; seed <= SEEDS; seed++) {
      const dealt = deal(seed, { busyPercent: -40 });
      expect(dealt.reduce((sum, { lengthTicks }) => sum + lengthTicks, 0)).toBe(3840);
      taken += EVENTS.length - dealt.length;
    }
    // The first has none before it, the third is held, the fourth would lengthen a held one.
    const most = (EVENTS.length - 3) * SEEDS;
    expect(chiSquare([taken, most - taken], [0.4 * most, 0.6 * most])).toBeLessThan(10.828);
  });

  it('above 0 so many are divided; dealt again they do not pile up', () => {
    let divided = 0;
    for (let seed = 1; seed <= SEEDS; seed++) divided += deal(seed, { busyPercent: 25 }).length - EVENTS.length;
    const most = (EVENTS.length - 1) * SEEDS;
    expect(chiSquare([divided, most - divided], [0.25 * most, 0.75 * most])).toBeLessThan(10.828);
    let table: PatternEvent[] = [...EVENTS];
    for (let round = 1; round <= 20; round++) table = deal(round, { busyPercent: 60 }, 0, table);
    expect(table).toEqual(deal(20, { busyPercent: 60 }));
    expect(table.reduce((sum, { lengthTicks }) => sum + lengthTicks, 0)).toBe(3840);
  });
});

describe('only some', () => {
  it('of the steps take part where only those are to', () => {
    const onlyIds = new Set(['e0', 'e3', 'e5']);
    for (let seed = 1; seed <= 100; seed++) {
      const dealt = deal(seed, { pitchPercent: 100, busyPercent: -50 }, 100, EVENTS, { ...TABLE, onlyIds });
      for (const event of EVENTS) {
        if (onlyIds.has(event.id)) continue;
        const after = dealt.find(({ id }) => id === event.id)!;
        expect(after).toEqual(event);
      }
    }
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
