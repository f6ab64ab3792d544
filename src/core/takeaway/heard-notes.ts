/**
 * When the strips of a pattern are heard, as notes: by the rules by which the engine starts them (engine/sequence and
 * engine/event-starter.ts), so that a file of notes is what the mix plays.
 */
import type { KeyNote, PatternStart } from '../queries/pattern-notes.ts';
import { drawOf, isGiven, isInRound } from '../strips/comes-up.ts';
import { grooveAccent, isPlainTiming, timedLength, timedTicks, type TimingSettings } from '../strips/timing.ts';
import { dbToGain } from '../units/level.ts';

/** How a pattern goes round in its part. */
export interface Rounds {
  lengthTicks: number;
  timing: TimingSettings;
  /** Later than where it begins, or earlier. */
  offsetTicks: number;
}

/** A stretch of the song in which a part plays one pattern; in ticks of the part's own clock. */
export interface Stretch {
  fromTicks: number;
  untilTicks: number;
  /** Where round 0 begins. */
  anchorTicks: number;
  /** What timing would put before it is heard at its start. */
  isBeginning?: boolean;
}

/** Positions nearer than this are the same, as for the engine. */
const SAME_TICKS = 1e-6;

/** A start as it is heard in a round that begins at 0: its level as velocity, as whose square it sounds. */
function timed(start: PatternStart, { timing, lengthTicks }: Rounds): KeyNote {
  const { key, positionTicks, velocity, gainDb } = start;
  const accent = grooveAccent(positionTicks, timing.groove, timing.groovePercent, lengthTicks);
  const isPlain = isPlainTiming(timing);
  return {
    key,
    velocity: Math.max(0, Math.min(1, velocity * accent * Math.sqrt(dbToGain(gainDb)))),
    positionTicks: isPlain ? positionTicks : timedTicks(positionTicks, timing, lengthTicks),
    lengthTicks: isPlain ? start.lengthTicks : timedLength(positionTicks, start.lengthTicks, timing, lengthTicks),
  };
}

/** One round, what timing puts outside of it at its other end; whatever chance may give, and is written for any round. */
export function heardRound(starts: readonly PatternStart[], rounds: Rounds): KeyNote[] {
  const { lengthTicks, offsetTicks } = rounds;
  return starts
    .map((start) => {
      const note = timed(start, rounds);
      const at = (note.positionTicks + offsetTicks) % lengthTicks;
      return { ...note, positionTicks: (at + lengthTicks) % lengthTicks };
    })
    .sort((a, b) => a.positionTicks - b.positionTicks || a.key - b.key);
}

/** All that begins in a stretch, each round with its own chances. */
export function heardNotes(starts: readonly PatternStart[], rounds: Rounds, stretch: Stretch): KeyNote[] {
  const { fromTicks, untilTicks, anchorTicks, isBeginning = false } = stretch;
  const { lengthTicks, offsetTicks } = rounds;
  const begin = anchorTicks + offsetTicks;
  const notes = starts.map((start) => ({ start, note: timed(start, rounds) }));
  const found: KeyNote[] = [];
  for (
    let round = Math.floor((fromTicks - begin) / lengthTicks) - 1;
    begin + (round - 1) * lengthTicks < untilTicks;
    round++
  ) {
    const roundTicks = begin + round * lengthTicks;
    for (const { start, note } of notes) {
      const at = roundTicks + note.positionTicks;
      const isEarly = at < fromTicks - SAME_TICKS;
      if (at >= untilTicks - SAME_TICKS) continue;
      if (isEarly && !(isBeginning && roundTicks + start.positionTicks >= fromTicks - SAME_TICKS)) continue;
      if (!isInRound(start.everyRounds, round) || !isGiven(start.chancePercent, drawOf(start.seed, round))) continue;
      found.push({ ...note, positionTicks: Math.max(fromTicks, at) });
    }
  }
  return found.sort((a, b) => a.positionTicks - b.positionTicks || a.key - b.key);
}
