/** The groove of a loop: how late and how loud its steps are. */
import type { PeakPyramid } from '../dsp/peaks.ts';
import { peakBetween } from '../dsp/peaks.ts';
import type { PlacedSlice } from '../queries/slices.ts';
import type { Groove, Loop } from '../document/schema.ts';
import { loopLengthTicks } from '../units/time.ts';
import { homeEvents } from '../strips/home.ts';

/** The accent of a slice is the loudest moment of its first part, in seconds. */
const ACCENT_SECONDS = 0.08;

/** Lifts the groove out of a loop as it is cut: see {@link liftGroove}. */
export function grooveOfLoop(
  placed: readonly PlacedSlice[],
  loop: Loop,
  peaks: PeakPyramid,
  sampleRate: number,
  name: string,
  stepTicks: number,
): Groove {
  const accentFrames = ACCENT_SECONDS * sampleRate;
  const levels = new Map(
    placed.map(({ slice, startFrame, endFrame }) => [
      slice.id,
      peakBetween(peaks, startFrame, Math.min(endFrame, startFrame + accentFrames)),
    ]),
  );
  const lengthTicks = loopLengthTicks(loop);
  const heard = homeEvents(placed, loop, lengthTicks).map(({ positionTicks, sliceId }) => ({
    positionTicks,
    level: levels.get(sliceId)!,
  }));
  return liftGroove(heard, lengthTicks, name, stepTicks);
}

/**
 * Lifts the groove out of a loop: for each step the mean shift of the events nearest to it and their level against the
 * mean. Steps without an event keep the grid.
 */
export function liftGroove(
  events: readonly { positionTicks: number; level: number }[],
  lengthTicks: number,
  name: string,
  stepTicks: number,
): Groove {
  const count = Math.max(1, Math.min(256, Math.round(lengthTicks / stepTicks)));
  const shifts: number[][] = Array.from({ length: count }, () => []);
  const levels: number[][] = Array.from({ length: count }, () => []);
  for (const { positionTicks, level } of events) {
    const step = Math.round(positionTicks / stepTicks);
    const shift = positionTicks / stepTicks - step;
    shifts[step % count]!.push(shift);
    levels[step % count]!.push(level);
  }
  const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
  const usual = mean(levels.flat()) || 1;
  return {
    name,
    stepTicks,
    steps: shifts.map((of, step) => ({
      shift: of.length ? Math.max(-0.5, Math.min(0.5, mean(of))) : 0,
      accent: of.length ? Math.max(0, Math.min(2, mean(levels[step]!) / usual)) : 1,
    })),
  };
}

/** Steps that are less than this share of a step away are on the grid. */
const ON_GRID = 0.02;

/** `16 steps, 8 late, at most by 11% of a step`: a groove in words. */
export function grooveWords({ steps }: Groove): string {
  const late = steps.filter(({ shift }) => shift > ON_GRID).length;
  const early = steps.filter(({ shift }) => shift < -ON_GRID).length;
  const most = Math.max(...steps.map(({ shift }) => Math.abs(shift)));
  const count = `${steps.length} ${steps.length === 1 ? 'step' : 'steps'}`;
  if (late + early === 0) return `${count}, all on the grid`;
  const moved = [late && `${late} late`, early && `${early} early`].filter(Boolean).join(', ');
  return `${count}, ${moved}, at most by ${Math.round(100 * most)}% of a step`;
}
