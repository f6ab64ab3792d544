/** Draws the pattern band: slices in source order, threads down to where they play, the ribbon of strips. */
import type { Loop } from '#core/document/schema.ts';
import type { PlacedSlice } from '#core/queries/slices.ts';
import { repeatsOf } from '#core/strips/repeats.ts';
import { eventValues, zoneValues } from '#core/queries/values.ts';
import type { PlacedZone } from '#core/queries/zones.ts';
import { dbToGain, velocityToGain } from '#core/units/level.ts';
import { transposeRatio } from '#core/units/pitch.ts';
import { loopTicksAt } from '#core/units/loop-time.ts';
import { countedBeats, countedBeatTicks, loopLengthTicks, TICKS_PER_BEAT } from '#core/units/time.ts';
import { namedBeatStep } from '../../canvas/beat-names.ts';
import { fillSkyline, hatch, MONO_FONT, verticalLine } from '../../canvas/draw.ts';
import {
  SOURCE_ROW_HEIGHT,
  STRIP_LABEL_HEIGHT,
  stripsApart,
  ticksToX,
  type PatternLayout,
  type StripBox,
} from '../../canvas/pattern-layout.ts';
import type { Stage } from '../../canvas/use-band-canvas.ts';
import type { CutSound } from '../../stores/sound/part-sounds.ts';

export interface PatternScene {
  layout: PatternLayout;
  placed: readonly PlacedSlice[];
  /** What the strips play. */
  zones: readonly PlacedZone[];
  /** How the cuts look that they are of, and which of them is shown above. */
  sounds: ReadonlyMap<string, CutSound>;
  cutId: string;
  /** Null for what is no loop. */
  loop: Loop | null;
  beatsPerBar: number;
  gridStepTicks: number | null;
  /** How fast the source passes under the strips. */
  sourceFramesPerTick: number;
  selected: ReadonlySet<string>;
  /** Where feel, groove and swing put each event, in ticks by its id; null where they leave all alone. */
  heardTicks: ReadonlyMap<string, number> | null;
  /** Strips that another one on their step cuts off at once. */
  unheard: ReadonlySet<string>;
  /** Where a slice that is dragged from above would land, in ticks. */
  dropTicks: number | null;
}

/** Events nearer than this to their slice's own place count as unmoved, in ticks. */
const AT_HOME_TICKS = 2;

export function drawPattern(stage: Stage, scene: PatternScene): void {
  drawGrid(stage, scene);
  drawSourceRow(stage, scene);
  const byId = new Map(scene.zones.map((placed) => [placed.zone.id, placed] as const));
  const strips = stripsApart(scene.layout.strips, scene.selected, MIN_STRIP_PX);
  const threaded = strips.length > MANY_STRIPS ? stripsApart(strips, scene.selected, MIN_THREAD_PX, () => 0) : strips;
  for (const strip of threaded) drawThread(stage, scene, strip, byId.get(strip.event.zoneId));
  for (const strip of strips) drawStrip(stage, scene, strip, byId.get(strip.event.zoneId));
  for (const strip of strips) drawHeardPlace(stage, scene, strip);
  const { context, inks, width } = stage;
  const { ribbonBottom } = scene.layout;
  context.strokeStyle = inks.ink;
  context.lineWidth = 1;
  context.beginPath();
  context.moveTo(0, Math.round(ribbonBottom) + 0.5);
  context.lineTo(width, Math.round(ribbonBottom) + 0.5);
  context.stroke();
  if (scene.dropTicks !== null) {
    context.strokeStyle = inks.sea;
    context.lineWidth = 2;
    verticalLine(
      context,
      ticksToX(scene.dropTicks, scene.layout.lengthTicks, width),
      scene.layout.ribbonTop,
      ribbonBottom,
    );
  }
}

/** Distance of strips in a row that are drawn, in pixels. */
const MIN_STRIP_PX = 2;
/** Of more strips than this only some have a thread, so far apart, in pixels: all would cover the whole band. */
const MANY_STRIPS = 300;
const MIN_THREAD_PX = 6;
/** A strip narrower than this is a line, in pixels: of thousands in one view nothing more could be seen. */
const MIN_PICTURE_PX = 4;
/** A strip narrower than this has no room for a figure, in pixels. */
const MIN_LABEL_PX = 8;

/** Where a slice plays in the loop's own order, in ticks. */
function homeTicks(at: PlacedSlice, { loop, layout }: PatternScene): number {
  if (!loop) return Math.min(layout.lengthTicks, at.index * TICKS_PER_BEAT);
  return Math.min(layout.lengthTicks, loopTicksAt(loop, at.startFrame));
}

function drawGrid({ context, width, height, inks }: Stage, scene: PatternScene): void {
  const { lengthTicks, ribbonTop, ribbonBottom } = scene.layout;
  context.lineWidth = 1;
  context.strokeStyle = inks.rule;
  const step = scene.gridStepTicks;
  if (step !== null && (width * step) / lengthTicks >= 5) {
    context.globalAlpha = 0.55;
    for (let ticks = 0; ticks < lengthTicks; ticks += step) {
      verticalLine(context, ticksToX(ticks, lengthTicks, width), ribbonTop + STRIP_LABEL_HEIGHT, ribbonBottom);
    }
    context.globalAlpha = 1;
  }
  context.font = MONO_FONT;
  context.textBaseline = 'middle';
  const beatTicks = countedBeatTicks(scene.beatsPerBar);
  const perBar = countedBeats(scene.beatsPerBar);
  const named = namedBeatStep(perBar, ticksToX(beatTicks, lengthTicks, width));
  for (let beat = 0; beat * beatTicks < lengthTicks; beat++) {
    const x = ticksToX(beat * beatTicks, lengthTicks, width);
    const isBar = beat % perBar === 0;
    context.strokeStyle = isBar ? inks.quiet : inks.rule;
    verticalLine(context, x, isBar ? ribbonTop : ribbonTop + 8, ribbonBottom + 6);
    if (beat % named !== 0) continue;
    context.fillStyle = inks.quiet;
    context.fillText(`${Math.floor(beat / perBar) + 1}.${(beat % perBar) + 1}`, x + 2, height - 9);
  }
}

/** How far on in the row of slices above a frame lies: 0..1, in the loop's own time. */
function shareOfRow(frame: number, { loop, sounds, cutId, placed }: PatternScene): number {
  if (loop) return loopTicksAt(loop, frame) / loopLengthTicks(loop);
  return frame / (sounds.get(cutId)?.peaks?.frames ?? placed.at(-1)?.endFrame ?? 1);
}

function drawSourceRow({ context, width }: Stage, scene: PatternScene): void {
  const { placed, loop } = scene;
  const colours = scene.sounds.get(scene.cutId)?.colours ?? [];
  for (const at of placed) {
    if (loop && (at.startFrame < loop.startFrame || at.startFrame >= loop.endFrame)) continue;
    const x = shareOfRow(at.startFrame, scene) * width;
    const next = placed[at.index + 1];
    const end = Math.min(1, next ? shareOfRow(next.startFrame, scene) : 1) * width;
    context.fillStyle = colours[at.index] ?? '#000';
    context.fillRect(x, 1, Math.max(1, end - x - 1.5), SOURCE_ROW_HEIGHT - 3);
  }
}

function drawThread(
  { context, width, inks }: Stage,
  scene: PatternScene,
  strip: StripBox,
  zone: PlacedZone | undefined,
): void {
  // What comes from another sound than the one above has no place there.
  if (zone?.cut.id !== scene.cutId) return;
  const { at } = zone;
  const { ribbonTop } = scene.layout;
  const home = homeTicks(at, scene);
  const moved = Math.abs(home - strip.event.positionTicks) > AT_HOME_TICKS;
  const fromX = Math.max(0, Math.min(1, shareOfRow(at.startFrame, scene))) * width + 3;
  const toX = strip.x + 3;
  const picked = scene.selected.has(strip.event.id);
  context.strokeStyle = picked ? inks.sea : (scene.sounds.get(scene.cutId)?.colours[at.index] ?? inks.ink);
  context.lineWidth = picked ? 3 : moved ? 2 : 1;
  context.globalAlpha = moved || picked ? 0.9 : 0.35;
  const bottom = strip.y + 2;
  const bend = (ribbonTop - SOURCE_ROW_HEIGHT) * 0.6;
  context.beginPath();
  context.moveTo(fromX, SOURCE_ROW_HEIGHT - 1);
  context.bezierCurveTo(fromX, SOURCE_ROW_HEIGHT + bend, toX, ribbonTop - bend, toX, Math.max(ribbonTop, bottom));
  context.stroke();
  context.globalAlpha = 1;
  context.lineWidth = 1;
}

function drawStrip({ context, inks }: Stage, scene: PatternScene, strip: StripBox, zone: PlacedZone | undefined): void {
  const { event } = strip;
  const picked = scene.selected.has(event.id);
  const base = strip.y + strip.height - 1;
  const top = strip.y + 1;
  if (strip.width < MIN_PICTURE_PX) {
    context.fillStyle = picked ? inks.sea : zone ? colourOf(scene, zone) : inks.ink;
    const tall = soundHeight(strip) * eventValues(event).velocity;
    context.fillRect(strip.x, base - tall, Math.max(1, strip.width - 1), tall);
    return;
  }
  context.fillStyle = picked ? inks.sea : inks.paper;
  context.globalAlpha = picked ? 0.16 : 0.75;
  context.fillRect(strip.x, top, strip.width - 1, base - top);
  context.globalAlpha = 1;
  context.fillStyle = inks.ink;
  if (zone) drawStripSound(context, scene, strip, zone, base);
  context.strokeStyle = picked ? inks.sea : inks.rule;
  context.lineWidth = picked ? 2 : 1;
  if (picked) context.strokeRect(strip.x + 1, top + 1, strip.width - 3, base - top - 2);
  else verticalLine(context, strip.x, top, base);
  if (scene.unheard.has(event.id)) hatch(context, inks.quiet, strip.x, top, strip.width - 1, base - top);
  if (eventValues(event).hold) {
    context.fillStyle = inks.ink;
    context.fillRect(strip.x + 2, base - 4, strip.width - 5, 4);
  }
  drawStripLabel(context, scene, strip, zone, inks.quiet, inks.ink);
  context.lineWidth = 1;
}

/** Nearer than this a strip is drawn where it is heard, in pixels. */
const SAME_PLACE_PX = 1.5;

/** A dashed line where a strip is heard, when that is not where it stands. */
function drawHeardPlace({ context, width, inks }: Stage, scene: PatternScene, strip: StripBox): void {
  const ticks = scene.heardTicks?.get(strip.event.id);
  if (ticks === undefined) return;
  const x = ticksToX(ticks, scene.layout.lengthTicks, width);
  if (Math.abs(x - strip.x) < SAME_PLACE_PX) return;
  context.strokeStyle = inks.ink;
  context.setLineDash([2, 2]);
  verticalLine(context, x, strip.y + STRIP_LABEL_HEIGHT, strip.y + strip.height - 1);
  context.setLineDash([]);
}

function colourOf(scene: PatternScene, { at, cut }: PlacedZone): string {
  return scene.sounds.get(cut.id)?.colours[at.index] ?? '#000';
}

/** How tall the loudest sound of a strip stands, in pixels. */
function soundHeight({ height }: StripBox): number {
  return Math.max(6, height - STRIP_LABEL_HEIGHT - 2);
}

/** What is dealt silent is still there, to be seen. */
const SILENT_ALPHA = 0.25;

function drawStripSound(
  context: CanvasRenderingContext2D,
  scene: PatternScene,
  strip: StripBox,
  placed: PlacedZone,
  base: number,
): void {
  const { at, zone, cut } = placed;
  const { event } = strip;
  const values = eventValues(event);
  const { tuneCents, reverse: isReversed } = zoneValues(zone);
  const { peaks, loudest } = scene.sounds.get(cut.id) ?? { peaks: null, loudest: 1 };
  if (!peaks) return;
  const tall = soundHeight(strip);
  const scale = velocityToGain(values.velocity) / loudest;
  const increment = transposeRatio(0, tuneCents);
  const reverse = values.reverse !== isReversed;
  context.fillStyle = colourOf(scene, placed);
  context.globalAlpha = values.chancePercent === 0 ? SILENT_ALPHA : 1;
  for (const { startShare, lengthShare, gainDb } of repeatsOf(values)) {
    const room = event.lengthTicks * lengthShare * scene.sourceFramesPerTick * increment;
    const shownFrames = Math.min(at.endFrame - at.startFrame, room);
    const from = reverse ? at.endFrame - shownFrames : at.startFrame;
    const oneWidth = strip.width * lengthShare;
    const box = {
      x: strip.x + strip.width * startShare,
      y: base,
      width: Math.max(1, (oneWidth * shownFrames) / Math.max(1, room) - 1),
      height: tall,
    };
    fillSkyline(context, peaks, from, from + shownFrames, box, { reverse, scale: scale * dbToGain(gainDb) });
  }
  context.globalAlpha = 1;
}

function drawStripLabel(
  context: CanvasRenderingContext2D,
  scene: PatternScene,
  strip: StripBox,
  placed: PlacedZone | undefined,
  quiet: string,
  ink: string,
): void {
  if (!placed || strip.width < MIN_LABEL_PX) return;
  const { at, zone } = placed;
  const moved = Math.abs(homeTicks(at, scene) - strip.event.positionTicks) > AT_HOME_TICKS;
  const { event } = strip;
  const values = eventValues(event);
  const reversed = values.reverse !== zoneValues(zone).reverse;
  const label = `${at.index + 1}${reversed ? '‹' : ''}${values.repeats > 1 ? `×${values.repeats}` : ''}`;
  context.font = moved ? `500 ${MONO_FONT}` : MONO_FONT;
  context.textBaseline = 'middle';
  if (context.measureText(label).width > strip.width - 2) {
    if (context.measureText(`${at.index + 1}`).width > strip.width - 1) return;
    context.fillStyle = moved ? ink : quiet;
    context.fillText(`${at.index + 1}`, strip.x + 2, strip.y + STRIP_LABEL_HEIGHT / 2 + 1);
    return;
  }
  context.fillStyle = moved ? ink : quiet;
  context.fillText(label, strip.x + 3, strip.y + STRIP_LABEL_HEIGHT / 2 + 1);
}
