/** Draws the keys band: a keyboard with strips standing on the keys that play them. */
import { peakBetween, type PeakPyramid } from '#core/dsp/peaks.ts';
import type { KeyRange as Keys } from '#core/project/schema.ts';
import type { PlacedSlice } from '#core/queries/slices.ts';
import { isBlackKey, noteName } from '#core/units/pitch.ts';
import { fillSkyline, fitWords, MONO_FONT, SANS_FONT } from '../../canvas/draw.ts';
import { columnWidth, columnX, notesToDraw, whiteKeyBox, type KeyRange } from '../../canvas/keyboard-layout.ts';
import type { Stage } from '../../canvas/use-band-canvas.ts';

export interface KeysScene {
  range: KeyRange;
  /** Slices with the keys that play them. */
  keyed: readonly { keys: Keys; at: PlacedSlice }[];
  /** Ids of the slices that play backwards. */
  reversed: ReadonlySet<string>;
  colours: readonly string[];
  peaks: PeakPyramid | null;
  selected: ReadonlySet<string>;
  /** The letters of the computer keyboard by the keys that they play; null where there is no room to show them. */
  letters: ReadonlyMap<number, string> | null;
}

const NUMBER_HEIGHT = 18;
/** Where strips are tall, what they are stands along them. */
const NAMED_FROM_PX = 150;
const NAME_PX = 110;
const LETTER_HEIGHT = 20;
const KEY_SHARE = 0.36;
const BLACK_SHARE = 0.6;

/** Top of the keys, and lower end of the black ones. */
export function keysBox(height: number): { top: number; blackBottom: number; bottom: number } {
  const below = height > NAMED_FROM_PX + 90 ? LETTER_HEIGHT : 0;
  const tall = Math.max(34, Math.min(below > 0 ? 110 : 90, height * KEY_SHARE));
  const top = height - below - tall;
  return { top, blackBottom: top + tall * BLACK_SHARE, bottom: height - below - 1 };
}

export function drawKeys(stage: Stage, scene: KeysScene): void {
  drawKeyboard(stage, scene);
  drawStrips(stage, scene);
  if (scene.letters) drawLetters(stage, scene, scene.letters);
}

function drawLetters(
  { context, width, height, inks }: Stage,
  { range }: KeysScene,
  letters: ReadonlyMap<number, string>,
) {
  const { bottom } = keysBox(height);
  if (height - bottom < LETTER_HEIGHT) return;
  context.font = MONO_FONT;
  context.textBaseline = 'middle';
  context.textAlign = 'center';
  context.fillStyle = inks.quiet;
  for (const [note, letter] of letters) {
    if (note < range.lowNote || note >= range.lowNote + range.keyCount) continue;
    const x = columnX(range, note, width) + columnWidth(range, width) / 2;
    context.fillText(letter, x, height - LETTER_HEIGHT / 2);
  }
  context.textAlign = 'left';
}

/** Fills one key, at its true shape. */
export function fillKey({ context, width, height }: Stage, range: KeyRange, note: number, colour: string): void {
  const { top, blackBottom, bottom } = keysBox(height);
  context.fillStyle = colour;
  if (isBlackKey(note)) {
    context.fillRect(columnX(range, note, width) + 1, top, columnWidth(range, width) - 2, blackBottom - top);
    return;
  }
  const box = whiteKeyBox(range, note, width);
  context.fillRect(box.x + 1, blackBottom, box.width - 2, bottom - blackBottom);
}

function drawKeyboard({ context, width, height, inks }: Stage, { range }: KeysScene): void {
  const { top, blackBottom, bottom } = keysBox(height);
  context.font = MONO_FONT;
  context.textBaseline = 'alphabetic';
  for (const note of notesToDraw(range)) {
    if (isBlackKey(note)) {
      context.fillStyle = inks.ebony;
      context.fillRect(columnX(range, note, width) + 0.5, top, columnWidth(range, width) - 1, blackBottom - top);
      continue;
    }
    const box = whiteKeyBox(range, note, width);
    context.strokeStyle = inks.rule;
    context.strokeRect(Math.round(box.x) + 0.5, top + 0.5, Math.round(box.width), bottom - top);
    const name = noteName(note);
    if (note % 12 === 0 && context.measureText(name).width < box.width * 2) {
      context.fillStyle = inks.quiet;
      context.fillText(name, box.x + 3, bottom - 4);
    }
  }
}

function drawStrips({ context, width, height, inks }: Stage, scene: KeysScene): void {
  const { range, peaks } = scene;
  const { top } = keysBox(height);
  const base = top - 2;
  const each = columnWidth(range, width);
  const loudest = peaks ? Math.max(0.05, peakBetween(peaks, 0, peaks.frames)) : 1;
  const longest = scene.keyed.reduce((most, { at }) => Math.max(most, at.endFrame - at.startFrame), 1);
  context.textBaseline = 'middle';
  const isNamed = base > NAMED_FROM_PX + NAME_PX && each >= 14;
  const stripTop = NUMBER_HEIGHT + (isNamed ? NAME_PX : 0);
  for (const { at, keys } of scene.keyed) {
    const x = columnX(range, keys.root, width);
    const picked = scene.selected.has(at.slice.id);
    if (picked) {
      context.fillStyle = inks.sea;
      context.globalAlpha = 0.13;
      context.fillRect(x, 0, each, base + 2);
      context.globalAlpha = 1;
      context.strokeStyle = inks.sea;
      context.strokeRect(x + 0.5, 0.5, each - 1, base + 1);
    }
    context.fillStyle = scene.colours[at.index] ?? inks.ink;
    if (peaks) {
      // Short slices end early and long ones fill the column: the length is part of how a slice is known.
      const share = Math.max(0.35, Math.sqrt((at.endFrame - at.startFrame) / longest));
      const box = { x: x + 1, y: base, width: (each - 2) * share, height: base - stripTop };
      fillSkyline(context, peaks, at.startFrame, at.endFrame, box, {
        scale: 1 / loudest,
        reverse: scene.reversed.has(at.slice.id),
      });
    }
    if (isNamed) {
      context.save();
      context.translate(x + each / 2, NUMBER_HEIGHT + 4);
      context.rotate(Math.PI / 2);
      context.font = SANS_FONT;
      context.fillStyle = picked ? inks.sea : inks.quiet;
      context.fillText(fitWords(context, at.label, NAME_PX - 10), 0, 0);
      context.restore();
    }
    const label = `${at.index + 1}`;
    context.font = picked ? `500 ${MONO_FONT}` : MONO_FONT;
    if (context.measureText(label).width < each - 1 || at.index % 4 === 0) {
      context.fillStyle = picked ? inks.sea : inks.quiet;
      context.fillText(label, x + 2, NUMBER_HEIGHT / 2);
    }
  }
}
