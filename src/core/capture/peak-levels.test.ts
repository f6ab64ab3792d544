import { describe, expect, it } from 'vitest';
import { PEAK_HOP_FRAMES, peakLevels } from './peak-levels.ts';

describe('levels of an input', () => {
  it('are the loudest of each hop, of either side, the last one shorter', () => {
    const left = new Float32Array(2 * PEAK_HOP_FRAMES + 10);
    const right = new Float32Array(left.length);
    left[3] = 0.5;
    right[PEAK_HOP_FRAMES + 1] = -1;
    right[2 * PEAK_HOP_FRAMES + 9] = 0.1;
    const levels = peakLevels(left, right);
    // 20 log10 of 0.5, 1 and 0.1.
    expect([...levels].map((db) => Number(db.toFixed(2)))).toEqual([-6.02, 0, -20]);
  });

  it('of silence lie below all that is drawn', () => {
    expect(peakLevels(new Float32Array(PEAK_HOP_FRAMES), new Float32Array(PEAK_HOP_FRAMES))[0]).toBeLessThan(-120);
  });
});
