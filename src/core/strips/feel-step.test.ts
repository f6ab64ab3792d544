import { describe, expect, it } from 'vitest';
import { seededRandom } from '../units/random.ts';
import { feelStepOf, feelStepOfCut } from './feel-step.ts';

const BEAT = 960;
/** Two bars of four of places in a beat, played a little early or late. */
function played(inBeat: readonly number[], spreadTicks = 0, seed = 1): number[] {
  const random = seededRandom(seed);
  return Array.from({ length: 8 }, (_, beat) => inBeat.map((place) => (beat + place) * BEAT))
    .flat()
    .map((ticks) => ticks + (random() * 2 - 1) * spreadTicks);
}

describe('the grid that a loop lies on', () => {
  // Common practice: a shuffle plays the first and the last of three, 6/8 all three; sixteenths swing in pairs.
  it.each([
    ['quarters', [0], 'sixteenths'],
    ['eighths', [0, 1 / 2], 'sixteenths'],
    ['sixteenths', [0, 1 / 4, 1 / 2, 3 / 4], 'sixteenths'],
    ['sixteenths, swung as triplets', [0, 1 / 3, 1 / 2, 5 / 6], 'sixteenths'],
    ['sixteenths, swung a little', [0, 0.28, 1 / 2, 0.78], 'sixteenths'],
    ['dotted eighths', [0, 3 / 4], 'sixteenths'],
    ['a shuffle', [0, 2 / 3], 'triplets'],
    ['a light shuffle', [0, 0.63], 'triplets'],
    ['all three', [0, 1 / 3, 2 / 3], 'triplets'],
    ['three against two', [0, 1 / 3, 1 / 2, 2 / 3], 'sixteenths'],
  ] as const)('%s', (_words, inBeat, step) => {
    expect(feelStepOf(played(inBeat))).toBe(step);
    for (let seed = 1; seed <= 20; seed++) expect(feelStepOf(played(inBeat, 25, seed)), `seed ${seed}`).toBe(step);
  });

  it('a few hits tell nothing, nor does none', () => {
    expect(feelStepOf([])).toBe('sixteenths');
    expect(feelStepOf([0, 320, 640, 960, 1280])).toBe('sixteenths');
  });

  it('of a cut: hits in its loop, which may begin anywhere', () => {
    const loop = { startFrame: 5000, endFrame: 5000 + 8 * 22_050, bars: 2, beatsPerBar: 4 };
    const starts = [
      ...played([0, 1 / 3, 2 / 3]).map((ticks) => 5000 + Math.round((ticks / BEAT) * 22_050)),
      100,
      900_000,
    ];
    const slices = Object.fromEntries(starts.map((startFrame, id) => [`${id}`, { id: `${id}`, startFrame } as never]));
    expect(feelStepOfCut({ loop, slices })).toBe('triplets');
    // Read as three times the bars, all of them are beats.
    expect(feelStepOfCut({ loop: { ...loop, bars: 6 }, slices })).toBe('sixteenths');
    expect(feelStepOfCut({ loop: null, slices })).toBe('sixteenths');
  });
});
