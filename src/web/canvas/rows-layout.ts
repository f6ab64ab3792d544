/** The pattern as rows, one a sound: where strips lie, and what lies under a point. */
import type { PatternEvent } from '#core/project/schema.ts';
import { ticksToX, xToTicks, type StripBox } from './pattern-layout.ts';

/** What each row is, at its left; bars and beats above. In pixels. */
export const ROW_HEAD_WIDTH = 164;
export const ROWS_TOP = 22;
const MIN_ROW_HEIGHT = 20;
const MAX_ROW_HEIGHT = 40;
const EDGE_REACH_PX = 6;

export interface RowsLayout {
  width: number;
  /** Of everything: it may be more than there is room for. */
  height: number;
  rowHeight: number;
  lengthTicks: number;
  /** Zones in the order of their rows, from above. */
  rowIds: readonly string[];
  strips: StripBox[];
}

/** @param room height that is there, in pixels */
export function layoutRows(
  events: readonly PatternEvent[],
  rowIds: readonly string[],
  lengthTicks: number,
  width: number,
  room: number,
): RowsLayout {
  const each = Math.floor((room - ROWS_TOP) / Math.max(1, rowIds.length));
  const rowHeight = Math.max(MIN_ROW_HEIGHT, Math.min(MAX_ROW_HEIGHT, each));
  const rowById = new Map(rowIds.map((id, row) => [id, row]));
  const wide = Math.max(1, width - ROW_HEAD_WIDTH);
  const strips = events.flatMap((event): StripBox[] => {
    const row = rowById.get(event.zoneId);
    if (row === undefined) return [];
    const x = ROW_HEAD_WIDTH + ticksToX(event.positionTicks, lengthTicks, wide);
    const end = Math.min(lengthTicks, event.positionTicks + event.lengthTicks);
    const right = ROW_HEAD_WIDTH + ticksToX(end, lengthTicks, wide);
    return [{ event, x, width: Math.max(2, right - x), y: ROWS_TOP + row * rowHeight, height: rowHeight }];
  });
  return { width, height: ROWS_TOP + rowIds.length * rowHeight, rowHeight, lengthTicks, rowIds, strips };
}

export function rowsX(layout: Pick<RowsLayout, 'width' | 'lengthTicks'>, ticks: number): number {
  return ROW_HEAD_WIDTH + ticksToX(ticks, layout.lengthTicks, Math.max(1, layout.width - ROW_HEAD_WIDTH));
}

export function rowsTicks(layout: Pick<RowsLayout, 'width' | 'lengthTicks'>, x: number): number {
  return xToTicks(x - ROW_HEAD_WIDTH, layout.lengthTicks, Math.max(1, layout.width - ROW_HEAD_WIDTH));
}

export type RowsSpot =
  | { zone: 'strip' | 'edge'; strip: StripBox; rowId: string }
  | { zone: 'head' | 'empty'; rowId: string }
  | { zone: 'outside' };

export function rowsSpotAt(layout: RowsLayout, x: number, y: number): RowsSpot {
  const rowId = layout.rowIds[Math.floor((y - ROWS_TOP) / layout.rowHeight)];
  if (y < ROWS_TOP || rowId === undefined) return { zone: 'outside' };
  if (x < ROW_HEAD_WIDTH) return { zone: 'head', rowId };
  const strip = layout.strips.findLast((one) => one.event.zoneId === rowId && x >= one.x && x < one.x + one.width);
  if (!strip) return { zone: 'empty', rowId };
  const reach = Math.min(EDGE_REACH_PX, strip.width / 3);
  return { zone: x >= strip.x + strip.width - reach ? 'edge' : 'strip', strip, rowId };
}

/** The events of strips that a box touches. */
export function stripsInBox(
  layout: RowsLayout,
  box: { left: number; right: number; top: number; bottom: number },
): string[] {
  return layout.strips
    .filter(
      ({ x, y, width, height }) => x < box.right && x + width > box.left && y < box.bottom && y + height > box.top,
    )
    .map(({ event }) => event.id);
}
