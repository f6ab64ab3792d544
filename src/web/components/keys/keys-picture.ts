/** Draws the keys band: a keyboard with strips standing on the keys that play them. */
import { peakBetween, type PeakPyramid } from '#core/dsp/peaks.ts';
import type { KeyRange as Keys } from '#core/project/schema.ts';
import type { PlacedSlice } from '#core/queries/slices.ts';
import { isBlackKey, noteName } from '#core/units/pitch.ts';
import { fillSkyline, MONO_FONT } from '../../canvas/draw.ts';
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
}

const NUMBER_HEIGHT = 18;
const KEY_SHARE = 0.36;
const BLACK_SHARE = 0.6;

/** Top of the keys, and lower end of the black ones. */
export function keysBox(height: number): { top: number; blackBottom: number; bottom: number } {
  const tall = Math.max(34, Math.min(90, height * KEY_SHARE));
  const top = height - tall;
  return { top, blackBottom: top + tall * BLACK_SHARE, bottom: height - 1 };
}

export function drawKeys(stage: Stage, scene: KeysScene): void {
  drawKeyboard(stage, scene);
  drawStrips(stage, scene);
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
      const box = { x: x + 1, y: base, width: (each - 2) * share, height: base - NUMBER_HEIGHT };
      fillSkyline(context, peaks, at.startFrame, at.endFrame, box, {
        scale: 1 / loudest,
        reverse: scene.reversed.has(at.slice.id),
      });
    }
    const label = `${at.index + 1}`;
    context.font = picked ? `500 ${MONO_FONT}` : MONO_FONT;
    if (context.measureText(label).width < each - 1 || at.index % 4 === 0) {
      context.fillStyle = picked ? inks.sea : inks.quiet;
      context.fillText(label, x + 2, NUMBER_HEIGHT / 2);
    }
  }
}
