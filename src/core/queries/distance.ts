/** How far a pattern has gone from home: from what its loop plays by itself. */
import { homeId, isHome, type PatternEvent, type ProjectDocument } from '../project/schema.ts';
import { eventsOf, patternLengthTicks } from './patterns.ts';

/** Nearer than this an event is where the loop has it, in ticks. */
const AT_HOME_TICKS = 2;

export interface HomeDistance {
  /** Share of what is played that the loop would not play there, 0..1. */
  share: number;
  /** Events that are elsewhere, and those of the loop that are not played. */
  moved: number;
  missing: number;
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
  const wanted = new Map<string, number>();
  for (let round = 0; round * homeTicks < lengthTicks; round++) {
    for (const { zoneId, positionTicks } of home) {
      const at = positionTicks + round * homeTicks;
      if (at < lengthTicks) wanted.set(nameOf(zoneId, at), at);
    }
  }
  const steps = Array.from({ length: Math.max(1, Math.ceil(lengthTicks / STEP_TICKS)) }, () => true);
  const leave = (ticks: number) => {
    steps[Math.min(steps.length - 1, Math.floor(ticks / STEP_TICKS + 1e-6))] = false;
  };
  let moved = 0;
  for (const event of events) {
    const name = isPlain(event) ? nameNear(wanted, event) : null;
    if (name !== null) wanted.delete(name);
    else {
      moved++;
      leave(event.positionTicks);
    }
  }
  for (const at of wanted.values()) leave(at);
  const missing = wanted.size;
  const total = Math.max(1, events.length + missing);
  return { share: Math.min(1, (moved + missing) / total), moved, missing, steps };
}

const nameOf = (zoneId: string, ticks: number) => `${zoneId} ${Math.round(ticks / AT_HOME_TICKS)}`;

function nameNear(wanted: ReadonlyMap<string, number>, { zoneId, positionTicks }: PatternEvent): string | null {
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
