import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/units/random.ts';
import { layoutLikeness, roundTicks } from './likeness-layout.ts';

function nearest(dots: readonly { x: number; y: number }[]): number {
  let least = Infinity;
  dots.forEach((a, i) => {
    for (const b of dots.slice(i + 1)) least = Math.min(least, Math.hypot(a.x - b.x, a.y - b.y));
  });
  return least;
}

describe('the likeness chart', () => {
  it.each([3, 14, 60, 128])('lays %i slices, many of them alike, side by side: none covers another', (count) => {
    const random = seededRandom(count);
    const points = Array.from({ length: count }, () => ({
      brightnessHz: random() < 0.5 ? 1200 : 300 + random() * 8000,
      lengthMs: random() < 0.5 ? 120 : 40 + random() * 600,
    }));
    const { dots, radius } = layoutLikeness(points, 800, 260);
    expect(nearest(dots)).toBeGreaterThan(2 * radius - 0.5);
    for (const { x, y } of dots) {
      expect(x).toBeGreaterThanOrEqual(radius);
      expect(x).toBeLessThanOrEqual(800 - radius);
      expect(y).toBeGreaterThanOrEqual(radius);
      expect(y).toBeLessThanOrEqual(260 - radius);
    }
  });

  it('puts bright to the right of dark, and long above short', () => {
    const { dots } = layoutLikeness(
      [
        { brightnessHz: 200, lengthMs: 50 },
        { brightnessHz: 5000, lengthMs: 500 },
      ],
      600,
      300,
    );
    expect(dots[1]!.x).toBeGreaterThan(dots[0]!.x + 200);
    expect(dots[1]!.y).toBeLessThan(dots[0]!.y - 100);
  });

  it('is the same every time', () => {
    const points = Array.from({ length: 20 }, (_, i) => ({ brightnessHz: 500 + (i % 3), lengthMs: 100 }));
    expect(layoutLikeness(points, 500, 200).dots).toEqual(layoutLikeness(points, 500, 200).dots);
  });

  it('names round numbers', () => {
    expect(roundTicks([90, 2500])).toEqual([100, 200, 500, 1000, 2000]);
  });
});
