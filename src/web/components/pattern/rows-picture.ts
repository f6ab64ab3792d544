/** Draws the pattern as rows, one a sound or one a note. */
import { peakBetween } from '#core/dsp/peaks.ts';
import { repeatsOf } from '#core/strips/repeats.ts';
import { eventValues, zoneValues } from '#core/queries/values.ts';
import type { PlacedZone } from '#core/queries/zones.ts';
import { dbToGain, velocityToGain } from '#core/units/level.ts';
import { fillSkyline, fitWords, hatch, MONO_FONT, SANS_FONT, verticalLine } from '../../canvas/draw.ts';
import { beatsOf, ROW_HEAD_WIDTH, ROWS_TOP, rowsX, type RowsLayout } from '../../canvas/rows-layout.ts';
import { stripsApart, type StripBox } from '../../canvas/pattern-layout.ts';
import type { Stage } from '../../canvas/use-band-canvas.ts';
import type { CutSound } from '../../stores/sound/part-sounds.ts';

/** What stands at the left of a row. */
export interface RowHead {
  words: string;
  /** At its right: a key. */
  key: string;
  /** The sound, drawn small; of a note none. */
  placed: PlacedZone | null;
  /** A black key: its row is darker. */
  isBlack: boolean;
}

export interface RowsScene {
  layout: RowsLayout;
  /** Where the loop plays what the pattern does not play there. */
  ghosts: readonly StripBox[];
  /** Strips that are elsewhere than in the loop, by the events' ids. */
  movedIds: ReadonlySet<string>;
  headOf: (rowId: string) => RowHead | null;
  zoneById: ReadonlyMap<string, PlacedZone>;
  colourById: ReadonlyMap<string, string>;
  /** How the cuts look that the zones are of. */
  sounds: ReadonlyMap<string, CutSound>;
  beatsPerBar: number;
  gridStepTicks: number | null;
  sourceFramesPerTick: number;
  selected: ReadonlySet<string>;
  /** Strips that another one on their step cuts off at once. */
  unheard: ReadonlySet<string>;
  /** Rows that are chosen. */
  selectedRows: ReadonlySet<string>;
}

const MINI_WIDTH = 26;
const KEY_WIDTH = 34;
/** Distance of strips in a row that are drawn, in pixels. */
const MIN_STRIP_PX = 1;
/** A strip narrower than this is a line, in pixels: of thousands in one view nothing more could be seen. */
const MIN_PICTURE_PX = 4;
/** A strip narrower than this has no room for signs, in pixels. */
const MIN_SIGN_PX = 22;

export function drawRows(stage: Stage, scene: RowsScene): void {
  drawGrid(stage, scene);
  scene.layout.rowIds.forEach((id, row) => drawHead(stage, scene, id, row));
  for (const ghost of stripsApart(scene.ghosts, NONE, MIN_GHOST_PX)) drawGhost(stage, ghost);
  for (const strip of stripsApart(scene.layout.strips, scene.selected, MIN_STRIP_PX)) drawStrip(stage, scene, strip);
  // Of many chosen at once the ways would hide the strips.
  const chosen = scene.layout.strips.filter(({ event: { id } }) => scene.selected.has(id) && scene.movedIds.has(id));
  if (chosen.length <= MOST_WAYS) for (const strip of chosen) drawWay(stage, scene.ghosts, strip);
}

function drawGrid({ context, width, inks }: Stage, scene: RowsScene): void {
  const { layout, beatsPerBar, gridStepTicks } = scene;
  const { height, fromTicks, spanTicks, rowHeight } = layout;
  const toTicks = fromTicks + spanTicks;
  context.lineWidth = 1;
  layout.rowIds.forEach((id, row) => {
    const y = ROWS_TOP + row * rowHeight;
    if (scene.headOf(id)?.isBlack) {
      context.fillStyle = inks.ink;
      context.globalAlpha = 0.06;
      context.fillRect(0, y, width, rowHeight);
      context.globalAlpha = 1;
    }
    if (scene.selectedRows.has(id)) {
      context.fillStyle = inks.sea;
      context.globalAlpha = 0.1;
      context.fillRect(0, y, width, rowHeight);
      context.globalAlpha = 1;
    }
    context.strokeStyle = inks.rule;
    context.beginPath();
    context.moveTo(0, y + 0.5);
    context.lineTo(width, y + 0.5);
    context.stroke();
  });
  const each = gridStepTicks === null ? 0 : rowsX(layout, fromTicks + gridStepTicks) - ROW_HEAD_WIDTH;
  if (each >= 6) {
    context.globalAlpha = 0.5;
    for (let ticks = fromTicks; ticks < toTicks; ticks += gridStepTicks!) {
      verticalLine(context, rowsX(layout, ticks), ROWS_TOP, height);
    }
    context.globalAlpha = 1;
  }
  for (const { x, isBar } of beatsOf(layout, beatsPerBar)) {
    context.strokeStyle = isBar ? inks.quiet : inks.rule;
    verticalLine(context, x, isBar ? 2 : ROWS_TOP - 6, height);
  }
}

/** Distance of ghosts in a row that are drawn, in pixels. */
const MIN_GHOST_PX = 6;
const NONE: ReadonlySet<string> = new Set();

function drawGhost({ context, inks }: Stage, { x, y, width, height }: StripBox): void {
  context.fillStyle = inks.quiet;
  context.globalAlpha = 0.1;
  context.fillRect(x, y + 2, width - 1, height - 4);
  context.globalAlpha = 0.7;
  context.strokeStyle = inks.quiet;
  context.lineWidth = 1;
  context.setLineDash([2, 3]);
  context.strokeRect(x + 0.5, y + 2.5, Math.max(1, width - 2), height - 5);
  context.setLineDash([]);
  context.globalAlpha = 1;
}

const ARROW_PX = 5;
const MOST_WAYS = 24;

/** From where the loop plays it to where it is now: of a chosen strip, in its own row. */
function drawWay({ context, inks }: Stage, ghosts: readonly StripBox[], strip: StripBox): void {
  const own = ghosts.filter(({ y }) => y === strip.y);
  const middle = strip.x + strip.width / 2;
  const distanceOf = (ghost: StripBox) => Math.abs(ghost.x + ghost.width / 2 - middle);
  const from = own.sort((a, b) => distanceOf(a) - distanceOf(b))[0];
  if (!from) return;
  const isLeft = from.x < strip.x;
  const startX = from.x + from.width / 2;
  const endX = isLeft ? strip.x - 2 : strip.x + strip.width + 1;
  const y = strip.y + strip.height / 2;
  if (isLeft ? endX - startX < ARROW_PX : startX - endX < ARROW_PX) return;
  context.strokeStyle = context.fillStyle = inks.sea;
  context.lineWidth = 1;
  context.beginPath();
  context.moveTo(startX, y);
  context.lineTo(endX, y);
  context.stroke();
  context.beginPath();
  context.arc(startX, y, 2.5, 0, 2 * Math.PI);
  context.fill();
  const back = isLeft ? -ARROW_PX : ARROW_PX;
  context.beginPath();
  context.moveTo(endX, y);
  context.lineTo(endX + back, y - 3.5);
  context.lineTo(endX + back, y + 3.5);
  context.fill();
}

function drawHead({ context, inks }: Stage, scene: RowsScene, id: string, row: number): void {
  const { rowHeight } = scene.layout;
  const y = ROWS_TOP + row * rowHeight;
  const head = scene.headOf(id);
  if (!head) return;
  const { placed } = head;
  const isChosen = scene.selectedRows.has(id);
  const peaks = placed && scene.sounds.get(placed.cut.id)?.peaks;
  if (placed && peaks) {
    const loudest = Math.max(0.02, peakBetween(peaks, placed.at.startFrame, placed.at.endFrame));
    context.fillStyle = scene.colourById.get(id) ?? inks.ink;
    const box = { x: 2, y: y + rowHeight - 3, width: MINI_WIDTH, height: rowHeight - 7 };
    fillSkyline(context, peaks, placed.at.startFrame, placed.at.endFrame, box, { scale: 1 / loudest });
  }
  context.font = isChosen ? `600 ${SANS_FONT}` : SANS_FONT;
  context.textBaseline = 'middle';
  context.fillStyle = isChosen ? inks.sea : inks.ink;
  const room = ROW_HEAD_WIDTH - MINI_WIDTH - KEY_WIDTH - 14;
  context.fillText(fitWords(context, head.words, room), MINI_WIDTH + 8, y + rowHeight / 2 + 1);
  context.font = MONO_FONT;
  context.fillStyle = inks.quiet;
  context.textAlign = 'right';
  context.fillText(head.key, ROW_HEAD_WIDTH - 6, y + rowHeight / 2 + 1);
  context.textAlign = 'left';
}

function drawStrip({ context, inks }: Stage, scene: RowsScene, strip: StripBox): void {
  const { event, x, y, width, height } = strip;
  const placed = scene.zoneById.get(event.zoneId);
  if (!placed) return;
  const values = eventValues(event);
  const isChosen = scene.selected.has(event.id);
  const colour = scene.colourById.get(event.zoneId) ?? inks.ink;
  const base = y + height - 2;
  context.fillStyle = isChosen ? inks.sea : colour;
  if (width < MIN_PICTURE_PX) {
    context.fillRect(x, y + 2, Math.max(1, width - 1), height - 4);
    return;
  }
  context.globalAlpha = 0.18;
  context.fillRect(x, y + 2, width - 1, height - 4);
  context.globalAlpha = 1;
  const reverse = values.reverse !== zoneValues(placed.zone).reverse;
  const length = placed.at.endFrame - placed.at.startFrame;
  const sound = scene.sounds.get(placed.cut.id);
  if (sound?.peaks) {
    context.fillStyle = colour;
    for (const { startShare, lengthShare, gainDb } of repeatsOf(values)) {
      const room = event.lengthTicks * lengthShare * scene.sourceFramesPerTick;
      const frames = Math.min(length, room);
      const from = reverse ? placed.at.endFrame - frames : placed.at.startFrame;
      const oneWidth = width * lengthShare;
      const box = {
        x: x + width * startShare,
        y: base,
        width: Math.max(1, (oneWidth * frames) / Math.max(1, room) - 1),
        height: height - 6,
      };
      fillSkyline(context, sound.peaks, from, from + frames, box, {
        reverse,
        scale: (velocityToGain(values.velocity) * dbToGain(gainDb)) / sound.loudest,
      });
    }
  }
  if (scene.unheard.has(event.id)) hatch(context, inks.ink, x, y + 2, width - 1, height - 4);
  context.strokeStyle = isChosen ? inks.sea : colour;
  context.lineWidth = isChosen ? 2 : 1;
  context.strokeRect(x + 0.5, y + 2.5, Math.max(1, width - 2), height - 5);
  context.lineWidth = 1;
  if (values.hold) {
    context.fillStyle = inks.ink;
    context.fillRect(x + 1, base - 2, width - 3, 3);
  }
  if (width < MIN_SIGN_PX) return;
  const signs = [
    reverse ? '‹' : '',
    values.repeats > 1 ? `×${values.repeats}` : '',
    values.chancePercent < 100 ? `${values.chancePercent}%` : '',
    values.everyRounds > 1 ? `1/${values.everyRounds}` : '',
  ];
  const words = signs.filter(Boolean).join(' ');
  if (words === '') return;
  context.font = MONO_FONT;
  context.textBaseline = 'middle';
  const shown = fitWords(context, words, width - 6);
  // On paper of their own: over the sound they could not be read.
  context.fillStyle = inks.sheet;
  context.globalAlpha = 0.85;
  context.fillRect(x + 2, y + 3, context.measureText(shown).width + 4, height - 7);
  context.globalAlpha = 1;
  context.fillStyle = inks.ink;
  context.fillText(shown, x + 4, y + height / 2);
}
