/** The course of a lane, as points in the order of their positions: read, drawn over, thinned. Pure; positions in ticks. */
import { MAX_LANE_POINTS } from '../document/limits.ts';
import type { LanePoint } from '../document/schema.ts';
import { bent } from '../dsp/bend.ts';

/** Points nearer than this are one, in ticks. */
const SAME_TICKS = 1e-6;

const clamp01 = (value: number) => Math.max(0, Math.min(1, value));

/** A point, with nothing in it that says nothing. */
export function lanePoint(
  at: number,
  value: number,
  more: { bend?: number | undefined; stays?: boolean } = {},
): LanePoint {
  const { bend = 0, stays = false } = more;
  return { at, value: clamp01(value), ...(bend === 0 || stays ? {} : { bend }), ...(stays ? { stays: true } : {}) };
}

/** The last place at or before a position; -1 before the first (binary search). */
export function placeAt(points: readonly LanePoint[], ticks: number): number {
  let low = 0;
  let high = points.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (points[middle]!.at <= ticks) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}

/** The value at a position, 0..1, as the engine has it: before the first point that one's, after the last that one's. */
export function laneValue(points: readonly LanePoint[], ticks: number): number {
  const place = placeAt(points, ticks);
  if (place < 0) return points[0]!.value;
  const { at, value, bend = 0, stays } = points[place]!;
  const next = points[place + 1];
  if (!next || stays) return value;
  return value + (next.value - value) * bent((ticks - at) / (next.at - at), bend);
}

/** Points in order, each within a lane; those at one place twice at most, as a step; no more than a document holds. */
export function soundPoints(points: readonly LanePoint[], lengthTicks: number): LanePoint[] {
  const inOrder = points
    .map((point) => ({ ...point, at: Math.max(0, Math.min(lengthTicks, point.at)), value: clamp01(point.value) }))
    .sort((one, other) => one.at - other.at);
  const kept: LanePoint[] = [];
  for (const point of inOrder) {
    const isThird = kept.length > 1 && point.at - kept.at(-2)!.at < SAME_TICKS;
    if (isThird) kept[kept.length - 1] = point;
    else kept.push(point);
  }
  return kept.length <= MAX_LANE_POINTS ? kept : thinnedTo(kept, MAX_LANE_POINTS);
}

/**
 * A course drawn over another: outside of it everything stays as it was, with a step where they meet.
 * @param drawn in order, two points at least
 */
export function drawnOver(points: readonly LanePoint[], drawn: readonly LanePoint[]): LanePoint[] {
  const from = drawn[0]!.at;
  const to = drawn.at(-1)!.at;
  const before = points.filter(({ at }) => at < from - SAME_TICKS);
  const after = points.filter(({ at }) => at > to + SAME_TICKS);
  // What led to the next point is cut where the drawing begins, and goes on from where it ends.
  const over = placeAt(points, to);
  const stays = points[over]?.stays === true;
  const meets = before.at(-1)?.stays ? [] : [lanePoint(from, laneValue(points, from))];
  const rest = [lanePoint(to, laneValue(points, to + SAME_TICKS), { stays })];
  return withoutRepeats([...before, ...meets, ...drawn, ...rest, ...after]);
}

/** Of points at one place with one value the last is left. */
function withoutRepeats(points: readonly LanePoint[]): LanePoint[] {
  return points.filter((point, place) => {
    const next = points[place + 1];
    return !next || next.at - point.at > SAME_TICKS || Math.abs(next.value - point.value) > 1e-9;
  });
}

/**
 * Fewer points through which a line goes almost as before (Ramer 1972, Douglas and Peucker 1973): none of those left out
 * is further from it than `tolerance`, in shares of the range. Steps and bends stay.
 */
export function thinned(points: readonly LanePoint[], tolerance: number): LanePoint[] {
  if (points.length < 3) return [...points];
  const isKept = new Uint8Array(points.length);
  isKept[0] = isKept[points.length - 1] = 1;
  points.forEach(({ bend, stays }, place) => {
    if (!bend && !stays) return;
    isKept[place] = 1;
    if (place + 1 < points.length) isKept[place + 1] = 1;
  });
  const ends = [...isKept.keys()].filter((place) => isKept[place]);
  const open = ends.slice(1).map((end, index): [number, number] => [ends[index]!, end]);
  for (let span = open.pop(); span; span = open.pop()) {
    const [from, to] = span;
    const furthest = furthestFromLine(points, from, to);
    if (furthest.distance <= tolerance) continue;
    isKept[furthest.place] = 1;
    open.push([from, furthest.place], [furthest.place, to]);
  }
  return points.filter((_, place) => isKept[place]);
}

function furthestFromLine(points: readonly LanePoint[], from: number, to: number): { place: number; distance: number } {
  const { at, value } = points[from]!;
  const end = points[to]!;
  const found = { place: -1, distance: -1 };
  for (let place = from + 1; place < to; place++) {
    const point = points[place]!;
    const share = end.at === at ? 0 : (point.at - at) / (end.at - at);
    const distance = Math.abs(point.value - (value + (end.value - value) * share));
    if (distance > found.distance) Object.assign(found, { place, distance });
  }
  return found;
}

function thinnedTo(points: readonly LanePoint[], most: number): LanePoint[] {
  let tolerance = 1e-4;
  let fewer = thinned(points, tolerance);
  while (fewer.length > most && tolerance < 1) {
    tolerance *= 2;
    fewer = thinned(points, tolerance);
  }
  return fewer.slice(0, most);
}
