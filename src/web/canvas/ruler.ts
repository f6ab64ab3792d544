/** The ruler of a source as arithmetic: where its lines are, and what stands at them. */
import type { Loop } from '#core/document/schema.ts';
import { countedBeats } from '#core/units/time.ts';
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

/** Beats and their halvings close by, bars and their doublings from far. */
function barTicks(window: ViewWindow, framesPerPixel: number, loop: Loop, linesABeat: number): RulerTick[] {
  const perBar = countedBeats(loop.beatsPerBar);
  const barFrames = (loop.endFrame - loop.startFrame) / loop.bars;
  const beatFrames = barFrames / perBar;
  const wanted = framesPerPixel * LABEL_PX;
  const bars = [1, 2, 4, 8, 16, 32, 64, 128, 256].find((count) => count * barFrames >= wanted) ?? 512;
  const isFine = beatFrames >= wanted;
  const stepFrames = beatFrames / linesABeat;
  const lineFrames = isFine
    ? stepFrames / framesPerPixel >= LINE_PX
      ? stepFrames
      : beatFrames
    : beatFrames / framesPerPixel >= LINE_PX
      ? beatFrames
      : bars * barFrames;
  return linesBetween(window, lineFrames, loop.startFrame).map(({ frame, place }) => {
    const beat = Math.round((place * lineFrames) / beatFrames + Number.EPSILON);
    const isOnBeat = Math.abs(place * lineFrames - beat * beatFrames) < 0.5;
    const bar = Math.floor(beat / perBar);
    const isBar = isOnBeat && beat % perBar === 0;
    const isNamed = isFine ? isOnBeat : isBar && bar % bars === 0;
    // Before the loop bars count down: 0 is the one before the first.
    return { frame, label: isNamed ? `${bar + 1}.${beat - bar * perBar + 1}` : null, isStrong: isBar };
  });
}

function linesBetween(window: ViewWindow, step: number, origin: number): { frame: number; place: number }[] {
  const first = Math.ceil((window.startFrame - origin) / step - 1e-9);
  const last = Math.floor((window.endFrame - origin) / step + 1e-9);
  return Array.from({ length: Math.max(0, Math.min(2000, last - first + 1)) }, (_, i) => ({
    place: first + i,
    frame: origin + (first + i) * step,
  }));
}
