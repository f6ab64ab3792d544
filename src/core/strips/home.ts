/** The home pattern: the loop in its own order and feel. Computed from the cut, never stored, never edited. */
import type { Loop } from '../document/schema.ts';
import type { PlacedSlice } from '../queries/slices.ts';
import { loopTicksAt } from '../units/loop-time.ts';
import { TICKS_PER_BEAT } from '../units/time.ts';

/** Where a slice plays in the home pattern. */
export interface HomeEvent {
  sliceId: string;
  positionTicks: number;
  lengthTicks: number;
}

/**
 * One event for each slice that starts in the loop, at
 * `(startFrame - loopStart) / loopFrames * bars * beatsPerBar * 960` ticks (where each bar has its own line, within its
 * bar), lasting until the next. Slices of what is no loop come one a beat.
 */
export function homeEvents(placed: readonly PlacedSlice[], loop: Loop | null, lengthTicks: number): HomeEvent[] {
  if (!loop) {
    return placed.map((at) => ({
      sliceId: at.slice.id,
      positionTicks: at.index * TICKS_PER_BEAT,
      lengthTicks: at.index === placed.length - 1 ? lengthTicks - at.index * TICKS_PER_BEAT : TICKS_PER_BEAT,
    }));
  }
  const inside = placed.filter((at) => at.startFrame >= loop.startFrame && at.startFrame < loop.endFrame);
  const positions = inside.map((at) => loopTicksAt(loop, at.startFrame));
  return inside.map((at, index) => ({
    sliceId: at.slice.id,
    positionTicks: positions[index]!,
    lengthTicks: Math.max(1e-3, (positions[index + 1] ?? lengthTicks) - positions[index]!),
  }));
}
