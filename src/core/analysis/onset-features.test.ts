import { describe, expect, it } from 'vitest';
import { BAND_COUNT, type BandEnergies } from './band-energies.ts';
import { candidateFeatures, FEATURE_COUNT, findCandidates, measureRises } from './onset-features.ts';

/** Energies that are the same in every band, by hop. */
function energiesOf(length: number, at: (hop: number) => number): BandEnergies {
  const band = Float32Array.from({ length }, (_, hop) => at(hop));
  return { hopFrames: 44, length, bands: Array.from({ length: BAND_COUNT }, () => band) };
}

describe('rises', () => {
  it('of a step by ten are 10 dB where all of it lies ahead and nothing of it behind', () => {
    const { short, long } = measureRises(energiesOf(400, (hop) => (hop < 200 ? 0.001 : 0.01)));
    for (const map of [short, long]) {
      expect(map).toHaveLength(BAND_COUNT);
      expect(map[0]![200]).toBeCloseTo(10, 1);
      // Long before and long after the level stands still.
      expect(map[0]![100]).toBe(0);
      expect(map[0]![300]).toBe(0);
    }
    // The long window sees the step sooner than the short one.
    expect(long[0]![190]).toBeGreaterThan(0);
    expect(short[0]![190]).toBe(0);
  });

  it('do not depend on the level, are never below 0, and end at a ceiling', () => {
    const shape = (hop: number) => (hop < 200 ? 1e-6 : Math.exp(-(hop - 200) / 30));
    const soft = measureRises(energiesOf(400, (hop) => 0.01 * shape(hop)));
    const loud = measureRises(energiesOf(400, shape));
    for (let hop = 0; hop < 400; hop++) {
      expect(soft.short[3]![hop]).toBeCloseTo(loud.short[3]![hop]!, 2);
      expect(loud.short[3]![hop]).toBeGreaterThanOrEqual(0);
      expect(loud.short[3]![hop]).toBeLessThanOrEqual(30);
    }
    expect(Math.max(...loud.short[3]!)).toBe(30);
  });

  it('are none in silence', () => {
    const { total } = measureRises(energiesOf(100, () => 0));
    expect(Math.max(...total)).toBe(0);
    expect(findCandidates(total)).toEqual([]);
  });
});

describe('candidates', () => {
  it('are the tops of the rises: near every hit the highest, never two within 9 hops', () => {
    const hits = [60, 150, 270];
    const energies = energiesOf(400, (hop) => {
      const last = hits.findLast((hit) => hit <= hop);
      return 0.05 + (last === undefined ? 0 : Math.exp(-(hop - last) / 12));
    });
    const { total } = measureRises(energies);
    // The file itself begins out of nothing: that is a rise, too.
    const found = findCandidates(total).filter((hop) => hop > 25);
    const highest = found.toSorted((a, b) => total[b]! - total[a]!).slice(0, 3);
    highest.sort((a, b) => a - b);
    highest.forEach((hop, index) => expect(Math.abs(hop - hits[index]!)).toBeLessThanOrEqual(4));
    found.slice(1).forEach((hop, index) => expect(hop - found[index]!).toBeGreaterThan(9));
  });

  it('of two equal tops are the first, of neighbours the higher', () => {
    const total = new Float32Array(60);
    total[20] = 40;
    total[27] = 39;
    expect(findCandidates(total)).toEqual([20]);
    total[27] = 40;
    expect(findCandidates(total)).toEqual([20]);
    total[27] = 41;
    expect(findCandidates(total)).toEqual([27]);
    total[40] = 4;
    // Below 5 dB in all bands together nothing is a hit.
    expect(findCandidates(total)).toEqual([27]);
  });

  it('are described by as many finite numbers each, at the ends of the signal, too', () => {
    const energies = energiesOf(120, (hop) => (hop % 40 < 2 ? 1 : 1e-4));
    const rises = measureRises(energies);
    const rows = candidateFeatures(energies, rises, [0, 40, 119]);
    for (const row of rows) {
      expect(row).toHaveLength(FEATURE_COUNT);
      expect(row.every(Number.isFinite)).toBe(true);
    }
    expect(rows[1]![0]).toBeGreaterThan(rows[2]![0]!);
  });
});
