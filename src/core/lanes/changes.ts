/** A lane's course changed as a whole: scaled, shifted, mirrored, made of shapes. Pure; positions in ticks. */
import type { LanePoint } from '../document/schema.ts';
import { drawnOver, lanePoint, laneValue, soundPoints } from './points.ts';

/** Values drawn nearer to a middle, or further from it. @param share 1 leaves them as they are */
export function scaled(points: readonly LanePoint[], share: number, middle = 0.5): LanePoint[] {
  return points.map((point) => ({ ...point, value: within(middle + (point.value - middle) * share) }));
}

/** All values higher or lower. @param by in shares of the range */
export function raised(points: readonly LanePoint[], by: number): LanePoint[] {
  return points.map((point) => ({ ...point, value: within(point.value + by) }));
}

/** Upside down. */
export function turnedOver(points: readonly LanePoint[]): LanePoint[] {
  return points.map((point) => ({ ...point, value: 1 - point.value }));
}

/** Later by so much; what goes over the end comes in at the start. */
export function shifted(points: readonly LanePoint[], byTicks: number, lengthTicks: number): LanePoint[] {
  const cut = mod(-byTicks, lengthTicks);
  const [head, tail] = splitAt(points, cut, lengthTicks);
  return soundPoints(
    [
      ...tail.map((point) => ({ ...point, at: point.at - cut })),
      ...head.map((point) => ({ ...point, at: point.at + lengthTicks - cut })),
    ],
    lengthTicks,
  );
}

/** From its end to its start. A stay becomes a stay, a bend its like the other way round. */
export function backwards(points: readonly LanePoint[], lengthTicks: number): LanePoint[] {
  const full = spread(points, lengthTicks);
  const turned: LanePoint[] = [];
  for (let place = full.length - 1; place >= 0; place--) {
    const here = full[place]!;
    const before = full[place - 1];
    const at = lengthTicks - here.at;
    if (before?.stays) {
      // It stayed at the value before until here, and stepped.
      turned.push(lanePoint(at, here.value), lanePoint(at, before.value, { stays: true }));
    } else turned.push(lanePoint(at, here.value, { bend: before?.bend === undefined ? undefined : -before.bend }));
  }
  return soundPoints(turned, lengthTicks);
}

/** Shapes that are laid over a lane, each going round in a length of its own. */
export const LANE_SHAPES = ['up', 'down', 'hill', 'valley', 'wave', 'pulse', 'steps'] as const;
export type LaneShape = (typeof LANE_SHAPES)[number];

const WAVE_POINTS = 16;

/** One round of a shape: places 0..1 and values 0..1. */
function roundOf(shape: LaneShape): LanePoint[] {
  switch (shape) {
    case 'up':
      return [lanePoint(0, 0), lanePoint(1, 1)];
    case 'down':
      return [lanePoint(0, 1), lanePoint(1, 0)];
    case 'hill':
      return [lanePoint(0, 0), lanePoint(0.5, 1), lanePoint(1, 0)];
    case 'valley':
      return [lanePoint(0, 1), lanePoint(0.5, 0), lanePoint(1, 1)];
    case 'wave':
      return Array.from({ length: WAVE_POINTS + 1 }, (_, i) =>
        lanePoint(i / WAVE_POINTS, 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / WAVE_POINTS)),
      );
    case 'pulse':
      return [lanePoint(0, 1, { stays: true }), lanePoint(0.5, 0, { stays: true })];
    case 'steps':
      return [1, 0.75, 0.5, 0.25].map((value, i) => lanePoint(i / 4, value, { stays: true }));
  }
}

/**
 * A shape over and over, in place of what was there.
 * @param roundTicks length of one round @param low @param high values that it goes between, 0..1
 */
export function shaped(shape: LaneShape, roundTicks: number, lengthTicks: number, low = 0, high = 1): LanePoint[] {
  const round = roundOf(shape);
  const points: LanePoint[] = [];
  for (let start = 0; start < lengthTicks - 1e-6; start += roundTicks) {
    for (const point of round) {
      const at = start + point.at * roundTicks;
      const value = low + (high - low) * point.value;
      if (at <= lengthTicks + 1e-6) points.push({ ...point, at, value });
      else {
        // The last round is cut where the lane ends.
        const before = points.at(-1)!;
        if (!before.stays)
          points.push(lanePoint(lengthTicks, laneValue([before, { ...point, at, value }], lengthTicks)));
        break;
      }
    }
  }
  return soundPoints(points, lengthTicks);
}

/** One step of a grid set to a value, from its start to its end. */
export function stepSet(points: readonly LanePoint[], fromTicks: number, toTicks: number, value: number): LanePoint[] {
  return drawnOver(points, [lanePoint(fromTicks, value, { stays: true }), lanePoint(toTicks, value, { stays: true })]);
}

/** The course once more behind itself, as often as it takes. */
export function repeated(points: readonly LanePoint[], lengthTicks: number, toTicks: number): LanePoint[] {
  const all: LanePoint[] = [];
  for (let start = 0; start < toTicks; start += lengthTicks) {
    for (const point of spread(points, lengthTicks))
      if (start + point.at <= toTicks) all.push({ ...point, at: start + point.at });
  }
  return soundPoints(all, toTicks);
}

/** With a point at its start and one at its end. */
function spread(points: readonly LanePoint[], lengthTicks: number): LanePoint[] {
  const within = points.filter(({ at }) => at <= lengthTicks);
  const first = points[0]!;
  const start = first.at > 0 ? [lanePoint(0, first.value)] : [];
  const last = within.at(-1);
  const end = !last || last.at < lengthTicks ? [lanePoint(lengthTicks, laneValue(points, lengthTicks))] : [];
  return [...start, ...within, ...end];
}

function splitAt(points: readonly LanePoint[], ticks: number, lengthTicks: number): [LanePoint[], LanePoint[]] {
  const full = spread(points, lengthTicks);
  if (ticks <= 0) return [[], full];
  const head = full.filter(({ at }) => at <= ticks);
  const tail = full.filter(({ at }) => at > ticks);
  const last = head.at(-1)!;
  if (last.at === ticks) return [head, [last, ...tail]];
  const value = laneValue(full, ticks);
  return [
    [...head, lanePoint(ticks, value)],
    [lanePoint(ticks, value, { stays: last.stays === true }), ...tail],
  ];
}

const within = (value: number) => Math.max(0, Math.min(1, value));

function mod(value: number, length: number): number {
  const rest = value % length;
  return rest < 0 ? rest + length : rest;
}
