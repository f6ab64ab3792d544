/** The ways to find the boundaries of slices. Each gives markers; slices reach from one marker to the next. */
import { MAX_SLICES } from './slice-limit.ts';
import { loopFrameAt, loopTicksAt, type TimedLoop } from '../units/loop-time.ts';
import { TICKS_PER_BEAT } from '../units/time.ts';
import type { SourceAnalysis } from './analyse-source.ts';
import { selectOnsets, type OnsetSelection } from './select-onsets.ts';
import { windowPitch } from './pitch.ts';
import { nearestZeroCrossing, zeroCrossingBefore } from './snap.ts';

/** Where a slice begins, and how strong the hit there is (0..1; 1 where no hit was asked for). */
export interface Marker {
  frame: number;
  strength: number;
}

/**
 * The first markers of a cut, as many as it may have.
 * @returns with `uncutFrame` the first that is left out: the last slice goes on from there to the end; null when none is
 */
export function limitMarkers(markers: readonly Marker[]): { markers: Marker[]; uncutFrame: number | null } {
  return { markers: markers.slice(0, MAX_SLICES), uncutFrame: markers[MAX_SLICES]?.frame ?? null };
}

/** What stands before the first hit becomes a slice of its own when it is this loud against the source's peak. */
const LEAD_IN_LEVEL = 10 ** (-34 / 20);
const LEAD_IN_MS = 25;
const SNAP_REACH_MS = 1;

/** Markers at the hits that stand out at a sensitivity; and at 0 when sound stands before the first of them. */
export function cutAtHits(analysis: SourceAnalysis, selection: OnsetSelection): Marker[] {
  const { onsets, sampleRate, mono } = analysis;
  const markers = selectOnsets(onsets, sampleRate, selection).map(({ frame, strength }) => ({ frame, strength }));
  const first = markers[0]?.frame ?? mono.length;
  if (markers.length === 0 || (first > (LEAD_IN_MS / 1000) * sampleRate && hasLeadIn(mono, first, sampleRate))) {
    markers.unshift({ frame: 0, strength: 0 });
  }
  return markers;
}

function hasLeadIn(mono: Float32Array, first: number, sampleRate: number): boolean {
  let peak = 0;
  for (let i = 0; i < mono.length; i++) peak = Math.max(peak, Math.abs(mono[i]!));
  let loudFrames = 0;
  for (let i = 0; i < first; i++) if (Math.abs(mono[i]!) > peak * LEAD_IN_LEVEL) loudFrames++;
  return loudFrames > 0.003 * sampleRate;
}

export interface GridCut {
  /** Length of a step in ticks: 960 for quarters, 240 for sixteenths, 160 for sixteenth triplets. */
  stepTicks: number;
  tempoBpm: number;
  /** Place of every second line in its pair, in percent; 50 (the default) is straight, 66.7 a triplet. */
  swingPercent?: number;
  /** Frame of the first bar line. */
  startFrame: number;
  endFrame: number;
  /** A loop in which each bar has its own line: the grid's lie between those. */
  ownBars?: TimedLoop | undefined;
}

/** Frame of a grid line. */
function gridLineFrame(step: number, stepFrames: number, grid: GridCut): number {
  const { startFrame, swingPercent = 50, ownBars, stepTicks } = grid;
  const swung = step % 2 === 1 ? step - 1 + swingPercent / 50 : step;
  return ownBars ? loopFrameAt(ownBars, swung * stepTicks) : startFrame + swung * stepFrames;
}

/** Steps from the first line to a frame, swing aside. */
function stepsTo(frame: number, stepFrames: number, { startFrame, ownBars, stepTicks }: GridCut): number {
  return ownBars ? loopTicksAt(ownBars, frame) / stepTicks : (frame - startFrame) / stepFrames;
}

function stepFramesOf(grid: GridCut, sampleRate: number): number {
  if (!(grid.stepTicks > 0)) throw new RangeError(`stepTicks is ${grid.stepTicks}; it must be above 0`);
  return ((grid.stepTicks / TICKS_PER_BEAT) * 60 * sampleRate) / grid.tempoBpm;
}

/** Markers on a musical grid, each moved to the nearest zero crossing within 1 ms. */
export function cutOnGrid(analysis: SourceAnalysis, grid: GridCut): Marker[] {
  const stepFrames = stepFramesOf(grid, analysis.sampleRate);
  const frames: number[] = [];
  for (let step = 0; frames.length <= MAX_SLICES; step++) {
    const frame = gridLineFrame(step, stepFrames, grid);
    // A last sliver of less than a tenth of a step is rounding, not a slice.
    if (frame > grid.endFrame - stepFrames * 0.1) break;
    frames.push(Math.round(frame));
  }
  return snapped(analysis, frames);
}

/**
 * Pulls markers towards the grid line they lie near to (within a third of a step).
 * @param pullPercent 0 leaves them where they are, 100 puts them onto the line
 */
export function pullToGrid(
  markers: readonly Marker[],
  grid: GridCut,
  sampleRate: number,
  pullPercent: number,
): Marker[] {
  if (pullPercent <= 0) return [...markers];
  const stepFrames = stepFramesOf(grid, sampleRate);
  const pulled = markers.map((marker) => {
    const near = Math.max(0, Math.floor(stepsTo(marker.frame, stepFrames, grid)));
    const lines = [near, near + 1, near + 2].map((step) => gridLineFrame(step, stepFrames, grid));
    const line = lines.reduce((best, at) => (Math.abs(at - marker.frame) < Math.abs(best - marker.frame) ? at : best));
    if (Math.abs(line - marker.frame) > stepFrames / 3) return marker;
    return { ...marker, frame: Math.max(0, Math.round(marker.frame + ((line - marker.frame) * pullPercent) / 100)) };
  });
  return pulled.filter((marker, index) => index === 0 || marker.frame > pulled[index - 1]!.frame);
}

/** Markers at the places that a file names; one at 0 when the first of them lies later. */
export function cutAtCues(frames: readonly number[], sourceFrames: number): Marker[] {
  const inside = [...new Set(frames.map(Math.round))]
    .filter((frame) => frame >= 0 && frame < sourceFrames)
    .sort((a, b) => a - b);
  if (inside[0] !== 0) inside.unshift(0);
  return inside.map((frame) => ({ frame, strength: 1 }));
}

/** Markers that divide a range into `count` equal parts, each moved to the nearest zero crossing within 1 ms. */
export function cutEqually(
  analysis: SourceAnalysis,
  count: number,
  startFrame = 0,
  endFrame = analysis.mono.length,
): Marker[] {
  if (!Number.isInteger(count) || count < 1 || count > MAX_SLICES) {
    throw new RangeError(`count is ${count}; it must be a whole number from 1 to ${MAX_SLICES}`);
  }
  const length = endFrame - startFrame;
  return snapped(
    analysis,
    Array.from({ length: Math.min(count, length) }, (_, part) => Math.round(startFrame + (length * part) / count)),
  );
}

function snapped(analysis: SourceAnalysis, frames: readonly number[]): Marker[] {
  const reach = Math.round((SNAP_REACH_MS / 1000) * analysis.sampleRate);
  const markers: Marker[] = [];
  for (const frame of frames) {
    const at = nearestZeroCrossing(analysis.mono, frame, reach);
    if (at > (markers.at(-1)?.frame ?? -1)) markers.push({ frame: at, strength: 1 });
  }
  return markers;
}

export interface PitchCut {
  /** Notes shorter than this are joined to the note before, in milliseconds. */
  minLengthMs: number;
}

/** Markers where a new note begins: at hits, and where the pitch moves to another note without one. */
export function cutByPitch(analysis: SourceAnalysis, { minLengthMs }: PitchCut): Marker[] {
  const { mono, sampleRate } = analysis;
  const minGap = (minLengthMs / 1000) * sampleRate;
  const size = 2 ** Math.round(Math.log2(0.046 * sampleRate));
  const hop = Math.round(0.01 * sampleRate);
  const steps: Marker[] = [];
  let note: number | null = null;
  let candidate: number | null = null;
  let candidateSince = 0;
  for (let frame = 0; frame + size <= mono.length; frame += hop) {
    const at = windowPitch(mono, sampleRate, frame, size);
    const heard = at.clarity >= 0.85 ? Math.round(at.note) : null;
    if (heard === null || heard === note) {
      candidate = null;
    } else if (heard !== candidate) {
      candidate = heard;
      candidateSince = frame;
    } else if (frame - candidateSince >= hop * 2) {
      // The window sees the new note when it fills about half of it.
      if (note !== null) steps.push({ frame: candidateSince + size / 2, strength: 0.5 });
      note = heard;
      candidate = null;
    }
  }
  const hits = selectOnsets(analysis.onsets, sampleRate, { sensitivity: 0.6, minGapMs: minLengthMs });
  const markers: Marker[] = hits.map(({ frame, strength }) => ({ frame, strength }));
  const reach = Math.max(minGap, size);
  for (const step of steps) {
    if (markers.every((marker) => Math.abs(marker.frame - step.frame) > reach)) {
      markers.push({ ...step, frame: zeroCrossingBefore(mono, step.frame, Math.round(0.005 * sampleRate)) });
    }
  }
  markers.sort((a, b) => a.frame - b.frame);
  const kept: Marker[] = [];
  for (const marker of markers) if (marker.frame - (kept.at(-1)?.frame ?? -Infinity) >= minGap) kept.push(marker);
  if (kept.length === 0 || hasLeadIn(mono, kept[0]!.frame, sampleRate)) kept.unshift({ frame: 0, strength: 0 });
  return kept;
}
