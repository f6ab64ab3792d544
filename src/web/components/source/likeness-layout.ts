/** Slices laid out by how they sound: dots on two logarithmic axes that do not lie on each other. */
import { extent } from 'd3-array';
import { forceCollide, forceSimulation, forceX, forceY, type SimulationNodeDatum } from 'd3-force';
import { scaleLog, type ScaleLogarithmic } from 'd3-scale';

export interface SoundPoint {
  brightnessHz: number;
  lengthMs: number;
}

export interface LikenessLayout {
  dots: { x: number; y: number }[];
  x: ScaleLogarithmic<number, number>;
  y: ScaleLogarithmic<number, number>;
  radius: number;
}

export const LIKENESS_MARGIN = { left: 58, right: 26, top: 22, bottom: 32 };
const MAX_RADIUS = 13;
const MIN_RADIUS = 3;
/** Dots cover at most this share of the picture. */
const MOST_COVERED = 0.22;
const STEPS = 100;
/** More than these are not pushed apart. */
const MOST_APART = 600;

/**
 * Bright to the right, long upwards. Dots are pushed apart until none lies on another, as few pixels from their own place
 * as they can (d3-force's collision; many of them become smaller).
 */
export function layoutLikeness(points: readonly SoundPoint[], width: number, height: number): LikenessLayout {
  const steps = likenessSteps(points, width, height);
  let step = steps.next();
  while (!step.done) step = steps.next();
  return step.value;
}

/** The same in steps short enough for the page's own thread; each yields what there is so far. */
export function* likenessSteps(
  points: readonly SoundPoint[],
  width: number,
  height: number,
): Generator<LikenessLayout, LikenessLayout> {
  const { left, right, top, bottom } = LIKENESS_MARGIN;
  const scale = (values: number[], from: number, to: number) => {
    const [low = 1, high = 2] = extent(values);
    return scaleLog([low * 0.95, Math.max(low * 1.1, high * 1.05)], [from, to]);
  };
  const x = scale(
    points.map(({ brightnessHz }) => Math.max(20, brightnessHz)),
    left,
    Math.max(left + 1, width - right),
  );
  const y = scale(
    points.map(({ lengthMs }) => Math.max(1, lengthMs)),
    Math.max(top + 1, height - bottom),
    top,
  );
  const room = Math.max(1, (width - left - right) * (height - top - bottom));
  const byRoom = Math.sqrt((room * MOST_COVERED) / Math.max(1, points.length) / Math.PI);
  const homes = points.map((point) => ({
    x: x(Math.max(20, point.brightnessHz)),
    y: y(Math.max(1, point.lengthMs)),
  }));
  let radius = Math.max(MIN_RADIUS, Math.min(MAX_RADIUS, byRoom));
  yield { dots: homes, x, y, radius };
  // So many cannot all be seen: they lie where they belong.
  if (points.length > MOST_APART) return { dots: homes, x, y, radius: MIN_RADIUS };
  let dots = yield* pushedApart(homes, radius, width, height, x, y);
  // Where there is no room for so many side by side they become smaller.
  while (radius > MIN_RADIUS && leastDistance(dots) < 2 * radius) {
    radius = Math.max(MIN_RADIUS, radius * 0.85);
    dots = yield* pushedApart(homes, radius, width, height, x, y);
  }
  return { dots, x, y, radius };
}

interface Dot {
  x: number;
  y: number;
}

/** Drawn to their homes, and off each other, inside the picture. */
function* pushedApart(
  homes: readonly Dot[],
  radius: number,
  width: number,
  height: number,
  x: LikenessLayout['x'],
  y: LikenessLayout['y'],
): Generator<LikenessLayout, Dot[]> {
  const nodes: (SimulationNodeDatum & { home: Dot })[] = homes.map((home, index) => ({
    home,
    // Equal ones begin a hair apart, in the same direction every time.
    x: home.x + Math.cos(index) * 0.01,
    y: home.y + Math.sin(index) * 0.01,
  }));
  const keepInside = () => {
    for (const node of nodes) {
      node.x = Math.max(radius + 1, Math.min(width - radius - 1, node.x!));
      node.y = Math.max(radius + 1, Math.min(height - radius - 1, node.y!));
    }
  };
  const simulation = forceSimulation(nodes)
    .force('x', forceX<(typeof nodes)[number]>(({ home }) => home.x).strength(0.2))
    .force('y', forceY<(typeof nodes)[number]>(({ home }) => home.y).strength(0.2))
    .force('apart', forceCollide(radius + 1).iterations(4))
    .force('inside', keepInside)
    .stop();
  const places = () => nodes.map((node) => ({ x: node.x!, y: node.y! }));
  for (let step = 0; step < STEPS; step++) {
    simulation.tick();
    yield { dots: places(), x, y, radius };
  }
  // What still overlaps is pushed apart without being drawn home.
  simulation.force('x', null).force('y', null).alpha(1);
  for (let step = 0; step < STEPS; step++) {
    simulation.tick();
    yield { dots: places(), x, y, radius };
  }
  keepInside();
  return places();
}

function leastDistance(dots: readonly Dot[]): number {
  let least = Infinity;
  for (let i = 0; i < dots.length; i++) {
    for (let j = i + 1; j < dots.length; j++) {
      least = Math.min(least, Math.hypot(dots[i]!.x - dots[j]!.x, dots[i]!.y - dots[j]!.y));
    }
  }
  return least;
}

/** An axis names at least so many values where that can be. */
const FEWEST_TICKS = 3;

/** Frequencies or milliseconds to name on an axis: 1, 2 and 5 of each power of ten inside its range, more in a short one. */
export function roundTicks([low, high]: [number, number]): number[] {
  const ticksBy = (factors: readonly number[]) => {
    const ticks: number[] = [];
    for (let power = 10 ** Math.floor(Math.log10(low)); power <= high; power *= 10) {
      for (const factor of factors) if (power * factor >= low && power * factor <= high) ticks.push(power * factor);
    }
    return ticks;
  };
  const ticks = ticksBy([1, 2, 5]);
  return ticks.length >= FEWEST_TICKS ? ticks : ticksBy([1, 1.5, 2, 2.5, 3, 4, 5, 6, 8]);
}
