/** Draws the keyboard itself, for both pictures of the keys. */
import { isBlackKey } from '#core/units/pitch.ts';
import { keyName } from '../../canvas/key-names.ts';
import { MONO_FONT } from '../../canvas/draw.ts';
import { columnWidth, columnX, notesToDraw, whiteKeyBox, type KeyRange } from '../../canvas/keyboard-layout.ts';
import type { Stage } from '../../canvas/use-band-canvas.ts';

/** Where the keys lie in a canvas, in pixels. */
export interface KeysBox {
  top: number;
  blackBottom: number;
  bottom: number;
}

const BLACK_SHARE = 0.6;

export function keysBoxOf(top: number, bottom: number): KeysBox {
  return { top, blackBottom: top + (bottom - top) * BLACK_SHARE, bottom };
}

/** Fills one key, at its true shape. */
export function fillKey({ context, width }: Stage, box: KeysBox, range: KeyRange, note: number, colour: string): void {
  const { top, blackBottom, bottom } = box;
  if (note < range.lowNote || note >= range.lowNote + range.keyCount) return;
  context.fillStyle = colour;
  if (isBlackKey(note)) {
    context.fillRect(columnX(range, note, width) + 1, top, columnWidth(range, width) - 2, blackBottom - top);
    return;
  }
  const white = whiteKeyBox(range, note, width);
  context.fillRect(white.x + 1, blackBottom, white.width - 2, bottom - blackBottom);
}

/** A frame around one key. */
export function outlineKey(
  { context, width }: Stage,
  box: KeysBox,
  range: KeyRange,
  note: number,
  colour: string,
): void {
  const { top, blackBottom, bottom } = box;
  if (note < range.lowNote || note >= range.lowNote + range.keyCount) return;
  context.strokeStyle = colour;
  context.lineWidth = 3;
  const white = whiteKeyBox(range, note, width);
  if (isBlackKey(note))
    context.strokeRect(
      columnX(range, note, width) + 1.5,
      top + 1.5,
      columnWidth(range, width) - 3,
      blackBottom - top - 3,
    );
  else context.strokeRect(white.x + 1.5, blackBottom, white.width - 3, bottom - blackBottom - 1.5);
  context.lineWidth = 1;
}

export function drawKeyboard({ context, width, inks }: Stage, box: KeysBox, range: KeyRange): void {
  const { top, blackBottom, bottom } = box;
  context.font = MONO_FONT;
  context.textBaseline = 'alphabetic';
  for (const note of notesToDraw(range)) {
    if (isBlackKey(note)) {
      context.fillStyle = inks.ebony;
      context.fillRect(columnX(range, note, width) + 0.5, top, columnWidth(range, width) - 1, blackBottom - top);
      continue;
    }
    const white = whiteKeyBox(range, note, width);
    context.strokeStyle = inks.rule;
    context.strokeRect(Math.round(white.x) + 0.5, top + 0.5, Math.round(white.width), bottom - top);
    const name = keyName(note);
    if (note % 12 === 0 && context.measureText(name).width < white.width * 2) {
      context.fillStyle = inks.quiet;
      context.fillText(name, white.x + 3, bottom - 4);
    }
  }
}

/** Writes the letters of the computer keyboard under the keys that they play. */
export function drawLetters(
  { context, width, inks }: Stage,
  range: KeyRange,
  letters: ReadonlyMap<number, string>,
  y: number,
): void {
  context.font = MONO_FONT;
  context.textBaseline = 'middle';
  context.textAlign = 'center';
  context.fillStyle = inks.quiet;
  for (const [note, letter] of letters) {
    if (note < range.lowNote || note >= range.lowNote + range.keyCount) continue;
    context.fillText(letter, columnX(range, note, width) + columnWidth(range, width) / 2, y);
  }
  context.textAlign = 'left';
}
