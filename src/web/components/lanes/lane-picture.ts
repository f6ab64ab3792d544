/** The course of a lane as an SVG path. */
import type { LanePoint } from '#core/document/schema.ts';
import { laneValue } from '#core/lanes/points.ts';

const BENT_STEPS = 12;
/** Beyond so many points the course is looked at column by column. */
const MOST_POINTS = 600;

export interface LaneScale {
  x: (ticks: number) => number;
  y: (value: number) => number;
}

const at = (x: number, y: number) => `${x.toFixed(1)},${y.toFixed(1)}`;

/** From the lane's start to its end. */
export function lanePath(points: readonly LanePoint[], lengthTicks: number, { x, y }: LaneScale): string {
  const places: string[] = [at(x(0), y(laneValue(points, 0)))];
  if (points.length > MOST_POINTS) {
    const columns = Math.ceil(2 * (x(lengthTicks) - x(0)));
    for (let i = 1; i <= columns; i++) {
      const ticks = (i / columns) * lengthTicks;
      places.push(at(x(ticks), y(laneValue(points, ticks))));
    }
    return `M${places.join('L')}`;
  }
  points.forEach((point, place) => {
    if (point.at > lengthTicks) return;
    places.push(at(x(point.at), y(point.value)));
    const next = points[place + 1];
    if (!next || next.at > lengthTicks + 1e-6) return;
    if (point.stays) places.push(at(x(next.at), y(point.value)));
    else if (point.bend) {
      for (let i = 1; i < BENT_STEPS; i++) {
        const ticks = point.at + ((next.at - point.at) * i) / BENT_STEPS;
        places.push(at(x(ticks), y(laneValue(points, ticks))));
      }
    }
  });
  places.push(at(x(lengthTicks), y(laneValue(points, lengthTicks))));
  return `M${places.join('L')}`;
}
