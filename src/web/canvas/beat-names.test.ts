import { describe, expect, it } from 'vitest';
import { namedBeatStep } from './beat-names.ts';

describe('named beats', () => {
  it('are all where there is room, then parts of a bar, bars, and their doublings', () => {
    expect([60, 40, 25, 15, 6, 3, 1].map((pixels) => namedBeatStep(4, pixels))).toEqual([1, 1, 2, 4, 8, 16, 64]);
    // Seven eighths have no half; six quarters go in twos and threes.
    expect([25, 6, 5].map((pixels) => namedBeatStep(7, pixels))).toEqual([7, 7, 14]);
    expect([25, 15].map((pixels) => namedBeatStep(6, pixels))).toEqual([2, 3]);
    expect(namedBeatStep(4, 0)).toBeGreaterThan(1e6);
  });
});
