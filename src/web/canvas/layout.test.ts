import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { PatternEvent } from '#core/document/schema.ts';
import { assignRows } from './event-rows.ts';
import { keyTableSpot, layoutKeyTable, withLanes, zoneBox } from './key-table-layout.ts';
import { columnX, keyRange, noteAt, whiteKeyBox } from './keyboard-layout.ts';
import { brightnessColour, sliceColours } from './palette.ts';
import { layoutPattern, patternSpotAt, SOURCE_ROW_HEIGHT, stripsApart, ticksToX, xToTicks } from './pattern-layout.ts';
import { frameToX, MIN_VISIBLE_FRAMES, scrollBy, wholeWindow, xToFrame, zoomAt, zoomTo } from './view-window.ts';

describe('zoom and scroll', () => {
  const frames = 441_000;
  it('keeps the frame under the pointer where it is', () => {
    fc.assert(
      fc.property(fc.double({ min: 1.01, max: 4, noNaN: true }), fc.integer({ min: 0, max: 800 }), (factor, x) => {
        const near = zoomAt(wholeWindow(frames), factor, x, 800, frames);
        expect(frameToX(near, xToFrame(wholeWindow(frames), x, 800), 800)).toBeCloseTo(x, 6);
      }),
    );
  });

  it('never leaves the source, from the whole down to samples', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(
            fc.double({ min: 0.1, max: 10, noNaN: true }),
            fc.integer({ min: 0, max: 800 }),
            fc.integer({ min: -99_999, max: 99_999 }),
          ),
        ),
        (moves) => {
          let window = wholeWindow(frames);
          for (const [factor, x, by] of moves) {
            window = scrollBy(zoomAt(window, factor, x, 800, frames), by, frames);
            expect(window.startFrame).toBeGreaterThanOrEqual(0);
            expect(window.endFrame).toBeLessThanOrEqual(frames + 1e-6);
            expect(window.endFrame - window.startFrame).toBeGreaterThanOrEqual(MIN_VISIBLE_FRAMES - 1e-6);
          }
        },
      ),
    );
  });

  it('shows a selection with some room around it', () => {
    const window = zoomTo(100_000, 110_000, frames);
    expect(window.startFrame).toBeLessThan(100_000);
    expect(window.endFrame).toBeGreaterThan(110_000);
  });
});

describe('keyboard', () => {
  it('holds every slice in whole octaves, two at least', () => {
    expect(keyRange(48, 5)).toEqual({ lowNote: 48, keyCount: 24 });
    expect(keyRange(50, 27)).toEqual({ lowNote: 48, keyCount: 36 });
    expect(keyRange(120, 16).lowNote).toBeLessThanOrEqual(108);
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 127 }), fc.integer({ min: 0, max: 200 }), (startKey, count) => {
        const range = keyRange(startKey, count);
        expect(range.lowNote % 12).toBe(0);
        expect(range.lowNote).toBeLessThanOrEqual(startKey);
        expect(range.lowNote + range.keyCount).toBeGreaterThan(Math.min(127, startKey + Math.max(0, count - 1)));
        expect(range.lowNote + range.keyCount).toBeLessThanOrEqual(128);
      }),
    );
  });

  it('finds the key under the pointer, black ones at the back only', () => {
    const range = keyRange(48, 24);
    for (let note = 48; note < 72; note++) expect(noteAt(range, columnX(range, note, 480) + 2, 480, true)).toBe(note);
    const black = columnX(range, 49, 480) + 1;
    expect([48, 50]).toContain(noteAt(range, black, 480, false));
    for (const note of [48, 50, 52, 53, 55, 57, 59, 60]) {
      expect(noteAt(range, whiteKeyBox(range, note, 480).x + 3, 480, false)).toBe(note);
    }
    expect(noteAt(range, -1, 480, true)).toBeNull();
    expect(noteAt(range, 481, 480, true)).toBeNull();
  });
});

describe('pattern ribbon', () => {
  const event = (id: string, positionTicks: number, lengthTicks: number): PatternEvent => ({
    id,
    zoneId: 's',
    positionTicks,
    lengthTicks,
    values: {},
  });

  it('puts strips that overlap on rows of their own', () => {
    expect(assignRows([event('a', 0, 480), event('b', 240, 480), event('c', 480, 100), event('d', 500, 100)])).toEqual([
      0, 1, 0, 2,
    ]);
    const layout = layoutPattern([event('a', 0, 480), event('b', 240, 480)], 3840, 800, 200);
    expect(layout.strips[1]!.y).toBeGreaterThan(layout.strips[0]!.y);
  });

  it('finds strips, their edges and the empty places between', () => {
    const layout = layoutPattern([event('a', 960, 960)], 3840, 800, 200);
    const middle = (layout.ribbonTop + layout.ribbonBottom) / 2;
    expect(patternSpotAt(layout, 210, middle)).toMatchObject({ zone: 'strip', strip: { event: { id: 'a' } } });
    expect(patternSpotAt(layout, 397, middle)).toMatchObject({ zone: 'edge' });
    expect(patternSpotAt(layout, 100, middle)).toEqual({ zone: 'empty' });
    expect(patternSpotAt(layout, 100, SOURCE_ROW_HEIGHT - 2)).toEqual({ zone: 'source' });
    expect(patternSpotAt(layout, 100, 199)).toEqual({ zone: 'outside' });
    expect(xToTicks(ticksToX(1234, 3840, 800), 3840, 800)).toBeCloseTo(1234);
  });
});

describe('slice colours', () => {
  it('go from plum to sand with brightness', () => {
    expect(brightnessColour(0)).toBe('rgb(59, 42, 90)');
    expect(brightnessColour(1)).toBe('rgb(224, 165, 38)');
    expect(brightnessColour(0.5)).toBe('rgb(30, 138, 131)');
  });

  it('spread over the sounds of one source, and stay calm when all are alike', () => {
    const [dark, , bright] = sliceColours([100, 1000, 8000]);
    expect(dark).toBe(brightnessColour(0));
    expect(bright).toBe(brightnessColour(1));
    expect(new Set(sliceColours([500, 500, 501]))).toEqual(new Set([brightnessColour(0.5)]));
    expect(sliceColours([])).toEqual([]);
  });
});

describe('strips that can be told apart', () => {
  const many = Array.from({ length: 5000 }, (_, place) => ({
    event: { id: `e${place}`, zoneId: 'z', positionTicks: place, lengthTicks: 1, values: {} },
    x: place * 0.16,
    width: 2,
    y: (place % 2) * 20,
    height: 20,
  }));
  const none = new Set<string>();

  it('are one in so many pixels of each row; what is far apart is all drawn', () => {
    const shown = stripsApart(many, none, 2);
    expect(shown.length).toBeGreaterThan(2 * 350);
    expect(shown.length).toBeLessThanOrEqual(2 * 401);
    for (const y of [0, 20]) {
      const row = shown.filter((strip) => strip.y === y);
      for (const [at, strip] of row.slice(1).entries()) expect(strip.x - row[at]!.x).toBeGreaterThanOrEqual(2);
    }
    expect(stripsApart(many, none, 2, () => 0).length).toBeLessThanOrEqual(401);
    expect(stripsApart(many, none, 0.1)).toHaveLength(5000);
  });

  it('never hide a selected one behind one that is not', () => {
    expect(stripsApart(many, new Set(['e1001']), 2).map(({ event }) => event.id)).toContain('e1001');
  });
});

describe('zones on one key', () => {
  const zone = (id: string, low: number, high: number, key = 60) => ({
    id,
    keys: { low: key, high: key, root: key },
    velocities: { low, high, fade: 0 },
  });
  const lanes = (...zones: ReturnType<typeof zone>[]) =>
    withLanes(zones).map(({ lane }) => (lane ? `${lane.index}/${lane.count}` : ''));

  it('of strengths in common stand beside each other; layers above each other, and others, have the whole width', () => {
    expect(lanes(zone('a', 1, 127), zone('b', 1, 127))).toEqual(['0/2', '1/2']);
    expect(lanes(zone('a', 1, 60), zone('b', 61, 127))).toEqual(['', '']);
    expect(lanes(zone('a', 1, 127), zone('b', 1, 127, 61))).toEqual(['', '']);
    expect(lanes(zone('a', 1, 127), zone('b', 1, 60), zone('c', 61, 127))).toEqual(['0/2', '1/2', '1/2']);
  });

  it('are each found where they are drawn', () => {
    const table = layoutKeyTable({ lowNote: 48, keyCount: 24 }, 800, 400, 0);
    const zones = withLanes([zone('a', 1, 127), zone('b', 1, 127)]);
    const boxes = zones.map((one) => zoneBox(table, one));
    expect(boxes[0]!.x + boxes[0]!.width).toBeCloseTo(boxes[1]!.x);
    boxes.forEach(({ x, y, width }, place) => {
      const spot = keyTableSpot(table, zones, new Set(), x + width / 2, y + 40);
      expect(spot).toMatchObject({ kind: 'zone', id: zones[place]!.id });
    });
  });
});
