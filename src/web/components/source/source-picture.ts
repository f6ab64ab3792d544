/** Draws the source band: markers and numbers, the skyline in slice colours, the landscape with its water line. */
import type { AudioData } from '#core/dsp/audio.ts';
import { peakBetween, type PeakPyramid } from '#core/dsp/peaks.ts';
import type { Loop, Slice } from '#core/document/schema.ts';
import type { PlacedSlice } from '#core/queries/slices.ts';
import { fillSkyline, hatch, liftLevel, MONO_FONT, SANS_FONT, strokeCurve, verticalLine } from '../../canvas/draw.ts';
import { keyName } from '../../canvas/key-names.ts';
import { rulerTicks, type RulerUnit } from '../../canvas/ruler.ts';
import type { Stage } from '../../canvas/use-band-canvas.ts';
import { frameToX, xToFrame, type ViewWindow } from '../../canvas/view-window.ts';
import type { SourceReading } from '../../workers/analysis-protocol.ts';
import { NUMBER_HEIGHT, sourceBox } from './source-box.ts';
import { drawSpans, type Span } from './spans.ts';

/** Between a slice's number and its name. */
const NAME_GAP = 1;
const CAP_GAP = 8;
const CAP_HEIGHT = 13;
/** Fewer frames a pixel than this show the true curve. */
const CURVE_BELOW_FRAMES = 3;

export interface SourceScene {
  window: ViewWindow;
  frames: number;
  sampleRate: number;
  audio: AudioData;
  peaks: PeakPyramid;
  reading: SourceReading | null;
  placed: readonly PlacedSlice[];
  colours: readonly string[];
  selected: ReadonlySet<string>;
  /** Keys that play the slices, by the slices' ids. */
  keyNames: ReadonlyMap<string, string>;
  /** Null for what is no loop. */
  loop: Loop | null;
  rulerUnit: RulerUnit;
  linesABeat: number;
  /** How much taller than it is the sound is drawn. */
  heightZoom: number;
  sensitivity: number;
  /** Frames of the markers that a setting would give, while it moves. */
  preview: readonly number[] | null;
  showWater: boolean;
  /** Loops whose ends can be taken hold of. */
  spans: readonly Span[];
  /** What is about to be left out as silence, and below which level; null while nothing is. */
  silence: { levelDb: number; leftOut: readonly { startFrame: number; endFrame: number }[] } | null;
}

export function drawSource(stage: Stage, scene: SourceScene): void {
  drawRuler(stage, scene);
  drawSelection(stage, scene);
  drawSkylines(stage, scene);
  drawMarkers(stage, scene);
  drawPreview(stage, scene);
  drawSilence(stage, scene);
  drawSpans(stage, scene.window, scene.spans);
  drawLandscape(stage, scene);
}

function visible({ placed, window }: SourceScene): PlacedSlice[] {
  return placed.filter((at) => at.endFrame >= window.startFrame && at.startFrame <= window.endFrame);
}

function drawRuler({ context, width, height, inks }: Stage, scene: SourceScene): void {
  const { rulerHeight, skylineBottom } = sourceBox(height);
  if (rulerHeight === 0) return;
  context.font = MONO_FONT;
  context.textBaseline = 'middle';
  context.lineWidth = 1;
  for (const { frame, label, isStrong } of rulerTicks(
    scene.window,
    width,
    scene.rulerUnit,
    scene.sampleRate,
    scene.loop,
    scene.linesABeat,
  )) {
    const x = frameToX(scene.window, frame, width);
    context.strokeStyle = isStrong ? inks.quiet : inks.rule;
    context.globalAlpha = isStrong ? 0.8 : 0.6;
    verticalLine(context, x, label === null ? rulerHeight - 4 : 1, rulerHeight);
    context.globalAlpha = 0.35;
    if (label !== null) verticalLine(context, x, rulerHeight, skylineBottom);
    context.globalAlpha = 1;
    if (label === null) continue;
    context.fillStyle = inks.quiet;
    context.fillText(label, x + 4, rulerHeight / 2 + 1);
  }
}

function drawSelection({ context, width, height, inks }: Stage, scene: SourceScene): void {
  const { numberTop, skylineTop, skylineBottom } = sourceBox(height);
  context.fillStyle = inks.sea;
  for (const at of visible(scene)) {
    if (!scene.selected.has(at.slice.id)) continue;
    const x = frameToX(scene.window, at.startFrame, width);
    context.globalAlpha = 0.13;
    context.fillRect(x, numberTop, frameToX(scene.window, at.endFrame, width) - x, skylineBottom - numberTop);
    context.globalAlpha = 1;
  }
  context.fillStyle = inks.rule;
  context.globalAlpha = 0.5;
  const start = frameToX(scene.window, scene.loop?.startFrame ?? 0, width);
  const end = frameToX(scene.window, scene.loop?.endFrame ?? scene.frames, width);
  if (start > 0) context.fillRect(0, skylineTop, start, skylineBottom - skylineTop);
  if (end < width) context.fillRect(end, skylineTop, width - end, skylineBottom - skylineTop);
  context.globalAlpha = 1;
}

function drawSkylines({ context, width, height, inks }: Stage, scene: SourceScene): void {
  const { window, peaks, audio } = scene;
  const { skylineTop, skylineBottom: bottom } = sourceBox(height);
  const tall = bottom - skylineTop;
  const framesPerPixel = (window.endFrame - window.startFrame) / width;
  const loudest = Math.max(0.05, peakBetween(peaks, 0, scene.frames));
  if (framesPerPixel < CURVE_BELOW_FRAMES) {
    context.strokeStyle = inks.rule;
    context.lineWidth = 1;
    context.beginPath();
    context.moveTo(0, bottom - tall / 2);
    context.lineTo(width, bottom - tall / 2);
    context.stroke();
    context.lineWidth = 1.5;
    for (const at of visible(scene)) {
      const from = Math.max(at.startFrame, window.startFrame);
      const to = Math.min(at.endFrame, window.endFrame);
      const x = frameToX(window, from, width);
      context.strokeStyle = scene.colours[at.index] ?? inks.ink;
      const box = { x, y: bottom, width: frameToX(window, to, width) - x, height: tall };
      strokeCurve(context, audio, from, to, box, scene.heightZoom);
    }
    context.lineWidth = 1;
    return;
  }
  const first = scene.placed[0]?.startFrame ?? scene.frames;
  const pieces = [
    { startFrame: 0, endFrame: first, restFrame: first, colour: inks.rule },
    ...scene.placed.map((at, index) => ({
      startFrame: at.startFrame,
      endFrame: scene.placed[index + 1]?.startFrame ?? scene.frames,
      restFrame: at.endFrame,
      colour: scene.colours[at.index] ?? inks.ink,
    })),
  ];
  // What no slice plays is drawn as what lies before the first.
  for (const piece of pieces.flatMap((one) => (one.restFrame < one.endFrame ? withRest(one, inks.rule) : [one]))) {
    const from = Math.max(piece.startFrame, window.startFrame);
    const to = Math.min(piece.endFrame, window.endFrame);
    if (to <= from) continue;
    const x = frameToX(window, from, width);
    context.fillStyle = piece.colour;
    const box = { x, y: bottom, width: frameToX(window, to, width) - x, height: tall };
    fillSkyline(context, peaks, from, to, box, { scale: scene.heightZoom / loudest });
  }
  context.strokeStyle = inks.ink;
  context.beginPath();
  context.moveTo(0, bottom + 0.5);
  context.lineTo(width, bottom + 0.5);
  context.stroke();
}

interface SkylinePiece {
  startFrame: number;
  endFrame: number;
  /** From here on it is another colour: a slice with an end of its own is over. */
  restFrame: number;
  colour: string;
}

function withRest(piece: SkylinePiece, restColour: string): SkylinePiece[] {
  return [
    { ...piece, endFrame: piece.restFrame },
    { ...piece, startFrame: piece.restFrame, colour: restColour },
  ];
}

/** What a slice is called, or what it is; a note with its pitch. */
function wordsOf({ name, role, midi }: Slice): string {
  if (name) return name;
  return role === 'note' && midi !== null ? `${role} ${keyName(midi)}` : role;
}

/** The key that plays it, framed like one: what it is called is not the pitch of the sound. */
function drawKeyCap(context: CanvasRenderingContext2D, key: string, x: number, middle: number, width: number): void {
  const edge = CAP_GAP / 2;
  context.fillText(key, x + edge, middle);
  context.strokeStyle = context.fillStyle;
  context.lineWidth = 1;
  context.globalAlpha = 0.6;
  context.beginPath();
  context.roundRect(x + 0.5, Math.round(middle - CAP_HEIGHT / 2) - 0.5, Math.round(width + 2 * edge), CAP_HEIGHT, 2);
  context.stroke();
  context.globalAlpha = 1;
}

function drawMarkers({ context, width, height, inks }: Stage, scene: SourceScene): void {
  const { numberTop, skylineBottom: bottom } = sourceBox(height);
  const middle = numberTop + NUMBER_HEIGHT / 2;
  context.font = MONO_FONT;
  context.textBaseline = 'middle';
  let labelEnd = -Infinity;
  const shown = visible(scene);
  for (const [place, at] of shown.entries()) {
    const x = frameToX(scene.window, at.startFrame, width);
    const selected = scene.selected.has(at.slice.id);
    context.strokeStyle = selected ? inks.sea : inks.quiet;
    context.lineWidth = selected ? 2 : 1;
    context.globalAlpha = scene.preview ? 0.25 : selected ? 1 : 0.55;
    verticalLine(context, x, numberTop + 2, bottom);
    context.globalAlpha = 1;
    const label = `${at.index + 1}`;
    const labelWidth = context.measureText(label).width;
    if (x + 4 > labelEnd || selected) {
      context.fillStyle = selected ? inks.sea : inks.quiet;
      context.fillText(label, x + 4, middle);
      labelEnd = x + 4 + labelWidth + 3;
      // What it is stands beside its number, where there is room up to the next.
      const next = shown[place + 1];
      const room = (next ? frameToX(scene.window, next.startFrame, width) : width) - labelEnd - NAME_GAP;
      context.font = SANS_FONT;
      const what = wordsOf(at.slice);
      const whatWidth = context.measureText(what).width;
      if (whatWidth <= room) context.fillText(what, labelEnd + NAME_GAP, middle);
      context.font = MONO_FONT;
      // And the key that plays it.
      const key = scene.keyNames.get(at.slice.id);
      const keyWidth = key ? context.measureText(key).width : 0;
      const isRoomy = key && whatWidth + keyWidth + 3 * CAP_GAP <= room;
      if (isRoomy) drawKeyCap(context, key, labelEnd + NAME_GAP + whatWidth + CAP_GAP, middle, keyWidth);
      if (at.slice.locked) {
        context.fillRect(x - 2.5, numberTop, 6, 5);
      } else if (at.slice.origin === 'hand') {
        context.beginPath();
        context.arc(x + 0.5, numberTop + 3.5, 3, 0, 2 * Math.PI);
        context.fill();
      }
    }
  }
  context.lineWidth = 1;
}

function drawPreview({ context, width, height, inks }: Stage, { preview, window }: SourceScene): void {
  if (!preview) return;
  const { numberTop, skylineBottom } = sourceBox(height);
  context.strokeStyle = inks.sea;
  context.lineWidth = 2;
  for (const frame of preview) verticalLine(context, frameToX(window, frame, width), numberTop, skylineBottom);
  context.lineWidth = 1;
}

/** What goes is struck out, under the line that it does not reach. */
function drawSilence(
  { context, width, height, inks }: Stage,
  { silence, window, peaks, frames, ...scene }: SourceScene,
): void {
  if (!silence) return;
  const { numberTop, skylineTop, skylineBottom } = sourceBox(height);
  for (const { startFrame, endFrame } of silence.leftOut) {
    if (endFrame < window.startFrame || startFrame > window.endFrame) continue;
    const x = frameToX(window, startFrame, width);
    const wide = frameToX(window, endFrame, width) - x;
    context.globalAlpha = 0.8;
    context.fillStyle = inks.paper;
    context.fillRect(x, numberTop, wide, skylineBottom - numberTop);
    context.globalAlpha = 1;
    hatch(context, inks.quiet, x, numberTop, wide, skylineBottom - numberTop);
  }
  const loudest = Math.max(0.05, peakBetween(peaks, 0, frames));
  const level = liftLevel((10 ** (silence.levelDb / 20) * scene.heightZoom) / loudest);
  const y = Math.round(skylineBottom - Math.min(1, level) * (skylineBottom - skylineTop)) + 0.5;
  context.strokeStyle = inks.sea;
  context.setLineDash([5, 4]);
  context.beginPath();
  context.moveTo(0, y);
  context.lineTo(width, y);
  context.stroke();
  context.setLineDash([]);
}

function drawLandscape({ context, width, height, inks }: Stage, scene: SourceScene): void {
  const { reading, window } = scene;
  const { landscapeTop: top, landscapeBottom: bottom } = sourceBox(height);
  if (!reading) return;
  const tall = bottom - top;
  const { hopFrames, values } = reading.landscape;
  context.fillStyle = inks.quiet;
  context.globalAlpha = 0.55;
  context.beginPath();
  context.moveTo(0, bottom);
  for (let x = 0; x <= width; x++) {
    const from = Math.max(0, Math.floor(xToFrame(window, x, width) / hopFrames));
    const to = Math.min(values.length, Math.max(from + 1, Math.ceil(xToFrame(window, x + 1, width) / hopFrames)));
    let value = 0;
    for (let i = from; i < to; i++) if (values[i]! > value) value = values[i]!;
    context.lineTo(x, bottom - value * tall);
  }
  context.lineTo(width, bottom);
  context.fill();
  context.globalAlpha = 1;
  if (!scene.showWater) return;
  const surface = bottom - (1 - scene.sensitivity) * tall;
  context.fillStyle = inks.sea;
  context.globalAlpha = 0.22;
  context.fillRect(0, surface, width, bottom - surface);
  context.globalAlpha = 1;
  context.strokeStyle = inks.sea;
  context.lineWidth = 2;
  context.beginPath();
  context.moveTo(0, surface);
  context.lineTo(width, surface);
  context.stroke();
  context.lineWidth = 1;
}
