/** The home pattern: the loop in its own order and feel. Computed from the cut, never stored, never edited. */
import type { PlacedSlice } from '../project/cuts.ts';
import type { Loop, PatternEvent } from '../project/schema.ts';
import { TICKS_PER_BEAT } from '../units/time.ts';

/** What a pattern is to those who play or draw it. */
export interface PlayablePattern {
  lengthTicks: number;
  /** By position. */
  events: readonly PatternEvent[];
}

/**
 * One event for each slice that starts in the loop, at
 * `(startFrame - loopStart) / loopFrames * bars * beatsPerBar * 960` ticks, lasting until the next.
 */
export function homePattern(placed: readonly PlacedSlice[], loop: Loop): PlayablePattern {
  const lengthTicks = loopLengthTicks(loop);
  const loopFrames = loop.endFrame - loop.startFrame;
  const inside = placed.filter((at) => at.startFrame >= loop.startFrame && at.startFrame < loop.endFrame);
  const positions = inside.map((at) => ((at.startFrame - loop.startFrame) / loopFrames) * lengthTicks);
  const events = inside.map((at, index) => ({
    id: `home-${at.slice.id}`.slice(0, 64),
    sliceId: at.slice.id,
    positionTicks: positions[index]!,
    lengthTicks: Math.max(1e-3, (positions[index + 1] ?? lengthTicks) - positions[index]!),
    velocity: 1,
    reverse: false,
    repeats: 1,
    held: false,
  }));
  return { lengthTicks, events };
}

/** Length of a loop in ticks: `bars * beatsPerBar * 960`. */
export function loopLengthTicks(loop: Loop): number {
  return loop.bars * loop.beatsPerBar * TICKS_PER_BEAT;
}

/** Events by position, then id, so that every machine plays them in one order. */
export function orderedEvents(events: Readonly<Record<string, PatternEvent>>): PatternEvent[] {
  return Object.values(events).sort((a, b) => a.positionTicks - b.positionTicks || a.id.localeCompare(b.id));
}
