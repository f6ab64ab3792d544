/**
 * Loops as they lie in the picture of a source: the loop of the cut along the ruler, with its bar lines where each bar has
 * one, and that of a sound at the foot of its skyline.
 */
import type { Loop } from '#core/document/schema.ts';
import type { Stage } from '../../canvas/use-band-canvas.ts';
import { frameToX, type ViewWindow } from '../../canvas/view-window.ts';
import { sourceBox } from './source-box.ts';

export type SpanKind = 'loop' | 'sound' | 'bar';
export type SpanSide = 'startFrame' | 'endFrame';

export interface Span {
  kind: SpanKind;
  startFrame: number;
  endFrame: number;
  /** Of a bar line, which begins and ends at one frame: the bar that begins there, from 1 for the second. */
  bar?: number;
}

/** The bar lines of a loop that can be dragged: those of its own. */
export function barSpans({ barFrames }: Pick<Loop, 'barFrames'>): Span[] {
  return (barFrames ?? []).map((frame, place) => ({ kind: 'bar', startFrame: frame, endFrame: frame, bar: place + 1 }));
}

/** An end is taken hold of so far from where it is drawn. */
const REACH_PX = 7;
const BAR_PX = 2;
const GRIP_PX = 7;
/** So much of the foot of the skyline belongs to the loop of a sound. */
const FOOT_PX = 14;

/** From where to where a kind of span answers the pointer; nothing where there is no room for it. */
function stripOf(kind: SpanKind, height: number): { top: number; bottom: number } | null {
  const { rulerHeight, skylineBottom } = sourceBox(height);
  if (kind === 'sound') return { top: skylineBottom - FOOT_PX, bottom: skylineBottom };
  return rulerHeight > 0 ? { top: 0, bottom: rulerHeight } : null;
}

/** The end of a span under a place of the picture. */
export function spanEndAt(
  spans: readonly Span[],
  window: ViewWindow,
  { width, height }: { width: number; height: number },
  { x, y }: { x: number; y: number },
): { span: Span; side: SpanSide } | null {
  let best: { span: Span; side: SpanSide } | null = null;
  let distance = REACH_PX;
  for (const span of spans) {
    const strip = stripOf(span.kind, height);
    if (!strip || y < strip.top || y > strip.bottom) continue;
    for (const side of ['startFrame', 'endFrame'] as const) {
      const away = Math.abs(frameToX(window, span[side], width) - x);
      if (away >= distance) continue;
      best = { span, side };
      distance = away;
    }
  }
  return best;
}

export function drawSpans({ context, width, height, inks }: Stage, window: ViewWindow, spans: readonly Span[]): void {
  for (const span of spans) {
    const strip = stripOf(span.kind, height);
    if (!strip) continue;
    const [from, to] = [frameToX(window, span.startFrame, width), frameToX(window, span.endFrame, width)];
    if (to < 0 || from > width) continue;
    if (span.kind === 'bar') {
      drawBarLine(context, from, strip.bottom, inks.ink);
      continue;
    }
    const isLoop = span.kind === 'loop';
    context.fillStyle = isLoop ? inks.ink : inks.signal;
    // The ruler has room above its numbers, a skyline below.
    const y = isLoop ? strip.top : strip.bottom - BAR_PX;
    context.fillRect(from, y, Math.max(1, to - from), BAR_PX);
    for (const [x, inward] of [
      [from, 1],
      [to, -1],
    ] as const) {
      const edge = isLoop ? strip.top : strip.bottom;
      const away = isLoop ? GRIP_PX : -GRIP_PX;
      context.beginPath();
      context.moveTo(x, edge);
      context.lineTo(x + inward * GRIP_PX, edge);
      context.lineTo(x, edge + away);
      context.closePath();
      context.fill();
    }
  }
}

/** Stands on the foot of the ruler: a wedge whose point is the line. */
function drawBarLine(context: CanvasRenderingContext2D, x: number, foot: number, ink: string): void {
  context.fillStyle = ink;
  context.beginPath();
  context.moveTo(x, foot);
  context.lineTo(x - GRIP_PX / 2, foot - GRIP_PX);
  context.lineTo(x + GRIP_PX / 2, foot - GRIP_PX);
  context.closePath();
  context.fill();
}
