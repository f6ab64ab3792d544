import { describe, expect, it } from 'vitest';
import { shortestMs } from '../../../tests/support/timing.ts';
import { PRINT_BYTES } from '../analysis/print-size.ts';
import { printDistance, printsOf } from '../analysis/prints.ts';
import { analyseSource } from '../analysis/analyse-source.ts';
import { likenessMatrix } from '../analysis/likeness.ts';
import { eightStepLoop } from '../../../tests/support/signals.ts';
import { nearestSlices } from './nearest.ts';
import { fits, wishesOf } from './search.ts';

const sound = (name: string, more: object = {}, frames = 44_100) => ({
  name,
  tags: ['found', 'quay'],
  frames,
  sampleRate: 44_100,
  facts: { tempo: null, skyline: [], ...more },
});
const loop = sound('Gravel walk', { tempo: { bpm: 92.6, bars: 2 } }, 5 * 44_100);
const hit = sound('hit 01', { heard: { role: 'kick', midi: 42, brightnessHz: 300 } }, 9_000);
const finds = (text: string, one: typeof loop) => fits(one, wishesOf(text));

describe('the shelf is searched', () => {
  it('by parts of names, tags and roles, all of which have to fit', () => {
    expect([finds('gravel', loop), finds('QUAY grav', loop), finds('quay sand', loop)]).toEqual([true, true, false]);
    expect([finds('kick', hit), finds('kick', loop), finds('', loop)]).toEqual([true, false, true]);
  });

  it('by tempo within three percent, by bars, by length', () => {
    expect([finds('90', loop), finds('95 bpm', loop), finds('89', loop), finds('96', loop)]).toEqual([
      true,
      true,
      false,
      false,
    ]);
    expect([finds('2 bars', loop), finds('2bars', loop), finds('4 bars', loop)]).toEqual([true, true, false]);
    expect([finds('<1s', hit), finds('<1s', loop), finds('> 4 s', loop), finds('<300ms', hit)]).toEqual([
      true,
      false,
      true,
      true,
    ]);
  });

  it('by note, by being a hit or a loop, bright or dark', () => {
    // Note 42 is an F sharp.
    expect([finds('f#', hit), finds('f', hit), finds('f#', loop)]).toEqual([true, false, false]);
    expect([finds('hit', hit), finds('hit', loop), finds('loop', loop), finds('loop', hit)]).toEqual([
      true,
      false,
      true,
      false,
    ]);
    expect([finds('dark', hit), finds('bright', hit), finds('dark', loop)]).toEqual([true, false, false]);
  });

  it('10,000 sounds without a wait', () => {
    const many = Array.from({ length: 10_000 }, (_, n) =>
      sound(`sound ${n}`, { tempo: { bpm: 60 + (n % 90), bars: 2 } }),
    );
    const wishes = wishesOf('sound 93 2 bars');
    let found = 0;
    // Some 5 ms on a machine that does nothing else.
    expect(shortestMs(() => (found = many.filter((one) => fits(one, wishes)).length))).toBeLessThan(100);
    expect(found).toBeGreaterThan(500);
  });
});

describe('prints of slices', () => {
  const { audio, starts } = eightStepLoop();
  const frames = audio.channels[0]!.length;
  const ranges = starts.map((startFrame, n) => ({ startFrame, endFrame: starts[n + 1] ?? frames }));
  const analysis = analyseSource(audio);
  const prints = printsOf(analysis, ranges);

  it('are as far apart as the slices are by their likeness, to a hundredth', () => {
    const matrix = likenessMatrix(analysis, ranges);
    for (const [a, row] of matrix.entries()) {
      for (const [b, wanted] of row.entries()) {
        const found = printDistance(prints.bytes, a * PRINT_BYTES, prints.bytes, b * PRINT_BYTES);
        expect(Math.abs(found - wanted)).toBeLessThan(0.02);
      }
    }
  });

  it('find the sound that has the slice in it, and which slice it is', () => {
    const one = (id: string, places: number[]) => ({
      id,
      startFrames: places.map((place) => prints.startFrames[place]!),
      bytes: Uint8Array.from(
        places.flatMap((place) => [...prints.bytes.subarray(place * PRINT_BYTES, (place + 1) * PRINT_BYTES)]),
      ),
    });
    const all = [one('own', [0, 1, 2, 3]), one('other', [4, 2, 5]), one('empty', [])];
    const [first, ...others] = nearestSlices(all, { id: 'own', place: 2 }, 10);
    expect(first).toMatchObject({ id: 'other', place: 1, distance: 0, endFrame: prints.startFrames[5] });
    expect(others).toEqual([]);
    expect(nearestSlices(all, { id: 'nobody', place: 0 }, 10)).toEqual([]);
  });

  it('10,000 sounds of eight slices are compared without a wait', () => {
    const many = Array.from({ length: 10_000 }, (_, n) => ({ id: `s${n}`, ...prints }));
    let found = 0;
    // Some 15 ms on a machine that does nothing else.
    expect(shortestMs(() => (found = nearestSlices(many, { id: 's0', place: 3 }, 20).length))).toBeLessThan(200);
    expect(found).toBe(20);
  });
});
