/** How far a pattern has gone from home: from what its loop plays by itself. */
import { homeId, isHome } from '../document/home-id.ts';
import type { PatternEvent, ProjectDocument } from '../document/schema.ts';
import { eventsOf, patternLengthTicks } from './patterns.ts';

/** Nearer than this an event is where the loop has it, in ticks. */
const AT_HOME_TICKS = 2;

export interface HomeDistance {
  /** Share of what is played that the loop would not play there, 0..1. */
  share: number;
  /** Events that are elsewhere, and those of the loop that are not played. */
  moved: number;
  missing: number;
  /** What the loop plays and the pattern does not, by position, round after round. */
  missed: readonly PatternEvent[];
  /** Events that are elsewhere, by their ids. */
  movedIds: ReadonlySet<string>;
  /** For each sixteenth of the pattern: is it as at home? */
  steps: readonly boolean[];
}

const STEP_TICKS = 240;

/**
 * Compares a pattern with the home pattern of a cut of its part, round by round. An event is at home when the loop begins
 * the same sound there; whatever else it brings (backwards, repeated, tuned) takes it away.
 * @returns null for a home pattern, and where the loop plays nothing
 */
export function homeDistance(document: ProjectDocument, cutId: string, patternId: string): HomeDistance | null {
  if (isHome(patternId)) return null;
  const home = eventsOf(document, homeId(cutId));
  const homeTicks = patternLengthTicks(document, homeId(cutId));
  const lengthTicks = patternLengthTicks(document, patternId);
  if (home.length === 0 || homeTicks <= 0) return null;
  const events = eventsOf(document, patternId);
  const wanted = new Map<string, PatternEvent>();
  for (let round = 0; round * homeTicks < lengthTicks; round++) {
    for (const event of home) {
      const positionTicks = event.positionTicks + round * homeTicks;
      if (positionTicks < lengthTicks) wanted.set(nameOf(event.zoneId, positionTicks), { ...event, positionTicks });
    }
  }
  const steps = Array.from({ length: Math.max(1, Math.ceil(lengthTicks / STEP_TICKS)) }, () => true);
  const leave = (ticks: number) => {
    steps[Math.min(steps.length - 1, Math.floor(ticks / STEP_TICKS + 1e-6))] = false;
  };
  const movedIds = new Set<string>();
  for (const event of events) {
    const name = isPlain(event) ? nameNear(wanted, event) : null;
    if (name !== null) wanted.delete(name);
    else {
      movedIds.add(event.id);
      leave(event.positionTicks);
    }
  }
  const missed = [...wanted.values()];
  for (const { positionTicks } of missed) leave(positionTicks);
  const moved = movedIds.size;
  const missing = missed.length;
  const total = Math.max(1, events.length + missing);
  return { share: Math.min(1, (moved + missing) / total), moved, missing, missed, movedIds, steps };
}

const nameOf = (zoneId: string, ticks: number) => `${zoneId} ${Math.round(ticks / AT_HOME_TICKS)}`;

function nameNear(wanted: ReadonlyMap<string, unknown>, { zoneId, positionTicks }: PatternEvent): string | null {
  for (const off of [0, -AT_HOME_TICKS, AT_HOME_TICKS]) {
    const name = nameOf(zoneId, positionTicks + off);
    if (wanted.has(name)) return name;
  }
  return null;
}

function isPlain({ values }: PatternEvent): boolean {
  const { reverse = false, repeats = 1, tuneCents = 0, chancePercent = 100 } = values;
  return !reverse && repeats === 1 && tuneCents === 0 && chancePercent > 0;
}
