import { describe, expect, it } from 'vitest';
import { sine } from '../tests/support/signals.ts';
import { findClicks } from './clicks.ts';

const RATE = 44100;

describe('clicks', () => {
  it('are found where a sound is cut off, leaps or misses a sample, and not in a sine or its fade', () => {
    const tone = sine(220, 1);
    expect(findClicks(tone, RATE, [])).toEqual([]);
    const cut = tone.map((value, i) => (i < 20_025 ? value : 0));
    expect(findClicks(cut, RATE, []).map((at) => Math.round(at / 10))).toEqual([2003]);
    const missing = Float32Array.from(tone);
    missing[30_010] = 0;
    expect(findClicks(missing, RATE, [])).toHaveLength(1);
    expect(findClicks(missing, RATE, [30_020])).toEqual([]);
    const faded = tone.map((value, i) => value * Math.min(1, Math.max(0, (20_000 - i) / 400)));
    expect(findClicks(faded, RATE, [])).toEqual([]);
  });
});
