/** Where the strips of a pattern lie in their band, and what lies under a point. */
import type { PatternEvent } from '#core/document/schema.ts';
import { assignRows } from './event-rows.ts';

/** Heights in pixels: the slices in source order above, bar and beat names below. */
export const SOURCE_ROW_HEIGHT = 12;
export const TIME_ROW_HEIGHT = 20;
export const STRIP_LABEL_HEIGHT = 18;
const EDGE_REACH_PX = 6;
const MIN_THREADS = 18;
const MAX_THREADS = 110;

export interface StripBox {
  event: PatternEvent;
  x: number;
  width: number;
  /** Top of the strip's row, and its height. */
  y: number;
  height: number;
}

export interface PatternLayout {
  width: number;
  height: number;
  lengthTicks: number;
  /** Threads reach from the source row down to here. */
  ribbonTop: number;
  ribbonBottom: number;
  strips: StripBox[];
}

/** Lays events out in rows, one row for each that sounds at the same time. */
export function layoutPattern(
  events: readonly PatternEvent[],
  lengthTicks: number,
  width: number,
  height: number,
): PatternLayout {
  const threads = Math.max(MIN_THREADS, Math.min(MAX_THREADS, height * 0.28));
  const ribbonTop = SOURCE_ROW_HEIGHT + threads;
  const ribbonBottom = Math.max(ribbonTop + 20, height - TIME_ROW_HEIGHT);
  const rows = assignRows(events);
  const rowCount = Math.max(1, ...rows.map((row) => row + 1));
  const rowHeight = (ribbonBottom - ribbonTop) / rowCount;
  const strips = events.map((event, index) => {
    const x = ticksToX(event.positionTicks, lengthTicks, width);
    const end = ticksToX(Math.min(lengthTicks, event.positionTicks + event.lengthTicks), lengthTicks, width);
    return { event, x, width: Math.max(2, end - x), y: ribbonTop + rows[index]! * rowHeight, height: rowHeight };
  });
  return { width, height, lengthTicks, ribbonTop, ribbonBottom, strips };
}

export function ticksToX(ticks: number, lengthTicks: number, width: number): number {
  return lengthTicks > 0 ? (ticks / lengthTicks) * width : 0;
}

export function xToTicks(x: number, lengthTicks: number, width: number): number {
  return (x / width) * lengthTicks;
}

/**
 * The strips that can be told apart: of those that lie closer than a distance in a row only the first is drawn, and the
 * first of the selected ones. Thousands in one view would be one grey bar, and as slow as thousands.
 * @param strips in order of position
 * @param leastPx distance of two that are both drawn, in pixels
 * @param rowOf rows that are looked at apart from each other
 */
export function stripsApart<S extends StripBox>(
  strips: readonly S[],
  selected: ReadonlySet<string>,
  leastPx: number,
  rowOf: (strip: S) => number = ({ y }) => y,
): S[] {
  const last = { plain: new Map<number, number>(), selected: new Map<number, number>() };
  return strips.filter((strip) => {
    const lastX = selected.has(strip.event.id) ? last.selected : last.plain;
    const row = rowOf(strip);
    if (Math.abs(strip.x - (lastX.get(row) ?? -Infinity)) < leastPx) return false;
    lastX.set(row, strip.x);
    return true;
  });
}

export interface Box {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/** The events of strips that a box touches. */
export function stripsInBox(strips: readonly StripBox[], box: Box): string[] {
  return strips
    .filter(
      ({ x, y, width, height }) => x < box.right && x + width > box.left && y < box.bottom && y + height > box.top,
    )
    .map(({ event }) => event.id);
}

export type PatternSpot =
  { zone: 'source' } | { zone: 'strip' | 'edge'; strip: StripBox } | { zone: 'empty' } | { zone: 'outside' };

/** What lies under a point; the end of a strip is its edge, by which it is lengthened. */
export function patternSpotAt(layout: PatternLayout, x: number, y: number): PatternSpot {
  if (y < SOURCE_ROW_HEIGHT + 4) return { zone: 'source' };
  if (y < layout.ribbonTop || y > layout.ribbonBottom) return { zone: 'outside' };
  const row = layout.strips.filter((strip) => y >= strip.y && y < strip.y + strip.height);
  const inside = row.filter((strip) => x >= strip.x && x < strip.x + strip.width).at(-1);
  if (inside) {
    const reach = Math.min(EDGE_REACH_PX, inside.width / 3);
    return { zone: x >= inside.x + inside.width - reach ? 'edge' : 'strip', strip: inside };
  }
  return { zone: 'empty' };
}
