import { describe, expect, it } from 'vitest';
import { seededRandom } from '../units/random.ts';
import { strike, type MadeRole } from '../../../tests/support/made-drums.ts';
import { NO_PULLS } from './border.ts';
import { levelsOf } from './results.ts';
import { LONGEST_SECONDS, takeApart, type ApartWish } from './take-apart.ts';

const RATE = 44_100;
const PLAIN = { ring: null, softEdgePercent: 30, attacks: 'both', pulls: NO_PULLS } as const;
const TWO: ApartWish = {
  ...PLAIN,
  layers: [
    { role: 'kick', guide: null },
    { role: 'closed hat', guide: null },
  ],
};

/** Signal to distortion ratio of E. Vincent et al., IEEE TASLP 14, 2006, with nothing but the sound itself allowed. */
function sdrDb(truth: Float32Array, found: Float32Array): number {
  const power = (of: (i: number) => number) => truth.reduce((sum, _, i) => sum + of(i) ** 2, 1e-20);
  return 10 * Math.log10(power((i) => truth[i]!) / power((i) => truth[i]! - found[i]!));
}

function leftOf(slice: readonly Float32Array[], apart: ReturnType<typeof takeApart>): number {
  const rest = slice.map((samples, channel) =>
    samples.map((value, i) => [...apart.layers, apart.left].reduce((sum, layer) => sum - layer[channel]![i]!, value)),
  );
  return levelsOf(rest).rmsDb - levelsOf(slice).rmsDb;
}

/** A drum with a hat on it, 8 to 14 dB below, and each struck once more, otherwise. */
function struckTogether(low: MadeRole, seed: number) {
  const random = seededRandom(seed);
  const frames = Math.round((0.12 + 0.1 * random()) * RATE);
  const cut = (samples: Float32Array, gain = 1) => samples.slice(0, frames).map((value) => gain * value);
  const drum = cut(strike({ role: low, seed }, 1), 0.7);
  const dry = cut(strike({ role: 'closed hat', seed: seed + 40 }, 1));
  const down = -8 - 6 * random();
  const gain = 10 ** ((levelsOf([drum]).rmsDb - levelsOf([dry]).rmsDb + down) / 20);
  const hat = dry.map((value) => gain * value);
  const slice = drum.map((value, i) => value + hat[i]!);
  const guides = [strike({ role: low, seed }, 2), strike({ role: 'closed hat', seed: seed + 40 }, 2)];
  return { drum, hat, slice, guides };
}

const tenth = (values: readonly number[]) => values.toSorted((a, b) => a - b)[Math.floor(values.length / 10)]!;
const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;

describe('two drums that were struck together', () => {
  it.each([
    { low: 'kick' as const, leastDb: 8 },
    { low: 'snare' as const, leastDb: 5 },
  ])('a $low and a hat come apart at least $leastDb dB better than by plain cutting', ({ low, leastDb }) => {
    const gains: number[] = [];
    const attacks: number[] = [];
    for (let seed = 1; seed <= 10; seed++) {
      const { drum, hat, slice, guides } = struckTogether(low, seed);
      const layers = [low, 'closed hat' as const].map((role, place) => ({ role, guide: [guides[place]!] }));
      const apart = takeApart([slice], RATE, { ...PLAIN, layers });
      expect(leftOf([slice], apart)).toBeLessThan(-120);
      for (const [place, truth] of [drum, hat].entries()) {
        const found = apart.layers[place]![0]!;
        gains.push(sdrDb(truth, found) - sdrDb(truth, slice));
        const attack = (samples: Float32Array) => levelsOf([samples.subarray(0, 441)]).rmsDb;
        attacks.push(attack(found) - attack(truth));
      }
    }
    expect(mean(gains)).toBeGreaterThan(leastDb);
    expect(tenth(attacks)).toBeGreaterThan(-1);
  });

  it('a kick and a hat come apart also by what is known of them', () => {
    const gains = Array.from({ length: 6 }, (_, seed) => {
      const { drum, slice } = struckTogether('kick', seed + 1);
      return sdrDb(drum, takeApart([slice], RATE, TWO).layers[0]![0]!) - sdrDb(drum, slice);
    });
    expect(mean(gains)).toBeGreaterThan(8);
  });

  it('layers come in the order in which they were asked for, whichever is the brighter', () => {
    const { slice } = struckTogether('kick', 3);
    const other = takeApart([slice], RATE, { ...TWO, layers: TWO.layers.toReversed() });
    const one = takeApart([slice], RATE, TWO);
    expect(sdrDb(one.layers[0]![0]!, other.layers[1]![0]!)).toBeGreaterThan(60);
    expect([one.picture.upperPlace, other.picture.upperPlace]).toEqual([1, 0]);
  });

  it('a border pulled down gives the hat more, up less', () => {
    const { slice } = struckTogether('kick', 2);
    const hat = (octaves: number) =>
      levelsOf(takeApart([slice], RATE, { ...TWO, pulls: NO_PULLS.map(() => octaves) }).layers[1]!).rmsDb;
    expect(hat(-3)).toBeGreaterThan(hat(0) + 0.5);
    expect(hat(4)).toBeLessThan(hat(0) - 0.5);
  });
});

describe('the ring of the hit before', () => {
  const ringing = strike({ role: 'closed hat', seed: 9 }, 1, 1).map(
    (_, i) => 0.3 * Math.sin(i / 3) * Math.exp(-i / 12_000),
  );
  const gap = 6_000;
  const frames = 7_000;
  const own = strike({ role: 'snare', seed: 5 }, 1).slice(0, frames);
  const slice = own.map((value, i) => value + ringing[gap + i]!);
  const ring = { before: [ringing.slice(0, gap)], percent: 100, fromSeconds: 0, untilSeconds: 8, leavesLow: false };
  const wish: ApartWish = { ...PLAIN, layers: [{ role: 'snare', guide: null }], ring: { ...ring, alone: null } };
  const gainDb = (apart: ReturnType<typeof takeApart>) => sdrDb(own, apart.layers[0]![0]!) - sdrDb(own, slice);

  it('goes out of a slice, carried on from how it falls, and better where it is heard alone', () => {
    const carried = takeApart([slice], RATE, wish);
    const alone = takeApart([slice], RATE, { ...wish, ring: { ...ring, alone: [ringing] } });
    expect(gainDb(carried)).toBeGreaterThan(3);
    expect(gainDb(alone)).toBeGreaterThan(3);
    expect(leftOf([slice], carried)).toBeLessThan(-120);
  });

  it('goes out by an amount, between moments, and not where low notes are left', () => {
    const out = (change: Partial<typeof ring>) =>
      levelsOf(takeApart([slice], RATE, { ...wish, ring: { ...ring, alone: null, ...change } }).layers[1]!).rmsDb;
    const all = out({});
    expect(out({ percent: 50 })).toBeCloseTo(all - 20 * Math.log10(2), 1);
    expect(out({ percent: 0 })).toBeLessThan(-150);
    expect(out({ fromSeconds: 1 })).toBeLessThan(-150);
    expect(out({ untilSeconds: 0.03 })).toBeLessThan(all - 3);
    expect(out({ leavesLow: true })).toBeLessThan(all + 0.01);
  });

  it('is nothing where the hit before is too short to say anything', () => {
    const none = takeApart([slice], RATE, { ...wish, ring: { ...ring, alone: null, before: [ringing.slice(0, 400)] } });
    expect(levelsOf(none.layers[1]!).peakDb).toBeLessThan(-120);
  });
});

describe('what is no pair of drums', () => {
  const click = new Float32Array(4_000);
  click[100] = 1;
  it.each([
    ['silence', new Float32Array(4_000)],
    ['one sample', Float32Array.of(0.5)],
    ['a single click', click],
    ['5 ms', strike({ role: 'snare', seed: 1 }, 1).slice(0, 220)],
    ['a pure tone', Float32Array.from({ length: 9_000 }, (_, i) => Math.sin(i / 10))],
  ])('%s comes apart into numbers that are it together', (_, samples) => {
    const apart = takeApart([samples], RATE, TWO);
    for (const [layer] of [...apart.layers, apart.left]) {
      expect(layer!.every(Number.isFinite)).toBe(true);
      expect(layer).toHaveLength(samples.length);
    }
    const together = samples.map((_, i) =>
      [...apart.layers, apart.left].reduce((sum, layer) => sum + layer[0]![i]!, 0),
    );
    samples.forEach((value, i) => expect(together[i]!).toBeCloseTo(value, 5));
    expect(apart.picture.levels.every(Number.isFinite)).toBe(true);
  });

  it.each([8_000, 96_000, 192_000])('at %i Hz and in two channels it works alike', (rate) => {
    const { slice } = struckTogether('kick', 4);
    const channels = [slice, slice.map((value) => -0.5 * value)];
    const apart = takeApart(channels, rate, TWO);
    expect(leftOf(channels, apart)).toBeLessThan(-120);
    expect(
      sdrDb(
        apart.layers[0]![1]!,
        apart.layers[0]![0]!.map((value) => -0.5 * value),
      ),
    ).toBeGreaterThan(80);
  });

  it('too long a slice, none, and a wrong number of layers are refused', () => {
    const long = new Float32Array(LONGEST_SECONDS * 100 + 1);
    expect(() => takeApart([long], 100, TWO)).toThrow(RangeError);
    expect(() => takeApart([new Float32Array(0)], RATE, TWO)).toThrow(RangeError);
    expect(() => takeApart([click], RATE, { ...TWO, layers: [] })).toThrow(RangeError);
  });
});
