/** The pattern as rows, one a sound or one a note: where strips lie in the time that is shown, and what lies under a point. */
import type { PatternEvent } from '#core/document/schema.ts';
import { countedBeats, countedBeatTicks } from '#core/units/time.ts';
import { namedBeatStep } from './beat-names.ts';
import { ticksToX, xToTicks, type StripBox } from './pattern-layout.ts';

/** What each row is, at its left; bars and beats above. In pixels. */
export const ROW_HEAD_WIDTH = 164;
export const ROWS_TOP = 22;
const MIN_ROW_HEIGHT = 20;
const MAX_ROW_HEIGHT = 40;
const EDGE_REACH_PX = 6;

/** The time that is shown across a width. */
export interface RowsTime {
  width: number;
  fromTicks: number;
  spanTicks: number;
}

export interface RowStrip extends StripBox {
  rowId: string;
}

export interface RowsLayout extends RowsTime {
  /** Of everything: it may be more than there is room for. */
  height: number;
  rowHeight: number;
  /** In order, from above. */
  rowIds: readonly string[];
  strips: RowStrip[];
}

/**
 * @param rowOf the row of an event; what has none is left out
 * @param room height that is there, in pixels
 */
export function layoutRows(
  events: readonly PatternEvent[],
  rowIds: readonly string[],
  rowOf: (event: PatternEvent) => string | null,
  time: RowsTime,
  room: number,
): RowsLayout {
  const each = Math.floor((room - ROWS_TOP) / Math.max(1, rowIds.length));
  const rowHeight = Math.max(MIN_ROW_HEIGHT, Math.min(MAX_ROW_HEIGHT, each));
  const rowById = new Map(rowIds.map((id, row) => [id, row]));
  const toTicks = time.fromTicks + time.spanTicks;
  const strips = events.flatMap((event): RowStrip[] => {
    const rowId = rowOf(event);
    const row = rowById.get(rowId ?? '');
    const endTicks = Math.min(toTicks, event.positionTicks + event.lengthTicks);
    if (rowId === null || row === undefined || event.positionTicks >= toTicks || endTicks <= time.fromTicks) return [];
    const x = rowsX(time, Math.max(time.fromTicks, event.positionTicks));
    const width = Math.max(2, rowsX(time, endTicks) - x);
    return [{ event, rowId, x, width, y: ROWS_TOP + row * rowHeight, height: rowHeight }];
  });
  return { ...time, height: ROWS_TOP + rowIds.length * rowHeight, rowHeight, rowIds, strips };
}

export function rowsX({ width, fromTicks, spanTicks }: RowsTime, ticks: number): number {
  return ROW_HEAD_WIDTH + ticksToX(ticks - fromTicks, spanTicks, Math.max(1, width - ROW_HEAD_WIDTH));
}

export function rowsTicks({ width, fromTicks, spanTicks }: RowsTime, x: number): number {
  return fromTicks + xToTicks(x - ROW_HEAD_WIDTH, spanTicks, Math.max(1, width - ROW_HEAD_WIDTH));
}

export interface RowsBeat {
  x: number;
  /** Bar and beat; null where there is no room for it. */
  label: string | null;
  isBar: boolean;
}

/** The beats of the time that is shown. */
export function beatsOf(time: RowsTime, beatsPerBar: number): RowsBeat[] {
  const beatTicks = countedBeatTicks(beatsPerBar);
  const perBar = countedBeats(beatsPerBar);
  const toTicks = time.fromTicks + time.spanTicks;
  const beats: RowsBeat[] = [];
  const named = namedBeatStep(perBar, rowsX(time, beatTicks) - rowsX(time, 0));
  for (let beat = Math.ceil(time.fromTicks / beatTicks - 1e-6); beat * beatTicks < toTicks; beat++) {
    const x = rowsX(time, beat * beatTicks);
    const label = beat % named === 0 ? `${Math.floor(beat / perBar) + 1}.${(beat % perBar) + 1}` : null;
    beats.push({ x, label, isBar: beat % perBar === 0 });
  }
  return beats;
}

/** The row at a height; undefined outside of them. */
export function rowAt({ rowIds, rowHeight }: RowsLayout, y: number): string | undefined {
  return y < ROWS_TOP ? undefined : rowIds[Math.floor((y - ROWS_TOP) / rowHeight)];
}

export type RowsSpot =
  | { zone: 'strip' | 'edge'; strip: RowStrip; rowId: string }
  | { zone: 'head' | 'empty'; rowId: string }
  | { zone: 'outside' };

export function rowsSpotAt(layout: RowsLayout, x: number, y: number): RowsSpot {
  const rowId = rowAt(layout, y);
  if (rowId === undefined) return { zone: 'outside' };
  if (x < ROW_HEAD_WIDTH) return { zone: 'head', rowId };
  const strip = layout.strips.findLast((one) => one.rowId === rowId && x >= one.x && x < one.x + one.width);
  if (!strip) return { zone: 'empty', rowId };
  const reach = Math.min(EDGE_REACH_PX, strip.width / 3);
  return { zone: x >= strip.x + strip.width - reach ? 'edge' : 'strip', strip, rowId };
}

/**
 * Rows moved up or down together: which one stands in the place of each. None leaves the rows: all stop where the first
 * of them would. What is in no row stays.
 * @param byRows downwards
 * @returns nothing where none moves
 */
export function shiftedRows(
  rowIds: readonly string[],
  movedIds: Iterable<string>,
  byRows: number,
): ReadonlyMap<string, string> {
  const rowOf = new Map(rowIds.map((id, row) => [id, row]));
  const moved = [...new Set(movedIds)].flatMap((id) => rowOf.get(id) ?? []);
  const by = Math.max(-Math.min(...moved), Math.min(rowIds.length - 1 - Math.max(...moved), byRows));
  return new Map(by === 0 ? [] : moved.map((row) => [rowIds[row]!, rowIds[row + by]!]));
}
