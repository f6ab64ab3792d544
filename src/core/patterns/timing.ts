/**
 * Where an event of a pattern sounds in the song: its own timing drawn to the grid or towards a groove, then the song's
 * swing, then the part's offset. All in ticks; pure.
 */
import type { Groove, Part, PatternEvent } from '../project/schema.ts';
import { TICKS_PER_BEAT } from '../units/time.ts';

/** The grid that feel is measured against. */
export const FEEL_STEP_TICKS = TICKS_PER_BEAT / 4;
/** Swing moves every second sixteenth. */
const SWING_PAIR_TICKS = TICKS_PER_BEAT / 2;

export type TimingSettings = Pick<Part, 'feelPercent' | 'groove' | 'groovePercent' | 'startOffsetTicks'>;

/** Moves a position so that the middle of each pair of sixteenths sits at `swingPercent` of it; linear in between. */
export function swung(ticks: number, swingPercent: number): number {
  const pair = Math.floor(ticks / SWING_PAIR_TICKS);
  const within = ticks / SWING_PAIR_TICKS - pair;
  const share = swingPercent / 100;
  const moved = within < 0.5 ? within * 2 * share : share + (within - 0.5) * 2 * (1 - share);
  return (pair + moved) * SWING_PAIR_TICKS;
}

/** Draws a position to its grid line: 100 leaves it, 0 puts it onto the line. */
export function withFeel(ticks: number, feelPercent: number): number {
  const line = Math.round(ticks / FEEL_STEP_TICKS) * FEEL_STEP_TICKS;
  return line + (ticks - line) * (feelPercent / 100);
}

/** Draws a position, and an accent on it, towards a groove's. */
export function withGroove(
  ticks: number,
  groove: Groove | null,
  groovePercent: number,
): { ticks: number; accent: number } {
  if (!groove || groovePercent === 0) return { ticks, accent: 1 };
  const share = groovePercent / 100;
  const step = Math.round(ticks / groove.stepTicks);
  const { shift, accent } = groove.steps[step % groove.steps.length]!;
  const target = (step + shift) * groove.stepTicks;
  return { ticks: Math.max(0, ticks + (target - ticks) * share), accent: 1 + (accent - 1) * share };
}

/**
 * Puts the events of a pattern to their places, in order.
 * @param swingPercent the song's; 50 for parts that keep a tempo of their own
 */
export function timedEvents(
  events: readonly PatternEvent[],
  lengthTicks: number,
  settings: TimingSettings,
  swingPercent: number,
): PatternEvent[] {
  const { feelPercent, groove, groovePercent, startOffsetTicks } = settings;
  const isPlain =
    feelPercent === 100 && (!groove || groovePercent === 0) && swingPercent === 50 && startOffsetTicks === 0;
  if (isPlain) return [...events];
  return events
    .filter((event) => event.positionTicks < lengthTicks)
    .map((event) => {
      const felt = withGroove(withFeel(event.positionTicks, feelPercent), groove, groovePercent);
      const start = swung(felt.ticks, swingPercent);
      const end = swung(felt.ticks + event.lengthTicks, swingPercent);
      // An event that is drawn onto the bar line of the next round begins this one.
      const place = (((start + startOffsetTicks) % lengthTicks) + lengthTicks) % lengthTicks;
      const velocity = Math.max(0, Math.min(1, event.velocity * felt.accent));
      return { ...event, positionTicks: place, lengthTicks: Math.max(1, end - start), velocity };
    })
    .sort((a, b) => a.positionTicks - b.positionTicks);
}

/** How early (below 0) or late a slice of a loop is against the nearest sixteenth, in milliseconds at its own tempo. */
export function driftMs(positionTicks: number, tempoBpm: number): number {
  const line = Math.round(positionTicks / FEEL_STEP_TICKS) * FEEL_STEP_TICKS;
  return ((positionTicks - line) / TICKS_PER_BEAT) * (60_000 / tempoBpm);
}
