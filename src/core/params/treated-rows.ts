/** Which settings of a part a treatment remembers, beside those of its zones and effects: what sounds, not what plays when. */
import { CHANNEL_ROWS, PART_ROWS } from './tables.ts';

const { transposeCents, oneAtATime, stopFadeMs, voices, glideMs, glideBy, glideWhen, ringOver } = PART_ROWS;
export const TREATED_PART_ROWS = {
  transposeCents,
  oneAtATime,
  stopFadeMs,
  voices,
  glideMs,
  glideBy,
  glideWhen,
  ringOver,
};

const { gainDb, pan, chainWet, chain } = CHANNEL_ROWS;
export const TREATED_CHANNEL_ROWS = { gainDb, pan, chainWet, chain };
