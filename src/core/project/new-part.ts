/** From what the analysis read to what the document holds. */
import type { SliceFacts } from '../analysis/analyse-source.ts';
import type { Marker } from '../analysis/cut.ts';
import type { TempoReading } from '../analysis/tempo.ts';
import type { FoundSlice } from './commands/cut.ts';
import type { Loop } from '../document/schema.ts';

/** A sound with several hits and no reading is taken for a bar of about this tempo: somebody cut it out of a loop. */
const GUESSED_BPM = 120;
const MAX_GUESSED_BEATS = 16;

/**
 * The loop by its likeliest reading.
 * @param isHit it is a single hit or note (see analysis/single-hit.ts)
 * @returns null for a hit: it is ready for a key as it is
 */
export function likeliestLoop(
  readings: readonly TempoReading[],
  frames: number,
  sampleRate: number,
  isHit: boolean,
): Loop | null {
  if (isHit) return null;
  const best = readings[0];
  if (best) {
    const { startFrame, endFrame, bars, beatsPerBar } = best;
    return { startFrame, endFrame: Math.min(frames, endFrame), bars, beatsPerBar };
  }
  const seconds = frames / sampleRate;
  const beats = Math.max(1, Math.min(MAX_GUESSED_BEATS, Math.round((seconds * GUESSED_BPM) / 60)));
  return { startFrame: 0, endFrame: frames, bars: 1, beatsPerBar: beats };
}

/** A hit so little before a loop's start belongs to it: a reading tells where the beat is, not where its attack begins. */
const NEAR_SECONDS = 0.05;

/**
 * A loop that begins with the first hit near its start, as long as before as far as the sound goes: a hit that lies just
 * outside would not be played in the loop's own order.
 * @param starts of the slices, in frames
 */
export function withNearHits(loop: Loop, starts: readonly number[], frames: number, sampleRate: number): Loop {
  const near = starts.filter(
    (start) => start < loop.startFrame && loop.startFrame - start <= NEAR_SECONDS * sampleRate,
  );
  if (near.length === 0) return loop;
  const startFrame = Math.min(...near);
  return { ...loop, startFrame, endFrame: Math.min(frames, loop.endFrame - (loop.startFrame - startFrame)) };
}

/** Markers with what was heard after each. @param facts one for each marker */
export function foundSlices(markers: readonly Marker[], facts: readonly SliceFacts[]): FoundSlice[] {
  return markers.map(({ frame, strength }, index) => ({ startFrame: frame, strength, ...facts[index]! }));
}
