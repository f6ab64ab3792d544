/** The grid that events are placed on. */
import { loopFrameAt, loopTicksAt, type TimedLoop } from '../units/loop-time.ts';
import { TICKS_PER_BEAT } from '../units/time.ts';

/** One choice of grid; `stepTicks` null means free. */
export interface GridChoice {
  label: string;
  stepTicks: number | null;
}

const WHOLE_TICKS = 4 * TICKS_PER_BEAT;

/** How a step divides: three in the time of two, five in the time of four, one and a half as long. */
const DIVIDED = { dotted: 3 / 2, triplet: 2 / 3, quintuplet: 4 / 5 };
const DIVISIONS = [1, 2, 4, 8, 16, 32, 64];

function stepsOf(divided: readonly (keyof typeof DIVIDED)[]): { label: string; stepTicks: number }[] {
  return DIVISIONS.flatMap((division) => [
    { label: `1/${division}`, stepTicks: WHOLE_TICKS / division },
    ...divided.map((name) => ({
      label: `1/${division} ${name}`,
      stepTicks: (WHOLE_TICKS / division) * DIVIDED[name],
    })),
  ]);
}

/** Whole notes to sixty-fourths: straight, dotted, in triplets and quintuplets; and free. */
export const GRID_CHOICES: readonly GridChoice[] = [
  ...stepsOf(['dotted', 'triplet', 'quintuplet']),
  { label: 'free', stepTicks: null },
];

/** The grid line nearest to a position; the position itself on a free grid. */
export function snapToGrid(ticks: number, stepTicks: number | null): number {
  return stepTicks === null ? ticks : Math.round(ticks / stepTicks) * stepTicks;
}

/** The grid line at or before a position; the position itself on a free grid. */
export function gridLineBefore(ticks: number, stepTicks: number | null): number {
  return stepTicks === null ? ticks : Math.floor(ticks / stepTicks + 1e-9) * stepTicks;
}

/** Steps that a cut on a grid may have. */
export const CUT_STEPS: readonly { label: string; stepTicks: number }[] = stepsOf(['dotted', 'triplet']);

/** The frame of a source nearest to `frame` at which a step of its loop begins. */
export function nearestStepFrame(loop: TimedLoop, stepTicks: number, frame: number): number {
  return Math.round(loopFrameAt(loop, snapToGrid(loopTicksAt(loop, frame), stepTicks)));
}
