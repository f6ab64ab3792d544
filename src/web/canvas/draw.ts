/** Drawing shared by the bands: crisp canvases, skylines, playheads. */
import type { AudioData } from '#core/dsp/audio.ts';
import { FINEST_PEAK_FRAMES, peakBetween, type PeakPyramid } from '#core/dsp/peaks.ts';

/** Colours of the theme as the canvas needs them. */
export interface InkSet {
  paper: string;
  sheet: string;
  ink: string;
  quiet: string;
  rule: string;
  signal: string;
  sea: string;
  /** Of black keys: dark on light and on dark paper. */
  ebony: string;
}

/** Reads the theme from the custom properties of an element. */
export function readInks(element: Element): InkSet {
  const style = getComputedStyle(element);
  const read = (name: string) => style.getPropertyValue(`--${name}`).trim();
  return {
    paper: read('paper'),
    sheet: read('sheet'),
    ink: read('ink'),
    quiet: read('ink-quiet'),
    rule: read('rule'),
    signal: read('signal'),
    sea: read('sea'),
    ebony: read('foot'),
  };
}

/** Sizes a canvas to a box in CSS pixels, at the screen's resolution; gives a cleared context in CSS pixels. */
export function prepareCanvas(
  canvas: HTMLCanvasElement,
  { width, height }: { width: number; height: number },
): CanvasRenderingContext2D | null {
  const ratio = window.devicePixelRatio || 1;
  const context = canvas.getContext('2d');
  if (!context || width === 0 || height === 0) return null;
  if (canvas.width !== Math.round(width * ratio) || canvas.height !== Math.round(height * ratio)) {
    canvas.width = Math.round(width * ratio);
    canvas.height = Math.round(height * ratio);
  }
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  context.clearRect(0, 0, width, height);
  return context;
}

/** Distance of the lines of a hatching. */
const HATCH_PX = 6;

/** Strikes a box out with slanting lines. */
export function hatch(
  context: CanvasRenderingContext2D,
  ink: string,
  x: number,
  y: number,
  width: number,
  height: number,
): void {
  context.save();
  context.beginPath();
  context.rect(x, y, width, height);
  context.clip();
  context.strokeStyle = ink;
  context.lineWidth = 1;
  context.beginPath();
  for (let at = x - height; at < x + width; at += HATCH_PX) {
    context.moveTo(at, y + height);
    context.lineTo(at + height, y);
  }
  context.stroke();
  context.restore();
}

export interface SkylineBox {
  x: number;
  /** Of the base line. */
  y: number;
  width: number;
  height: number;
}

/** Fills the peak envelope of a range of frames, standing on the box's base line; quiet sounds are lifted a little. */
export function fillSkyline(
  context: CanvasRenderingContext2D,
  peaks: PeakPyramid,
  startFrame: number,
  endFrame: number,
  box: SkylineBox,
  options: { reverse?: boolean; scale?: number } = {},
): void {
  const framesPerPixel = (endFrame - startFrame) / box.width;
  const { reverse = false, scale = 1 } = options;
  // No value that reaches over the end: it would show the attack of what follows.
  const last = Math.max(startFrame, endFrame - FINEST_PEAK_FRAMES);
  context.beginPath();
  context.moveTo(box.x, box.y);
  for (let pixel = 0; pixel <= box.width; pixel += 1) {
    const at = reverse ? box.width - pixel : pixel;
    const from = startFrame + at * framesPerPixel;
    const level = peakBetween(peaks, Math.min(from, last), Math.min(from + framesPerPixel, last));
    context.lineTo(box.x + pixel, box.y - Math.min(1, liftLevel(level * scale)) * box.height);
  }
  context.lineTo(box.x + box.width, box.y);
  context.closePath();
  context.fill();
}

/** Height of a level: a power law, so that ghost notes and tails stay visible beside loud hits. */
export function liftLevel(level: number): number {
  return level ** 0.7;
}

/** Draws the true curve with its zero line, for windows of few frames a pixel. */
export function strokeCurve(
  context: CanvasRenderingContext2D,
  audio: AudioData,
  startFrame: number,
  endFrame: number,
  box: SkylineBox,
  /** How much taller than it is it is drawn. */
  scale = 1,
): void {
  const channel = audio.channels[0]!;
  const other = audio.channels[1] ?? channel;
  const middle = box.y - box.height / 2;
  const perFrame = box.width / (endFrame - startFrame);
  context.beginPath();
  for (
    let frame = Math.max(0, Math.floor(startFrame));
    frame <= Math.min(channel.length - 1, Math.ceil(endFrame));
    frame++
  ) {
    const value = Math.max(-1, Math.min(1, ((channel[frame]! + other[frame]!) / 2) * scale));
    context.lineTo(box.x + (frame - startFrame) * perFrame, middle - value * (box.height / 2));
  }
  context.stroke();
}

/** A vertical line on whole pixels. */
export function verticalLine(context: CanvasRenderingContext2D, x: number, top: number, bottom: number): void {
  context.beginPath();
  context.moveTo(Math.round(x) + 0.5, top);
  context.lineTo(Math.round(x) + 0.5, bottom);
  context.stroke();
}

export const MONO_FONT = '13px "IBM Plex Mono", monospace';
export const SANS_FONT = '13px "Bricolage Grotesque Variable", sans-serif';

/** Words cut to a width, with dots where something is left out. */
export function fitWords(context: CanvasRenderingContext2D, words: string, width: number): string {
  if (context.measureText(words).width <= width) return words;
  let end = words.length;
  while (end > 1 && context.measureText(`${words.slice(0, end)}…`).width > width) end--;
  return `${words.slice(0, end)}…`;
}
