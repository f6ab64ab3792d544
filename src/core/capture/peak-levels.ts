/** Levels of an input that is recorded as it comes, for those who draw them. */
import { gainToDb } from '../units/level.ts';

export const PEAK_HOP_FRAMES = 256;

/**
 * The loudest of each hop, of either side.
 * @returns dB, one a hop; the last hop may be shorter
 */
export function peakLevels(left: Float32Array, right: Float32Array): Float32Array {
  return Float32Array.from({ length: Math.ceil(left.length / PEAK_HOP_FRAMES) }, (_, hop) => {
    let peak = 0;
    const end = Math.min(left.length, (hop + 1) * PEAK_HOP_FRAMES);
    for (let i = hop * PEAK_HOP_FRAMES; i < end; i++) peak = Math.max(peak, Math.abs(left[i]!), Math.abs(right[i]!));
    return gainToDb(peak);
  });
}
