/** What is played into a running pattern, as strips on their places in it. */
import { timedTicks, untimedTicks, type TimingSettings } from '../strips/timing.ts';
import type { PatternEvent } from '../document/schema.ts';
import { snapToGrid } from './grid.ts';
import type { PlayedPress, PressedSound } from './played.ts';

const SHORTEST_TICKS = 30;

export interface RecordedPattern {
  lengthTicks: number;
  /** Song position at which its rounds are counted from, in the ticks of the presses. */
  offsetTicks: number;
  timing: TimingSettings;
}

export interface RecordRules {
  /** How far to the grid, 0..1. */
  pull: number;
  gridTicks: number | null;
  /** The grid goes along with the part's timing. */
  gridSwings: boolean;
  /** How much earlier than it was heard a press was meant. */
  earlierTicks: number;
}

export interface RecordedStrip {
  strip: Omit<PatternEvent, 'id'>;
  /** Song position at which it would be heard in the round in which it was played: it may be later than it was played. */
  heardTicks: number;
}

/** A position that goes round. */
const round = (ticks: number, lengthTicks: number) => ((ticks % lengthTicks) + lengthTicks) % lengthTicks;

/**
 * The strip of a press that has ended, or that plays its sound whole.
 * @param soundOf what the sound of a zone is to a key
 */
export function recordedStrip(
  press: PlayedPress,
  { lengthTicks, offsetTicks, timing }: RecordedPattern,
  { pull, gridTicks, gridSwings, earlierTicks }: RecordRules,
  { wholeTicks, tuneCents }: PressedSound,
): RecordedStrip {
  const meantTicks = press.onTicks - earlierTicks - offsetTicks;
  const roundStart = Math.floor(meantTicks / lengthTicks) * lengthTicks;
  const heard = meantTicks - roundStart;
  const drawn = (ticks: number) => ticks + (snapToGrid(ticks, gridTicks) - ticks) * pull;
  const untimed = (ticks: number) => untimedTicks(ticks, timing, lengthTicks);
  const written = gridSwings ? drawn(untimed(heard)) : untimed(drawn(heard));
  // Drawn on to the end of a round it is the first of the next.
  const positionTicks = round(Math.abs(written - lengthTicks) < 1e-6 ? lengthTicks : written, lengthTicks);
  const held = press.offTicks === null ? lengthTicks : press.offTicks - press.onTicks;
  const { zoneId, velocity } = press;
  return {
    strip: {
      zoneId,
      positionTicks,
      lengthTicks: Math.min(Math.max(SHORTEST_TICKS, wholeTicks ?? held), lengthTicks - positionTicks),
      values: tuneCents === 0 ? { velocity, onKey: true } : { velocity, onKey: true, tuneCents },
    },
    heardTicks: offsetTicks + roundStart + timedTicks(written, timing, lengthTicks),
  };
}
