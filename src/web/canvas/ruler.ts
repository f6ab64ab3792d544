/** The ruler of a source as arithmetic: where its lines are, and what stands at them. */
import type { Loop } from '#core/document/schema.ts';
import { loopFrameAt, loopTicksAt } from '#core/units/loop-time.ts';
import { countedBeats, countedBeatTicks, loopLengthTicks } from '#core/units/time.ts';
import type { ViewWindow } from './view-window.ts';

export type RulerUnit = 'bars' | 'seconds' | 'frames';

export interface RulerTick {
  frame: number;
  /** Null for a line between two named ones. */
  label: string | null;
  /** A bar line, or a round number. */
  isStrong: boolean;
}

/** Named lines stand at least so far apart, in pixels; lines without names so far. */
const LABEL_PX = 64;
const LINE_PX = 12;

/**
 * @param loop what bars are counted by; without one they are seconds
 * @param linesABeat between two beats, close by: what the loop's feel is measured on
 */
export function rulerTicks(
  window: ViewWindow,
  width: number,
  unit: RulerUnit,
  sampleRate: number,
  loop: Loop | null,
  linesABeat = 4,
): RulerTick[] {
  if (width <= 0) return [];
  const framesPerPixel = (window.endFrame - window.startFrame) / width;
  if (unit === 'bars' && loop) return barTicks(window, framesPerPixel, loop, linesABeat);
  const perUnit = unit === 'frames' ? 1 : sampleRate;
  const step = roundStep((framesPerPixel * LABEL_PX) / perUnit, unit === 'frames');
  const parts = (step * perUnit) / framesPerPixel / 5 >= LINE_PX ? 5 : 1;
  const digits = Math.max(0, -Math.floor(Math.log10(step) + 1e-9));
  return linesBetween(window, (step * perUnit) / parts, 0).map(({ frame, place }) => {
    const isNamed = place % parts === 0;
    const value = (place / parts) * step;
    const words = unit === 'frames' ? value.toLocaleString('en') : `${value.toFixed(digits)} s`;
    return { frame, label: isNamed ? words : null, isStrong: isNamed };
  });
}

/** 1, 2 or 5 times a power of ten, at least so large. */
function roundStep(least: number, isWhole: boolean): number {
  const power = 10 ** Math.floor(Math.log10(Math.max(isWhole ? 1 : 1e-7, least)));
  return [1, 2, 5, 10].map((factor) => factor * power).find((step) => step >= least - 1e-12) ?? power * 10;
}

/** Beats and their halvings close by, bars and their doublings from far; between the loop's own bar lines, where it has them. */
function barTicks(window: ViewWindow, framesPerPixel: number, loop: Loop, linesABeat: number): RulerTick[] {
  const perBar = countedBeats(loop.beatsPerBar);
  const beatTicks = countedBeatTicks(loop.beatsPerBar);
  const pixelsPerTick = (loop.endFrame - loop.startFrame) / loopLengthTicks(loop) / framesPerPixel;
  const pixelsOf = (ticks: number) => ticks * pixelsPerTick;
  const bars =
    [1, 2, 4, 8, 16, 32, 64, 128, 256].find((count) => pixelsOf(count * perBar * beatTicks) >= LABEL_PX) ?? 512;
  const isFine = pixelsOf(beatTicks) >= LABEL_PX;
  const stepTicks = beatTicks / linesABeat;
  const fineTicks = pixelsOf(stepTicks) >= LINE_PX ? stepTicks : beatTicks;
  const coarseTicks = pixelsOf(beatTicks) >= LINE_PX ? beatTicks : bars * perBar * beatTicks;
  const lineTicks = isFine ? fineTicks : coarseTicks;
  const inTicks = { startFrame: loopTicksAt(loop, window.startFrame), endFrame: loopTicksAt(loop, window.endFrame) };
  return linesBetween(inTicks, lineTicks, 0).map(({ place }) => {
    const ticks = place * lineTicks;
    const beat = Math.round(ticks / beatTicks + Number.EPSILON);
    const isOnBeat = Math.abs(ticks - beat * beatTicks) < 1e-3;
    const bar = Math.floor(beat / perBar);
    const isBar = isOnBeat && beat % perBar === 0;
    const isNamed = isFine ? isOnBeat : isBar && bar % bars === 0;
    // Before the loop bars count down: 0 is the one before the first.
    const label = isNamed ? `${bar + 1}.${beat - bar * perBar + 1}` : null;
    return { frame: loopFrameAt(loop, ticks), label, isStrong: isBar };
  });
}

/** In frames, or in ticks. */
function linesBetween(window: ViewWindow, step: number, origin: number): { frame: number; place: number }[] {
  const first = Math.ceil((window.startFrame - origin) / step - 1e-9);
  const last = Math.floor((window.endFrame - origin) / step + 1e-9);
  return Array.from({ length: Math.max(0, Math.min(2000, last - first + 1)) }, (_, i) => ({
    place: first + i,
    frame: origin + (first + i) * step,
  }));
}
