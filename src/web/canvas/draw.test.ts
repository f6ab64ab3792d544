import { describe, expect, it } from 'vitest';
import { buildPeaks } from '#core/dsp/peaks.ts';
import { fillSkyline } from './draw.ts';

/** Heights that a range of a sound is drawn with, in a box 100 high. */
function heights(samples: Float32Array, startFrame: number, endFrame: number, width: number, reverse = false) {
  const found: number[] = [];
  const context = {
    beginPath() {},
    moveTo() {},
    lineTo: (_x: number, y: number) => void found.push(100 - y),
    closePath() {},
    fill() {},
  } as unknown as CanvasRenderingContext2D;
  const peaks = buildPeaks({ sampleRate: 44100, channels: [samples] });
  fillSkyline(context, peaks, startFrame, endFrame, { x: 0, y: 100, width, height: 100 }, { reverse });
  return found.slice(0, -1);
}

describe('the skyline of a slice', () => {
  // Two slices of 5018 frames: a soft one, and a loud one that begins on no border of the peaks.
  const samples = new Float32Array(10_036).fill(0.1, 0, 5_018).fill(1, 5_018);

  it.each([12.3, 40, 43.7, 51.2, 300.5])('at a width of %f does not show the attack of the next one', (width) => {
    for (const reverse of [false, true]) {
      const found = heights(samples, 0, 5_018, width, reverse);
      expect(found.length).toBeGreaterThan(width);
      for (const height of found) expect(height).toBeCloseTo(100 * 0.1 ** 0.7, 3);
    }
  });

  it('shows its own attack and its end', () => {
    const found = heights(samples, 5_018, 10_036, 51.2);
    for (const height of found) expect(height).toBeCloseTo(100, 3);
  });
});
