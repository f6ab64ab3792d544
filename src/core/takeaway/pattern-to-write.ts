/** A pattern of a part as it is to be written: the starts of its notes, and how it goes round. */
import type { Part, ProjectDocument } from '../document/schema.ts';
import { partTiming } from '../queries/loops.ts';
import { patternNotes, type NoteKeys, type PatternStart } from '../queries/pattern-notes.ts';
import { patternLengthTicks } from '../queries/patterns.ts';
import { partValues } from '../queries/values.ts';
import { plainTiming } from '../strips/timing.ts';
import type { Rounds } from './heard-notes.ts';

export interface WriteWish {
  /** With the timing, the accents, the levels and the chances that are heard; else as the strips are written. */
  asHeard: boolean;
  keys?: NoteKeys;
  /** Another hand of the pattern than the one on its table. */
  handId?: string | null;
}

/** @returns and how many strips are left out, for their sounds lie on no key there */
export function patternToWrite(
  document: ProjectDocument,
  part: Part,
  patternId: string,
  { asHeard, keys, handId = null }: WriteWish,
): { starts: PatternStart[]; rounds: Rounds; without: number } {
  const { notes, without } = patternNotes(document, part, patternId, handId, keys);
  const lengthTicks = patternLengthTicks(document, patternId);
  if (!asHeard) {
    const starts = notes.map((note) => ({ ...note, gainDb: 0, chancePercent: 100 }));
    return { starts, without, rounds: { lengthTicks, timing: plainTiming(), offsetTicks: 0 } };
  }
  const offsetTicks = partValues(part).startOffsetTicks;
  return { starts: notes, without, rounds: { lengthTicks, timing: partTiming(document, part), offsetTicks } };
}
