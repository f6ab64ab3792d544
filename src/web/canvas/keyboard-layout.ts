/**
 * A keyboard as arithmetic. At the back every key, black or white, is one twelfth of an octave wide, so that strips
 * standing on the keys are equally wide; at the front the seven white keys share the octave.
 */
import { isBlackKey } from '#core/units/pitch.ts';

export interface KeyRange {
  /** Lowest key shown, a C. */
  lowNote: number;
  /** Keys shown, a multiple of 12 (or up to note 127). */
  keyCount: number;
}

const WHITE_OF_SEMITONE = [0, 0, 1, 1, 2, 3, 3, 4, 4, 5, 5, 6] as const;
const SEMITONE_OF_WHITE = [0, 2, 4, 5, 7, 9, 11] as const;
const FEWEST_OCTAVES = 2;

/** Whole octaves that hold `count` keys from `startKey` on; two at least. */
export function keyRange(startKey: number, count: number): KeyRange {
  const lowNote = Math.floor(startKey / 12) * 12;
  const last = Math.min(127, startKey + Math.max(1, count) - 1);
  const octaves = Math.max(FEWEST_OCTAVES, Math.ceil((last - lowNote + 1) / 12));
  const low = Math.max(0, Math.min(lowNote, 120 - (octaves - 1) * 12));
  return { lowNote: low, keyCount: Math.min(octaves * 12, 128 - low) };
}

/** Left edge of a key's column at the back, in a width of pixels. */
export function columnX(range: KeyRange, note: number, width: number): number {
  return ((note - range.lowNote) * width) / range.keyCount;
}

/** Width of a column at the back. */
export function columnWidth(range: KeyRange, width: number): number {
  return width / range.keyCount;
}

/** Left edge and width of a white key at the front. */
export function whiteKeyBox(range: KeyRange, note: number, width: number): { x: number; width: number } {
  const octaveWidth = (width * 12) / range.keyCount;
  const fromLow = note - range.lowNote;
  const place = WHITE_OF_SEMITONE[fromLow % 12]!;
  return { x: Math.floor(fromLow / 12) * octaveWidth + (place * octaveWidth) / 7, width: octaveWidth / 7 };
}

/** The key under a point; `atBack` where black keys reach. Null outside the keyboard. */
export function noteAt(range: KeyRange, x: number, width: number, atBack: boolean): number | null {
  const column = Math.floor((x / width) * range.keyCount);
  if (column < 0 || column >= range.keyCount) return null;
  if (atBack) return range.lowNote + column;
  const octaveWidth = (width * 12) / range.keyCount;
  const octave = Math.floor(x / octaveWidth);
  const white = Math.min(6, Math.floor(((x - octave * octaveWidth) / octaveWidth) * 7));
  const note = range.lowNote + octave * 12 + SEMITONE_OF_WHITE[white]!;
  return note <= 127 ? note : null;
}

/** Notes of a range by colour, white ones first: the order to draw them in. */
export function notesToDraw(range: KeyRange): number[] {
  const notes = Array.from({ length: range.keyCount }, (_, i) => range.lowNote + i);
  return [...notes.filter((note) => !isBlackKey(note)), ...notes.filter(isBlackKey)];
}
