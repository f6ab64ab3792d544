/**
 * Where an event of a pattern sounds in the song: its own timing drawn to the grid or towards a groove, then the song's
 * swing. All in ticks; pure. Each step leaves the order of events as it is.
 */
import { TICKS_PER_BEAT } from '../units/time.ts';

/** Swing moves every second sixteenth. */
const SWING_PAIR_TICKS = TICKS_PER_BEAT / 2;

interface TimedGroove {
  stepTicks: number;
  steps: readonly { shift: number; accent: number }[];
}

export interface TimingSettings {
  feelPercent: number;
  /** The grid that feel is measured on: see feel-step.ts. */
  feelStepTicks: number;
  groove: TimedGroove | null;
  groovePercent: number;
  /** The song's; 50 for parts that keep a tempo of their own. */
  swingPercent: number;
}

/** Everything sounds where it is written. */
export const plainTiming = (): TimingSettings => ({
  feelPercent: 100,
  feelStepTicks: TICKS_PER_BEAT / 4,
  groove: null,
  groovePercent: 0,
  swingPercent: 50,
});

/** Moves a position so that the middle of each pair of sixteenths sits at `swingPercent` of it; linear in between. */
export function swung(ticks: number, swingPercent: number): number {
  const pair = Math.floor(ticks / SWING_PAIR_TICKS);
  const within = ticks / SWING_PAIR_TICKS - pair;
  const share = swingPercent / 100;
  const moved = within < 0.5 ? within * 2 * share : share + (within - 0.5) * 2 * (1 - share);
  return (pair + moved) * SWING_PAIR_TICKS;
}

/** Draws a position to its grid line: 100 leaves it, 0 puts it onto the line. */
export function withFeel(ticks: number, { feelPercent, feelStepTicks }: TimingSettings): number {
  const line = Math.round(ticks / feelStepTicks) * feelStepTicks;
  return line + (ticks - line) * (feelPercent / 100);
}

/** The groove's step that a position is nearest to; what is nearest to the pattern's end belongs to its first. */
function grooveStep(ticks: number, groove: TimedGroove, lengthTicks: number): { step: number; place: number } {
  const step = Math.round(ticks / groove.stepTicks);
  const steps = Math.round(lengthTicks / groove.stepTicks);
  return { step, place: (step % Math.max(1, steps)) % groove.steps.length };
}

/**
 * Draws a position towards a groove's. The first step of a groove may lie before the pattern's start: below 0, which is
 * the end of the round before.
 */
export function withGroove(
  ticks: number,
  groove: TimedGroove | null,
  groovePercent: number,
  lengthTicks = Infinity,
): number {
  if (!groove || groovePercent === 0) return ticks;
  const { step, place } = grooveStep(ticks, groove, lengthTicks);
  const target = (step + groove.steps[place]!.shift) * groove.stepTicks;
  return ticks + (target - ticks) * (groovePercent / 100);
}

/** Factor of an event's velocity by a groove's accents. */
export function grooveAccent(
  ticks: number,
  groove: TimedGroove | null,
  groovePercent: number,
  lengthTicks = Infinity,
): number {
  if (!groove || groovePercent === 0) return 1;
  const { place } = grooveStep(ticks, groove, lengthTicks);
  return 1 + (groove.steps[place]!.accent - 1) * (groovePercent / 100);
}

/** Do the settings leave every event where it is? */
export function isPlainTiming({ feelPercent, groove, groovePercent, swingPercent }: TimingSettings): boolean {
  return feelPercent === 100 && (!groove || groovePercent === 0) && swingPercent === 50;
}

/** Where in the pattern a position is heard: below 0 or beyond the end it belongs to the round before or after. */
export function timedTicks(ticks: number, settings: TimingSettings, lengthTicks: number): number {
  const felt = withFeel(ticks, settings);
  return swung(withGroove(felt, settings.groove, settings.groovePercent, lengthTicks), settings.swingPercent);
}

/** How long an event lasts whose start is moved by the settings. */
export function timedLength(
  ticks: number,
  eventLengthTicks: number,
  settings: TimingSettings,
  lengthTicks: number,
): number {
  const felt = withGroove(withFeel(ticks, settings), settings.groove, settings.groovePercent, lengthTicks);
  const { swingPercent } = settings;
  return Math.max(1, swung(felt + eventLengthTicks, swingPercent) - swung(felt, swingPercent));
}

/** How early (below 0) or late a slice of a loop is against the nearest line of its grid, in milliseconds at its own tempo. */
export function driftMs(positionTicks: number, stepTicks: number, tempoBpm: number): number {
  const line = Math.round(positionTicks / stepTicks) * stepTicks;
  return ((positionTicks - line) / TICKS_PER_BEAT) * (60_000 / tempoBpm);
}

/** Timing moves nothing further than this. */
const FURTHEST_TICKS = 480;

/**
 * The inverse of {@link timedTicks}: where an event has to be written so that it is heard at a position, by halving.
 * Where timing draws a stretch together into one point, any of it.
 * @returns at least 0
 */
export function untimedTicks(heardTicks: number, settings: TimingSettings, lengthTicks: number): number {
  if (isPlainTiming(settings)) return heardTicks;
  let low = Math.max(0, heardTicks - FURTHEST_TICKS);
  let high = heardTicks + FURTHEST_TICKS;
  for (let step = 0; step < 50; step++) {
    const middle = (low + high) / 2;
    if (timedTicks(middle, settings, lengthTicks) < heardTicks) low = middle;
    else high = middle;
  }
  return high;
}
