/** Courses of lanes: read as the engine reads them, drawn over, and changed as a whole. */
import { describe, expect, it } from 'vitest';
import { Lane } from '../engine/control/lane.ts';
import type { LanePoint } from '../document/schema.ts';
import { hashed01 } from '../units/hash.ts';
import { backwards, LANE_SHAPES, raised, repeated, scaled, shaped, shifted, stepSet, turnedOver } from './changes.ts';
import { drawnOver, lanePoint, laneValue, soundPoints, thinned } from './points.ts';

const LENGTH = 3840;

/** Courses of all kinds: lines, bends, steps, two points at one place. */
function course(seed: number): LanePoint[] {
  const drawn = (n: number) => hashed01(seed, n);
  const count = 1 + Math.floor(drawn(0) * 12);
  const points = Array.from({ length: count }, (_, i) => {
    const kind = drawn(10 * i + 3);
    const at = Math.round(drawn(10 * i + 1) * 16) * (LENGTH / 16);
    return lanePoint(at, drawn(10 * i + 2), kind < 0.3 ? { stays: true } : kind < 0.6 ? { bend: 2 * kind - 0.9 } : {});
  });
  return soundPoints(points, LENGTH);
}
const courses = Array.from({ length: 60 }, (_, seed) => course(seed + 1));
/** Off the places of points, where a step has two values. */
const places = Array.from({ length: 97 }, (_, i) => (i + 0.37) * (LENGTH / 97.5));

function expectSame(one: readonly LanePoint[], other: readonly LanePoint[], at = (ticks: number) => ticks): void {
  for (const ticks of places) expect(laneValue(one, ticks)).toBeCloseTo(laneValue(other, at(ticks)), 5);
}

describe('the course of a lane', () => {
  it('is what the engine goes through, step by step and from anywhere', () => {
    for (const points of courses) {
      const fragment = {
        lengthTicks: LENGTH,
        positionTicks: Float64Array.from(points, ({ at }) => at),
        values: Float64Array.from(points, ({ value }) => value),
        bends: Float64Array.from(points, ({ bend = 0 }) => bend),
        stays: Uint8Array.from(points, ({ stays }) => Number(stays ?? false)),
      };
      const lane = new Lane(fragment);
      for (const round of [0, 1]) {
        for (const ticks of places) {
          lane.look(ticks + round * LENGTH, 960, true);
          lane.isAnew = false;
          expect(lane.value).toBeCloseTo(laneValue(points, ticks), 9);
          const anew = new Lane(fragment);
          anew.look(ticks, 960, true);
          expect(anew.value).toBeCloseTo(lane.value, 12);
        }
      }
    }
  });

  it('is drawn over between two places, and stays as it was outside', () => {
    for (const [n, points] of courses.entries()) {
      const from = 400 + 30 * n;
      const drawn = [lanePoint(from, 0.2), lanePoint(from + 300, 0.9), lanePoint(from + 700, 0.4)];
      const over = drawnOver(points, drawn);
      for (const ticks of places) {
        const isInside = ticks > from && ticks < from + 700;
        if (isInside) expect(laneValue(over, ticks)).toBeCloseTo(laneValue(drawn, ticks), 6);
        // A bent stretch that is cut goes on straight from where it is cut.
        else if (!points.some(({ bend }) => bend))
          expect(laneValue(over, ticks)).toBeCloseTo(laneValue(points, ticks), 4);
      }
    }
  });

  it('is thinned out within what is allowed, steps and bends kept', () => {
    const wave = Array.from({ length: 400 }, (_, i) => lanePoint(i * 9.6, 0.5 + 0.4 * Math.sin(i / 20)));
    const fewer = thinned(wave, 0.01);
    expect(fewer.length).toBeLessThan(60);
    for (const ticks of places) expect(Math.abs(laneValue(fewer, ticks) - laneValue(wave, ticks))).toBeLessThan(0.0101);
    for (const points of courses) {
      const kept = thinned(points, 0.05);
      expect(kept.filter(({ stays }) => stays)).toEqual(points.filter(({ stays }) => stays));
    }
  });

  it('turned over, backwards or shifted twice is as it was', () => {
    for (const points of courses) {
      expectSame(turnedOver(turnedOver(points)), points);
      expectSame(backwards(points, LENGTH), points, (ticks) => LENGTH - ticks);
      if (points.some(({ bend }) => bend)) continue;
      expectSame(shifted(points, 960, LENGTH), points, (ticks) => (ticks - 960 + LENGTH) % LENGTH);
      expectSame(shifted(shifted(points, 700, LENGTH), -700, LENGTH), points);
    }
  });

  it('is scaled and raised within its range, and repeated', () => {
    for (const points of courses) {
      for (const changed of [scaled(points, 3), raised(points, 0.7), raised(points, -0.7)]) {
        expect(changed.every(({ value }) => value >= 0 && value <= 1)).toBe(true);
      }
      const twice = repeated(points, LENGTH, 2 * LENGTH);
      expectSame(points, twice);
      expectSame(points, twice, (ticks) => ticks + LENGTH);
    }
    expect(scaled([lanePoint(0, 0.7)], 0.5)[0]!.value).toBeCloseTo(0.6, 9);
  });

  it.each(LANE_SHAPES)('of the shape %s goes round in its note value, and is cut where the lane ends', (shape) => {
    const points = shaped(shape, 640, LENGTH - 100);
    expect(points.every(({ at }, i) => at <= LENGTH - 100 && at >= (points[i - 1]?.at ?? 0))).toBe(true);
    for (const ticks of places.filter((one) => one < LENGTH - 760)) {
      expect(laneValue(points, ticks)).toBeCloseTo(laneValue(points, ticks + 640), 5);
    }
    const values = places.filter((one) => one < 3000).map((ticks) => laneValue(points, ticks));
    expect(Math.max(...values) - Math.min(...values)).toBeGreaterThan(0.7);
  });

  it('takes a step of the grid, and keeps its neighbours', () => {
    const line = [lanePoint(0, 0), lanePoint(LENGTH, 1)];
    const stepped = stepSet(line, 960, 1200, 0.9);
    expect(laneValue(stepped, 1000)).toBe(0.9);
    expect(laneValue(stepped, 1199)).toBe(0.9);
    expect(laneValue(stepped, 959)).toBeCloseTo(959 / LENGTH, 3);
    expect(laneValue(stepped, 1300)).toBeCloseTo(1300 / LENGTH, 3);
  });
});
