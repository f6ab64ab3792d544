/** From what the analysis read to what the document holds. */
import type { SliceFacts } from '../analysis/analyse-source.ts';
import type { Marker } from '../analysis/cut.ts';
import type { TempoReading } from '../analysis/tempo.ts';
import type { FoundSlice } from './commands/cut.ts';
import type { Loop } from './schema.ts';

/** The loop by its likeliest reading; a sound that is no loop counts as one bar of four. */
export function likeliestLoop(readings: readonly TempoReading[], frames: number): Loop {
  const best = readings[0];
  if (!best) return { startFrame: 0, endFrame: frames, bars: 1, beatsPerBar: 4 };
  const { startFrame, endFrame, bars, beatsPerBar } = best;
  return { startFrame, endFrame: Math.min(frames, endFrame), bars, beatsPerBar };
}

/** Markers with what was heard after each. @param facts one for each marker */
export function foundSlices(markers: readonly Marker[], facts: readonly SliceFacts[]): FoundSlice[] {
  return markers.map(({ frame, strength }, index) => ({ startFrame: frame, strength, ...facts[index]! }));
}
