import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import type { PatternEvent } from '../document/schema.ts';
import { eventValues } from '../queries/values.ts';
import { seededRandom } from '../units/random.ts';
import { repeatsOf } from '../strips/repeats.ts';
import { selectStrips, type StripRule } from './strip-selection.ts';
import { TRANSFORM_IDS, transformStrips, type TransformId } from './transforms.ts';

/** Four strips in a bar of 4/4: on one, on the "and" of two, on three, and a sixteenth before the end. */
const FIGURE: readonly (readonly [position: number, length: number, zone: string])[] = [
  [0, 480, 'kick'],
  [1440, 240, 'snare'],
  [1920, 480, 'kick'],
  [3600, 240, 'hat'],
];

function figure(rows = FIGURE): PatternEvent[] {
  return rows.map(([positionTicks, lengthTicks, zoneId], i) => ({
    id: `e${i}`,
    zoneId,
    positionTicks,
    lengthTicks,
    values: {},
  }));
}

function apply(id: TransformId, events = figure(), settings: { gridTicks?: number; seed?: number } = {}) {
  let ids = 0;
  return transformStrips(id, events, {
    lengthTicks: 3840,
    gridTicks: settings.gridTicks ?? 240,
    beatTicks: 960,
    beatsPerBar: 4,
    random: seededRandom(settings.seed ?? 1),
    newId: () => `new-${++ids}`,
  });
}
const places = (events: readonly PatternEvent[]) =>
  events.map(({ positionTicks, lengthTicks }) => [positionTicks, lengthTicks]);

describe('transforms of strips, worked by hand', () => {
  it('a step later: what leaves at the end comes in at the start', () => {
    expect(places(apply('later'))).toEqual([
      [240, 480],
      [1680, 240],
      [2160, 480],
      [0, 240],
    ]);
    const back = apply('earlier', apply('later'));
    expect(places(back)).toEqual(places(figure()));
  });

  it('mirrored in time, the distances come in the other order', () => {
    expect(places(apply('mirror'))).toEqual([
      [3360, 480],
      [2160, 240],
      [1440, 480],
      [0, 240],
    ]);
    expect(places(apply('mirror', apply('mirror').reverse()).reverse())).toEqual(places(figure()));
  });

  it('twice as fast is all of it twice in the same time; half as fast keeps what has room', () => {
    const doubled = apply('double');
    expect(places(doubled)).toEqual([
      [0, 240],
      [720, 120],
      [960, 240],
      [1800, 120],
      [1920, 240],
      [2640, 120],
      [2880, 240],
      [3720, 120],
    ]);
    expect(new Set(doubled.map(({ id }) => id)).size).toBe(8);
    expect(places(apply('halve'))).toEqual([
      [0, 960],
      [2880, 480],
    ]);
  });

  it('thins out, fills up, cuts in two', () => {
    expect(apply('thin').map(({ id }) => id)).toEqual(['e0', 'e2']);
    const filled = apply('fill', figure().slice(0, 2), { gridTicks: 480 });
    expect(places(filled)).toEqual([
      [0, 480],
      [480, 480],
      [960, 480],
      [1440, 240],
    ]);
    expect(filled.map((event) => event.values.velocity)).toEqual([undefined, 0.6, 0.6, undefined]);
    expect(places(apply('halves', figure().slice(0, 1)))).toEqual([
      [0, 240],
      [240, 240],
    ]);
  });

  it('to the next and short', () => {
    expect(places(apply('legato')).map(([, length]) => length)).toEqual([1440, 480, 1680, 240]);
    expect(places(apply('staccato')).map(([, length]) => length)).toEqual([120, 120, 120, 120]);
  });

  it('onto the grid: each to the nearest step, from the end round to the start', () => {
    const loose = figure([
      [7, 240, 'kick'],
      [1430, 240, 'snare'],
      [3830, 240, 'hat'],
    ]);
    expect(apply('straighten', loose).map(({ positionTicks }) => positionTicks)).toEqual([0, 1440, 0]);
  });

  it('accents the first beat, then the others, then what lies between', () => {
    expect(apply('accent').map(({ values }) => values.velocity)).toEqual([1, 0.66, 0.86, 0.66]);
  });

  it('accents two and four, or what lies between the beats; grows and fades evenly', () => {
    const eighths = figure(Array.from({ length: 8 }, (_, step): [number, number, string] => [step * 480, 240, 'hat']));
    const velocities = (id: TransformId) => apply(id, eighths).map(({ values }) => Math.round(values.velocity! * 100));
    expect(velocities('backbeat')).toEqual([80, 62, 100, 62, 80, 62, 100, 62]);
    expect(velocities('offbeats')).toEqual([70, 100, 70, 100, 70, 100, 70, 100]);
    expect(velocities('growing')).toEqual([40, 49, 57, 66, 74, 83, 91, 100]);
    expect(velocities('fading')).toEqual([100, 91, 83, 74, 66, 57, 49, 40]);
    // One alone is the first of its row.
    expect(apply('growing', eighths.slice(3, 4))[0]!.values.velocity).toBe(0.4);
  });

  it('loosens by 12 ticks at most, the same for the same seed', () => {
    const one = apply('humanise', figure(), { seed: 7 });
    expect(one).toEqual(apply('humanise', figure(), { seed: 7 }));
    expect(one).not.toEqual(apply('humanise', figure(), { seed: 8 }));
    one.forEach((event, i) => {
      expect(Math.abs(event.positionTicks - FIGURE[i]![0])).toBeLessThanOrEqual(12);
      expect(event.values.velocity).toBeGreaterThan(0.87);
    });
  });

  it('whatever is chosen, all that comes out lies in the pattern and has a length', () => {
    const strip = fc.record({
      at: fc.double({ min: 0, max: 3839, noNaN: true }),
      long: fc.integer({ min: 8, max: 3840 }),
    });
    fc.assert(
      fc.property(fc.array(strip, { minLength: 1, maxLength: 30 }), fc.constantFrom(...TRANSFORM_IDS), (rows, id) => {
        const events = figure(rows.sort((a, b) => a.at - b.at).map(({ at, long }) => [at, long, 'kick']));
        for (const event of apply(id, events)) {
          expect(event.positionTicks).toBeGreaterThanOrEqual(0);
          expect(event.positionTicks).toBeLessThan(3840);
          expect(event.lengthTicks).toBeGreaterThanOrEqual(7.5);
        }
      }),
    );
  });
});

describe('repeats inside a strip', () => {
  const of = (values: PatternEvent['values']) => repeatsOf(eventValues({ ...figure()[0]!, values }));

  it('even ones lie at equal distances, drawn together the last is a quarter of the first', () => {
    expect(of({ repeats: 4 }).map(({ startShare }) => startShare)).toEqual([0, 0.25, 0.5, 0.75]);
    const drawn = of({ repeats: 5, repeatPull: 1 }).map(({ lengthShare }) => lengthShare);
    expect(drawn.at(-1)! / drawn[0]!).toBeCloseTo(0.25, 12);
    expect(drawn.reduce((sum, share) => sum + share, 0)).toBeCloseTo(1, 12);
    // Each is the same share of the one before: 1/sqrt(2).
    expect(drawn[1]! / drawn[0]!).toBeCloseTo(Math.SQRT1_2, 12);
  });

  it('level and pitch rise in equal steps up to the last', () => {
    const rising = of({ repeats: 4, repeatGainDb: 6, repeatCents: -300 });
    expect(rising.map(({ gainDb }) => gainDb)).toEqual([0, 2, 4, 6]);
    expect(rising.map(({ tuneCents }) => tuneCents + 0)).toEqual([0, -100, -200, -300]);
  });
});

describe('choosing strips by a rule', () => {
  const roles: Record<string, string> = { kick: 'kick', snare: 'snare', hat: 'hat' };
  const chosen = (rule: StripRule, ids: string[]) => selectStrips(figure(), ids, rule, 960, (zoneId) => roles[zoneId]);

  it('by sound, by role, every second one, on beats, the others', () => {
    expect(chosen('same-sound', ['e0'])).toEqual(['e0', 'e2']);
    expect(chosen('same-role', ['e1'])).toEqual(['e1']);
    expect(chosen('every-second', [])).toEqual(['e0', 'e2']);
    expect(chosen('every-second', ['e1', 'e2', 'e3'])).toEqual(['e1', 'e3']);
    expect(chosen('on-beats', [])).toEqual(['e0', 'e2']);
    expect(chosen('others', ['e0', 'e1'])).toEqual(['e2', 'e3']);
    expect(chosen('held', [])).toEqual([]);
  });
});
