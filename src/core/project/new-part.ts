/** From what the analysis read to what the document holds. */
import type { SliceFacts } from '../analysis/analyse-source.ts';
import type { Marker } from '../analysis/cut.ts';
import type { TempoReading } from '../analysis/tempo.ts';
import type { FoundSlice } from './commands/cut.ts';
import type { Loop } from './schema.ts';

/** A sound with several hits and no reading is taken for a bar of about this tempo: somebody cut it out of a loop. */
const GUESSED_BPM = 120;
const MAX_GUESSED_BEATS = 16;
/** A sound with one hit is no loop, unless it is longer than this: a drone, perhaps. */
const MAX_HIT_SECONDS = 6;

/**
 * The loop by its likeliest reading.
 * @param markerCount hits that were found
 * @returns null for a single hit: it is ready for a key as it is
 */
export function likeliestLoop(
  readings: readonly TempoReading[],
  frames: number,
  sampleRate: number,
  markerCount: number,
): Loop | null {
  const seconds = frames / sampleRate;
  if (markerCount <= 1 && seconds < MAX_HIT_SECONDS) return null;
  const best = readings[0];
  if (best) {
    const { startFrame, endFrame, bars, beatsPerBar } = best;
    return { startFrame, endFrame: Math.min(frames, endFrame), bars, beatsPerBar };
  }
  if (markerCount <= 1) return null;
  const beats = Math.max(1, Math.min(MAX_GUESSED_BEATS, Math.round((seconds * GUESSED_BPM) / 60)));
  return { startFrame: 0, endFrame: frames, bars: 1, beatsPerBar: beats };
}

/** Markers with what was heard after each. @param facts one for each marker */
export function foundSlices(markers: readonly Marker[], facts: readonly SliceFacts[]): FoundSlice[] {
  return markers.map(({ frame, strength }, index) => ({ startFrame: frame, strength, ...facts[index]! }));
}
