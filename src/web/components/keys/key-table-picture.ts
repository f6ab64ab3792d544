/** Draws zones on keys and strengths: each a column over its keys from its softest to its hardest press. */
import { CHOKE_LETTERS } from '#core/params/zone-rows.ts';
import { zoneValues } from '#core/queries/values.ts';
import type { PlacedZone } from '#core/queries/zones.ts';
import { fillSkyline, fitWords, MONO_FONT, SANS_FONT, verticalLine } from '../../canvas/draw.ts';
import {
  AXIS_WIDTH,
  CHOKE_ROW_HEIGHT,
  keyWidth,
  keyX,
  LETTERS_HEIGHT,
  OVERVIEW_HEIGHT,
  strengthY,
  zoneBox,
  type KeyTable,
  type LaidZone,
} from '../../canvas/key-table-layout.ts';
import type { Stage } from '../../canvas/use-band-canvas.ts';
import type { CutSound } from '../../stores/sound/part-sounds.ts';
import type { RecentPress } from '../../stores/keys/recent-presses.ts';
import { drawKeyboard, drawLetters, fillKey, keysBoxOf } from './keyboard-picture.ts';

/** A zone where it lies, or where it would by a drag that has not ended. */
export interface TableZone extends LaidZone {
  placed: PlacedZone;
  colour: string;
  isChosen: boolean;
  isSilenced: boolean;
}

export interface KeyTableScene {
  table: KeyTable;
  zones: readonly TableZone[];
  sounds: ReadonlyMap<string, CutSound>;
  letters: ReadonlyMap<number, string>;
  /** Choke groups in use, by their places; one row each. */
  chokeGroups: readonly number[];
  /** Where the dragged zone came from; null when none is dragged. */
  from: LaidZone | null;
  /** Root of the chosen zone, when it plays a range. */
  root: number | null;
}

const LABEL_HEIGHT = 18;
const NAME_FROM_PX = 90;
const LINES = [1, 32, 64, 96, 127];
const CHOKE_BOX = 16;
const HIT_DASH_PX = 6;

export function drawKeyTable(stage: Stage, scene: KeyTableScene): void {
  drawAxis(stage, scene);
  for (const zone of scene.zones) drawZone(stage, scene, zone);
  if (scene.from) drawFrom(stage, scene, scene.from);
  scene.chokeGroups.forEach((group, row) => drawChoke(stage, scene, group, row));
  const { context } = stage;
  const { table } = scene;
  context.save();
  context.translate(AXIS_WIDTH, 0);
  const keys = { ...stage, width: stage.width - AXIS_WIDTH };
  const box = keysBoxOf(table.keysTop, table.keysBottom);
  drawKeyboard(keys, box, table.range);
  if (scene.root !== null) fillKey(keys, box, table.range, scene.root, stage.inks.sea);
  drawLetters(keys, table.range, scene.letters, table.keysBottom + LETTERS_HEIGHT / 2 + 2);
  context.restore();
  drawOverview(stage, scene);
}

function drawAxis({ context, width, inks }: Stage, { table }: KeyTableScene): void {
  context.font = MONO_FONT;
  context.textBaseline = 'middle';
  context.textAlign = 'right';
  for (const step of LINES) {
    const y = Math.round(strengthY(table, step === 1 ? 0 : step)) + 0.5;
    context.strokeStyle = step === 1 ? inks.ink : inks.rule;
    context.beginPath();
    context.moveTo(AXIS_WIDTH, y);
    context.lineTo(width, y);
    context.stroke();
    context.fillStyle = inks.quiet;
    context.fillText(`${step}`, AXIS_WIDTH - 8, y);
  }
  context.save();
  context.translate(8, (table.top + table.base) / 2);
  context.rotate(-Math.PI / 2);
  context.textAlign = 'center';
  context.font = SANS_FONT;
  context.fillText('strength', 0, 0);
  context.restore();
  context.textAlign = 'left';
}

function drawZone({ context, inks }: Stage, scene: KeyTableScene, zone: TableZone): void {
  const { placed, colour, isChosen } = zone;
  const { at, cut } = placed;
  const { x, y, width, height } = zoneBox(scene.table, zone);
  const values = zoneValues(placed.zone);
  context.globalAlpha = zone.isSilenced ? 0.35 : 1;
  context.fillStyle = isChosen ? inks.sea : colour;
  context.save();
  context.globalAlpha *= 0.13;
  context.fillRect(x + 1, y, width - 2, height);
  context.restore();
  const sound = scene.sounds.get(cut.id);
  if (sound?.peaks) {
    context.fillStyle = colour;
    const box = { x: x + 2, y: y + height, width: Math.max(1, width - 4), height: Math.max(8, height - LABEL_HEIGHT) };
    fillSkyline(context, sound.peaks, at.startFrame, at.endFrame, box, {
      scale: 1 / sound.loudest,
      reverse: values.reverse,
    });
  }
  drawFade({ context, inks }, scene.table, zone);
  context.strokeStyle = isChosen ? inks.sea : colour;
  context.lineWidth = isChosen ? 2 : 1;
  context.strokeRect(x + 1, y + 0.5, width - 2, height);
  context.lineWidth = 1;
  drawLabels({ context, inks }, scene, zone);
  context.globalAlpha = 1;
}

/** Where a zone comes and goes: a slanted edge over its fade. */
function drawFade({ context, inks }: Pick<Stage, 'context' | 'inks'>, table: KeyTable, zone: TableZone): void {
  const { fade, low, high } = zone.velocities;
  if (fade === 0) return;
  const { x, width } = zoneBox(table, zone);
  context.strokeStyle = inks.ink;
  context.beginPath();
  if (low > 1) {
    context.moveTo(x + 2, strengthY(table, low - 0.5 - fade / 2));
    context.lineTo(x + width - 2, strengthY(table, low - 0.5 + fade / 2));
  }
  if (high < 127) {
    context.moveTo(x + width - 2, strengthY(table, high + 0.5 - fade / 2));
    context.lineTo(x + 2, strengthY(table, high + 0.5 + fade / 2));
  }
  context.stroke();
}

function drawLabels({ context, inks }: Pick<Stage, 'context' | 'inks'>, scene: KeyTableScene, zone: TableZone): void {
  const { at } = zone.placed;
  const box = zoneBox(scene.table, zone);
  const number = at.index < 0 ? '' : `${at.index + 1}`;
  // Beneath where it fades, if it does.
  const { fade, high: hardest } = zone.velocities;
  const faded = hardest < 127 && fade > 0 ? strengthY(scene.table, 0) - strengthY(scene.table, fade / 2) : 0;
  const { x, width } = box;
  const y = box.y + faded;
  const height = box.height - faded;
  context.textBaseline = 'middle';
  context.textAlign = 'left';
  context.font = `500 ${MONO_FONT}`;
  if (zone.isChosen) {
    context.fillStyle = inks.sea;
    context.fillRect(x + 1, y, width - 2, LABEL_HEIGHT);
  }
  context.fillStyle = zone.isChosen ? inks.sheet : inks.ink;
  if (number && context.measureText(number).width < width - 2) {
    context.textAlign = 'center';
    context.fillText(number, x + Math.min(width / 2, 16), y + LABEL_HEIGHT / 2 + 1);
    context.textAlign = 'left';
  }
  context.font = SANS_FONT;
  if (width > NAME_FROM_PX) {
    const left = number ? 30 : 6;
    context.fillStyle = zone.isChosen ? inks.sheet : inks.ink;
    context.fillText(fitWords(context, at.label, width - left - 6), x + left, y + LABEL_HEIGHT / 2 + 1);
    return;
  }
  if (width < 13 || height < 60) return;
  context.save();
  context.translate(x + width / 2, y + LABEL_HEIGHT + 6);
  context.rotate(Math.PI / 2);
  context.fillStyle = zone.isChosen ? inks.sea : inks.ink;
  context.fillText(fitWords(context, at.label, height - LABEL_HEIGHT - 12), 0, 0);
  context.restore();
}

function drawFrom({ context, inks }: Stage, { table }: KeyTableScene, from: LaidZone): void {
  const { x, y, width, height } = zoneBox(table, from);
  context.strokeStyle = inks.quiet;
  context.setLineDash([4, 3]);
  context.strokeRect(x + 1, y + 0.5, width - 2, height);
  context.setLineDash([]);
}

/** The members of a choke group on one line, with its letter. */
function drawChoke({ context, inks }: Stage, { table, zones }: KeyTableScene, group: number, row: number): void {
  const members = zones.filter(({ placed }) => zoneValues(placed.zone).chokeGroup === group);
  const y = table.base + 8 + row * CHOKE_ROW_HEIGHT + CHOKE_ROW_HEIGHT / 2;
  const centres = members
    .map(({ keys }) => keyX(table, keys.low) + Math.min(keyWidth(table), 40) / 2)
    .sort((a, b) => a - b);
  context.strokeStyle = inks.quiet;
  context.beginPath();
  context.moveTo(centres[0] ?? 0, y);
  context.lineTo(centres.at(-1) ?? 0, y);
  context.stroke();
  context.font = `500 ${MONO_FONT}`;
  context.textBaseline = 'middle';
  context.textAlign = 'center';
  for (const x of centres) {
    context.fillStyle = inks.ink;
    context.fillRect(x - CHOKE_BOX / 2, y - CHOKE_BOX / 2, CHOKE_BOX, CHOKE_BOX);
    context.fillStyle = inks.sheet;
    context.fillText(CHOKE_LETTERS[group - 1] ?? '', x, y + 1);
  }
  context.textAlign = 'right';
  context.font = SANS_FONT;
  context.fillStyle = inks.quiet;
  if (row === 0) context.fillText('choke', AXIS_WIDTH - 6, y);
  context.textAlign = 'left';
}

/** All 128 keys with what lies on them, and which of them are shown. */
function drawOverview({ context, width, height, inks }: Stage, { table, zones }: KeyTableScene): void {
  const top = height - OVERVIEW_HEIGHT + 3;
  const tall = OVERVIEW_HEIGHT - 6;
  const toX = (key: number) => AXIS_WIDTH + (key / 128) * (width - AXIS_WIDTH);
  context.fillStyle = inks.rule;
  context.fillRect(AXIS_WIDTH, top, width - AXIS_WIDTH, tall);
  for (const { keys, colour } of zones) {
    context.fillStyle = colour;
    context.fillRect(toX(keys.low), top, Math.max(2, toX(keys.high + 1) - toX(keys.low) - 1), tall);
  }
  const { lowNote, keyCount } = table.range;
  context.strokeStyle = inks.ink;
  context.lineWidth = 2;
  context.strokeRect(toX(lowNote), top - 2, toX(lowNote + keyCount) - toX(lowNote), tall + 4);
  context.lineWidth = 1;
  context.font = SANS_FONT;
  context.textBaseline = 'middle';
  context.textAlign = 'right';
  context.fillStyle = inks.quiet;
  context.fillText('all', AXIS_WIDTH - 8, top + tall / 2);
  context.textAlign = 'left';
}

/** What sounds now, and how hard was struck lately. */
export function drawPresses(
  { context, width, inks }: Stage,
  table: KeyTable,
  sounding: readonly { keys: LaidZone['keys'] }[],
  hits: readonly RecentPress[],
): void {
  const each = keyWidth(table);
  context.fillStyle = inks.ink;
  for (const { key, step } of hits) {
    const x = keyX(table, key) + each - HIT_DASH_PX;
    if (x > AXIS_WIDTH && x < width) context.fillRect(x, strengthY(table, step) - 1, HIT_DASH_PX, 2);
  }
  const last = hits.at(-1);
  const isSounding = last && sounding.some(({ keys }) => last.key >= keys.low && last.key <= keys.high);
  if (isSounding) {
    const x = keyX(table, last.key) + each / 2;
    context.strokeStyle = inks.signal;
    context.lineWidth = 2;
    verticalLine(context, x, strengthY(table, last.step), table.base);
    context.lineWidth = 1;
  }
  context.save();
  context.translate(AXIS_WIDTH, 0);
  const box = keysBoxOf(table.keysTop, table.keysBottom);
  const stage = { context, width: width - AXIS_WIDTH, height: table.height, inks };
  for (const { keys } of sounding) {
    if (keys.low === keys.high) fillKey(stage, box, table.range, keys.low, inks.signal);
    else if (isSounding) fillKey(stage, box, table.range, last.key, inks.signal);
  }
  context.restore();
}
