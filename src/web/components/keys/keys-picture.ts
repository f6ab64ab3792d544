/** Draws the keys band: a keyboard with strips standing on the keys that play them. */
import { ALL_VELOCITIES } from '#core/document/limits.ts';
import type { PlacedZone } from '#core/queries/zones.ts';
import { withLanes, type LaidZone } from '../../canvas/key-table-layout.ts';
import { zoneValues } from '#core/queries/values.ts';
import { fillSkyline, MONO_FONT } from '../../canvas/draw.ts';
import { columnWidth, columnX, type KeyRange } from '../../canvas/keyboard-layout.ts';
import type { Stage } from '../../canvas/use-band-canvas.ts';
import type { CutSound } from '../../stores/sound/part-sounds.ts';
import { drawKeyboard, keysBoxOf, type KeysBox } from './keyboard-picture.ts';

export interface KeysScene {
  range: KeyRange;
  /** Zones with the keys that play them. */
  laid: readonly (PlacedZone & { keys: NonNullable<PlacedZone['keys']> })[];
  sounds: ReadonlyMap<string, CutSound>;
  colourOf: (placed: PlacedZone) => string;
  /** Ids of the chosen zones. */
  selected: ReadonlySet<string>;
}

const NUMBER_HEIGHT = 18;
const KEY_SHARE = 0.36;

/** Where the keys lie. */
export function keysBox(height: number): KeysBox {
  const tall = Math.max(34, Math.min(90, height * KEY_SHARE));
  return keysBoxOf(height - tall, height - 1);
}

export function drawKeys(stage: Stage, scene: KeysScene): void {
  const box = keysBox(stage.height);
  drawKeyboard(stage, box, scene.range);
  const longest = scene.laid.reduce((most, { at }) => Math.max(most, at.endFrame - at.startFrame), 1);
  // All that lies on the same keys stands beside each other here, whatever strengths it answers.
  const lanes = withLanes(scene.laid.map(({ zone: { id }, keys }) => ({ id, keys, velocities: ALL_VELOCITIES })));
  scene.laid.forEach((placed, place) => drawStrip(stage, scene, placed, lanes[place]!.lane, box.top - 2, longest));
}

function drawStrip(
  { context, width, inks }: Stage,
  scene: KeysScene,
  placed: KeysScene['laid'][number],
  lane: LaidZone['lane'],
  base: number,
  longest: number,
): void {
  const { range } = scene;
  const { at, keys, zone, cut } = placed;
  const sound = scene.sounds.get(cut.id);
  const each = columnWidth(range, width);
  const { index, count } = lane ?? { index: 0, count: 1 };
  const wide = ((keys.high - keys.low + 1) * each) / count;
  const x = columnX(range, keys.low, width) + index * wide;
  const picked = scene.selected.has(zone.id);
  const isRange = keys.high > keys.low;
  if (picked || isRange) {
    context.fillStyle = picked ? inks.sea : scene.colourOf(placed);
    context.globalAlpha = 0.13;
    context.fillRect(x, 0, wide, base + 2);
    context.globalAlpha = 1;
  }
  if (picked) {
    context.strokeStyle = inks.sea;
    context.strokeRect(x + 0.5, 0.5, wide - 1, base + 1);
  }
  context.fillStyle = scene.colourOf(placed);
  if (sound?.peaks) {
    // Short slices end early and long ones fill the column: the length is part of how a slice is known.
    const share = isRange ? 1 : Math.max(0.35, Math.sqrt((at.endFrame - at.startFrame) / longest));
    const box = { x: x + 1, y: base, width: Math.max(1, wide - 2) * share, height: base - NUMBER_HEIGHT };
    fillSkyline(context, sound.peaks, at.startFrame, at.endFrame, box, {
      scale: 1 / sound.loudest,
      reverse: zoneValues(zone).reverse,
    });
  }
  if (index > 0) return;
  const label = at.index < 0 ? 'loop' : `${at.index + 1}`;
  context.textBaseline = 'middle';
  context.font = picked ? `500 ${MONO_FONT}` : MONO_FONT;
  if (context.measureText(label).width >= wide - 1 && at.index % 4 !== 0) return;
  context.fillStyle = picked ? inks.sea : inks.quiet;
  context.fillText(label, x + 2, NUMBER_HEIGHT / 2);
}
