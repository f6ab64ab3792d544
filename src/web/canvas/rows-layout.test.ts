import { describe, expect, it } from 'vitest';
import { stripsInBox } from './pattern-layout.ts';
import {
  beatsOf,
  layoutRows,
  ROW_HEAD_WIDTH,
  ROWS_TOP,
  rowsSpotAt,
  rowsTicks,
  rowsX,
  shiftedRows,
} from './rows-layout.ts';

const event = (id: string, zoneId: string, positionTicks: number) => ({
  id,
  zoneId,
  positionTicks,
  lengthTicks: 480,
  values: {},
});
const layout = layoutRows(
  [event('a', 'kick', 0), event('b', 'snare', 960), event('c', 'gone', 0)],
  ['snare', 'kick'],
  ({ zoneId }) => zoneId,
  { width: ROW_HEAD_WIDTH + 768, fromTicks: 0, spanTicks: 3840 },
  300,
);

describe('the rows of a pattern', () => {
  it('put each strip in the row of its sound, on its time; what has no row is left out', () => {
    expect(layout.strips.map(({ event: { id }, x, width, y }) => [id, x - ROW_HEAD_WIDTH, width, y])).toEqual([
      ['a', 0, 96, ROWS_TOP + layout.rowHeight],
      ['b', 192, 96, ROWS_TOP],
    ]);
  });

  it('stay tall enough to point at, however many there are', () => {
    const many = layoutRows(
      [],
      Array.from({ length: 60 }, (_, i) => `${i}`),
      () => null,
      { width: 900, fromTicks: 0, spanTicks: 3840 },
      300,
    );
    expect(many.rowHeight).toBe(20);
    expect(many.height).toBe(ROWS_TOP + 60 * 20);
  });

  it('tell what lies under a point', () => {
    const y = ROWS_TOP + 5;
    expect(rowsSpotAt(layout, 10, y)).toEqual({ zone: 'head', rowId: 'snare' });
    expect(rowsSpotAt(layout, ROW_HEAD_WIDTH + 200, y)).toMatchObject({ zone: 'strip', rowId: 'snare' });
    expect(rowsSpotAt(layout, ROW_HEAD_WIDTH + 286, y)).toMatchObject({ zone: 'edge' });
    expect(rowsSpotAt(layout, ROW_HEAD_WIDTH + 20, y)).toEqual({ zone: 'empty', rowId: 'snare' });
    expect(rowsSpotAt(layout, 300, 4)).toEqual({ zone: 'outside' });
    expect(rowsSpotAt(layout, 300, 2000)).toEqual({ zone: 'outside' });
  });

  it('go from ticks to pixels and back, and find what a box touches', () => {
    expect(rowsTicks(layout, rowsX(layout, 1234))).toBeCloseTo(1234);
    const all = { left: 0, right: 2000, top: 0, bottom: 2000 };
    expect(stripsInBox(layout.strips, all)).toEqual(['a', 'b']);
    expect(stripsInBox(layout.strips, { ...all, bottom: ROWS_TOP + 4 })).toEqual(['b']);
  });

  it('show a bar of several: what reaches into it from the bar before is cut off at its line', () => {
    const bar = layoutRows(
      [event('a', 'kick', 0), event('b', 'kick', 3700), event('c', 'kick', 4800), event('d', 'kick', 7680)],
      ['kick'],
      ({ zoneId }) => zoneId,
      { width: ROW_HEAD_WIDTH + 768, fromTicks: 3840, spanTicks: 3840 },
      300,
    );
    expect(bar.strips.map((strip) => [strip.event.id, strip.x - ROW_HEAD_WIDTH, strip.width])).toEqual([
      ['b', 0, 68],
      ['c', 192, 96],
    ]);
    expect(rowsTicks(bar, ROW_HEAD_WIDTH)).toBe(3840);
  });

  it('moves rows together, and none of them out', () => {
    const rows = ['hat', 'snare', 'tom', 'kick'];
    expect([...shiftedRows(rows, ['snare', 'tom', 'snare'], 1)]).toEqual([
      ['snare', 'tom'],
      ['tom', 'kick'],
    ]);
    expect([...shiftedRows(rows, ['snare', 'tom'], -9)]).toEqual([
      ['snare', 'hat'],
      ['tom', 'snare'],
    ]);
    expect(shiftedRows(rows, ['hat', 'kick'], 2).size).toBe(0);
    expect(shiftedRows(rows, ['bell'], 1).size).toBe(0);
    expect(shiftedRows(rows, [], 1).size).toBe(0);
  });
});

describe('the beats above the rows', () => {
  it('are named where there is room, from the bar that is shown on', () => {
    const wide = beatsOf({ width: ROW_HEAD_WIDTH + 800, fromTicks: 0, spanTicks: 7_680 }, 4);
    expect(wide.map(({ label }) => label)).toEqual(['1.1', '1.2', '1.3', '1.4', '2.1', '2.2', '2.3', '2.4']);
    expect(wide.map(({ x }) => x - ROW_HEAD_WIDTH)).toEqual([0, 100, 200, 300, 400, 500, 600, 700]);
    const narrow = beatsOf({ width: ROW_HEAD_WIDTH + 160, fromTicks: 3_840, spanTicks: 7_680 }, 4);
    expect(narrow.map(({ label }) => label)).toEqual(['2.1', null, '2.3', null, '3.1', null, '3.3', null]);
    expect(narrow.filter(({ isBar }) => isBar)).toHaveLength(2);
  });
});
