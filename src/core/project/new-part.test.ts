import { describe, expect, it } from 'vitest';
import { withNearHits } from './new-part.ts';
import type { Loop } from '../document/schema.ts';

const RATE = 44100;
const FRAMES = 200_000;
const loop = (startFrame: number, endFrame: number): Loop => ({ startFrame, endFrame, bars: 1, beatsPerBar: 4 });

describe('a loop whose first hit lies just before it', () => {
  it('begins with that, as long as it was', () => {
    // 3.8 ms, as it was seen.
    expect(withNearHits(loop(1_000, 89_200), [832, 20_000], FRAMES, RATE)).toEqual(loop(832, 89_032));
    expect(withNearHits(loop(5_000, 93_200), [2_900, 3_000], FRAMES, RATE)).toEqual(loop(2_900, 91_100));
  });

  it('stays as it is where nothing is near, or all is inside', () => {
    const whole = loop(60_000, 148_200);
    expect(withNearHits(whole, [60_000, 70_000], FRAMES, RATE)).toBe(whole);
    expect(withNearHits(whole, [100, 57_000, 60_001], FRAMES, RATE)).toBe(whole);
  });
});
