/** The grid that a loop's feel is measured on: sixteenths, or the triplets of shuffles, of 6/8 and of 12/8. */
import type { Cut } from '../document/schema.ts';
import { FEEL_STEPS, type FeelStep } from '../params/choices.ts';
import { loopTicksAt } from '../units/loop-time.ts';
import { TICKS_PER_BEAT } from '../units/time.ts';

/** In the order of the choices. */
export const FEEL_STEP_TICKS: readonly number[] = FEEL_STEPS.map(({ beats }) => beats * TICKS_PER_BEAT);
const [SIXTEENTHS, TRIPLETS] = FEEL_STEP_TICKS as readonly [number, number, number];

export function feelStepTicks(step: FeelStep): number {
  return FEEL_STEP_TICKS[FEEL_STEPS.findIndex(({ value }) => value === step)]!;
}

/** What is nearer to a beat than this tells nothing, in ticks: all grids have a line there. */
const ON_BEAT_TICKS = 60;
/** So many hits beside the beats, at least, tell triplets … */
const LEAST_HITS = 4;
/** … which lie, on the average, within this share of half a step, and so much nearer than to sixteenths. */
const MOST_OFF = 0.35;
const NEARER = 0.6;

/**
 * Do the hits of a loop lie on triplets? Shuffled sixteenths do not: they have hits on the half of the beat, which
 * triplets leave out.
 * @param positionsTicks from the loop's start on
 */
export function feelStepOf(positionsTicks: readonly number[]): FeelStep {
  const beside = positionsTicks.filter((ticks) => offLine(ticks, TICKS_PER_BEAT) > ON_BEAT_TICKS);
  if (beside.length < LEAST_HITS) return 'sixteenths';
  const triplets = meanOff(beside, TRIPLETS);
  return triplets <= MOST_OFF && triplets <= NEARER * meanOff(beside, SIXTEENTHS) ? 'triplets' : 'sixteenths';
}

/** The same of a cut: of slices that begin in its loop. What is no loop has no feel. */
export function feelStepOfCut({ loop, slices }: Pick<Cut, 'loop' | 'slices'>): FeelStep {
  if (!loop) return 'sixteenths';
  const inside = Object.values(slices).filter(
    ({ startFrame }) => startFrame >= loop.startFrame && startFrame < loop.endFrame,
  );
  return feelStepOf(inside.map(({ startFrame }) => loopTicksAt(loop, startFrame)));
}

function offLine(ticks: number, stepTicks: number): number {
  return Math.abs(ticks - Math.round(ticks / stepTicks) * stepTicks);
}

/** Mean distance from the lines, as a share of the greatest there is. */
function meanOff(positionsTicks: readonly number[], stepTicks: number): number {
  const sum = positionsTicks.reduce((total, ticks) => total + offLine(ticks, stepTicks), 0);
  return (2 * sum) / positionsTicks.length / stepTicks;
}
