import { describe, expect, it } from 'vitest';
import type { PatternEvent } from '#core/document/schema.ts';
import { ribbonImage } from './ribbon.ts';

const BAR = 3840;
const event = (place: number, positionTicks: number, lengthTicks: number): PatternEvent => ({
  id: `e${place}`,
  zoneId: place % 2 === 0 ? 'low' : 'high',
  positionTicks,
  lengthTicks,
  values: {},
});
const COLOURS = new Map([
  ['low', 'purple'],
  ['high', 'gold'],
]);
const stops = (image: string) => image.match(/(\w+) [\d.]+%/g) ?? [];

describe('a pattern in small', () => {
  it('has a stripe a strip, in its colour, from where it plays, and ends before the next', () => {
    const image = ribbonImage([event(0, 0, BAR), event(1, BAR / 2, BAR / 4)], BAR, COLOURS);
    expect(image).toBe(
      'linear-gradient(to right, ' +
        'transparent 0.00%, purple 0.00%, purple 50.00%, transparent 50.00%, ' +
        'transparent 50.00%, gold 50.00%, gold 71.50%, transparent 71.50%)',
    );
  });

  it('shows a long pattern to its end, and no more stripes than can be told apart', () => {
    const many = Array.from({ length: 5000 }, (_, place) => event(place, (place / 5000) * 64 * BAR, 40));
    const shown = stops(ribbonImage(many, 64 * BAR, COLOURS));
    expect(shown.length / 4).toBeGreaterThan(80);
    expect(shown.length / 4).toBeLessThanOrEqual(96);
    const shares = shown.map((stop) => Number(stop.match(/[\d.]+(?=%)/)![0]));
    expect(shares.at(-1)).toBeGreaterThan(97);
    // However short the strips are, they are seen.
    expect(shares[2]! - shares[1]!).toBeGreaterThan(0.5);
  });

  it('shows the stroke of a flam, and not the short one before it', () => {
    const flam = [event(0, 0, 20), event(1, 20, BAR / 2)];
    expect(stops(ribbonImage(flam, BAR, COLOURS)).slice(0, 3)).toEqual([
      'transparent 0.52%',
      'gold 0.52%',
      'gold 43.52%',
    ]);
  });

  it('is nothing without strips, and is not made anew for the same strips', () => {
    expect(ribbonImage([], BAR, COLOURS)).toBe('none');
    const events = [event(0, 0, BAR)];
    const first = ribbonImage(events, BAR, COLOURS);
    expect(ribbonImage(events, BAR, COLOURS)).toBe(first);
    expect(ribbonImage(events, BAR, new Map([['low', 'navy']]))).toContain('navy');
    expect(ribbonImage(events, 2 * BAR, COLOURS)).toContain('43.00%');
  });
});
