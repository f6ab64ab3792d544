/** What belongs to the whole song: name, tempo, metre, click. */
import { MAX_TEMPO_BPM, MIN_TEMPO_BPM, MOST_BEATS_A_BAR } from '../../units/time.ts';
import type { ProjectDocument } from '../schema.ts';
import { done, refused, type Command } from './command.ts';

export const renameProject: Command<{ name: string }> = (document, { name }) => {
  const trimmed = name.trim().slice(0, 200);
  return trimmed ? done({ ...document, name: trimmed }) : refused('a project needs a name');
};

export const setTempo: Command<{ tempoBpm: number }> = (document, { tempoBpm }) => {
  if (!(tempoBpm >= MIN_TEMPO_BPM && tempoBpm <= MAX_TEMPO_BPM)) {
    return refused(`the tempo goes from ${MIN_TEMPO_BPM} to ${MAX_TEMPO_BPM} beats a minute`);
  }
  return done({ ...document, tempoBpm });
};

export const setMetre: Command<{ beatsPerBar: number }> = (document, { beatsPerBar }) => {
  if (!Number.isInteger(beatsPerBar * 2) || beatsPerBar < 1 || beatsPerBar > MOST_BEATS_A_BAR) {
    return refused('a bar has 1 to 16 quarter notes, or an odd number of eighths');
  }
  return done({ ...document, beatsPerBar });
};

/** Place of every second sixteenth in percent of its pair, for all parts that follow the song. */
export const setSwing: Command<{ swingPercent: number }> = (document, { swingPercent }) =>
  swingPercent >= 50 && swingPercent <= 75
    ? done({ ...document, swingPercent })
    : refused('swing goes from 50% (straight) to 75%');

/** The song's root, 0 (C) to 11, or null. */
export const setRoot: Command<{ rootNote: number | null }> = (document, { rootNote }) =>
  done({ ...document, rootNote });

export const setClick: Command<Partial<ProjectDocument['click']>> = (document, change) =>
  done({ ...document, click: { ...document.click, ...change } });
