import { describe, expect, it } from 'vitest';
import { sine } from '../tests/support/signals.ts';
import { countAddedClicks, findClicks } from './clicks.ts';

const RATE = 44100;

describe('clicks', () => {
  it('are found where a sound is cut off, leaps or misses a sample, and not in a sine or its fade', () => {
    const tone = sine(220, 1);
    expect(findClicks(tone, RATE)).toEqual([]);
    const cut = tone.map((value, i) => (i < 20_025 ? value : 0));
    expect(findClicks(cut, RATE).map((at) => Math.round(at / 10))).toEqual([2003]);
    const missing = Float32Array.from(tone);
    missing[30_010] = 0;
    expect(findClicks(missing, RATE)).toHaveLength(1);
    const faded = tone.map((value, i) => value * Math.min(1, Math.max(0, (20_000 - i) / 400)));
    expect(findClicks(faded, RATE)).toEqual([]);
  });

  it('count against a result where the ideal has none, but not at attacks nor for an attack that is elsewhere', () => {
    const tone = sine(220, 1);
    const leapAt = (frame: number) => tone.map((value, i) => (i < frame ? value * 0.5 : value));
    const twice = tone.map((value, i) => (i < 10_030 ? value * 0.5 : i < 20_025 ? value : 0));
    expect(countAddedClicks(tone, leapAt(20_025), RATE, [10_000])).toBe(1);
    expect(countAddedClicks(tone, leapAt(20_025), RATE, [20_000])).toBe(0);
    expect(countAddedClicks(leapAt(10_030), leapAt(20_025), RATE, [10_000])).toBe(0);
    expect(countAddedClicks(leapAt(10_030), twice, RATE, [10_000])).toBe(1);
  });
});
