import { describe, expect, it } from 'vitest';
import { guessRoot, smallestShift } from './part-root.ts';

describe('the root of a loop', () => {
  it('is what lasts longest, the bass before the rest', () => {
    expect(
      guessRoot([
        { midi: 60, length: 1 },
        { midi: 67, length: 3 },
        { midi: null, length: 9 },
      ]),
    ).toBe(7);
    // An A two octaves down outweighs a C# that is held a little longer.
    expect(
      guessRoot([
        { midi: 33, length: 2 },
        { midi: 61, length: 3 },
      ]),
    ).toBe(9);
    expect(guessRoot([{ midi: null, length: 4 }])).toBeNull();
    expect(guessRoot([])).toBeNull();
  });

  // Handbook: intervals within the octave, the nearer way round.
  it.each([
    [0, 7, -5],
    [0, 5, 5],
    [0, 6, -6],
    [11, 0, 1],
    [2, 2, 0],
    [9, 0, 3],
  ])('goes from %i to %i by %i semitones', (from, to, shift) => {
    expect(smallestShift(from, to)).toBe(shift);
    expect((((from + shift - to) % 12) + 12) % 12).toBe(0);
  });
});
