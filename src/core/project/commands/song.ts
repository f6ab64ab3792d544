/** What belongs to the whole song: name, tempo, metre, click. */
import { MAX_TEMPO_BPM, MIN_TEMPO_BPM } from '../../units/time.ts';
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
  if (!Number.isInteger(beatsPerBar) || beatsPerBar < 1 || beatsPerBar > 16) return refused('a bar has 1 to 16 beats');
  return done({ ...document, beatsPerBar });
};

export const setClick: Command<{ enabled?: boolean; gainDb?: number }> = (document, change) =>
  done({ ...document, click: { ...document.click, ...change } });
