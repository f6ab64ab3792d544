/** Peak levels at several scales, so that any zoom can be drawn in the time of a few values a pixel. */
import { frameCount, type AudioData } from './audio.ts';

/** Frames in one value of the finest level. */
export const FINEST_PEAK_FRAMES = 64;
const SCALE = 4;
/** Stretches of the skyline that the shelf shows. */
export const SHELF_SKYLINE_STRETCHES = 96;

/** Largest absolute sample over all channels: `levels[k][i]` covers `64 * 4^k` frames. */
export interface PeakPyramid {
  frames: number;
  levels: Float32Array[];
}

/** Measures all levels; the coarsest has at most some hundred values. */
export function buildPeaks(audio: AudioData): PeakPyramid {
  const frames = frameCount(audio);
  const finest = new Float32Array(Math.ceil(frames / FINEST_PEAK_FRAMES));
  for (const channel of audio.channels) {
    for (let i = 0; i < frames; i++) {
      const level = Math.abs(channel[i]!);
      const at = (i / FINEST_PEAK_FRAMES) | 0;
      if (level > finest[at]!) finest[at] = level;
    }
  }
  const levels = [finest];
  for (let below = finest; below.length > 512;) {
    const next = new Float32Array(Math.ceil(below.length / SCALE));
    below.forEach((value, i) => {
      const at = (i / SCALE) | 0;
      if (value > next[at]!) next[at] = value;
    });
    levels.push(next);
    below = next;
  }
  return { frames, levels };
}

/** Peak between two frames, from the coarsest level that is fine enough for the stretch. */
export function peakBetween(peaks: PeakPyramid, startFrame: number, endFrame: number): number {
  const span = endFrame - startFrame;
  let level = 0;
  while (level + 1 < peaks.levels.length && FINEST_PEAK_FRAMES * SCALE ** (level + 1) <= span / 2) level++;
  const values = peaks.levels[level]!;
  const framesEach = FINEST_PEAK_FRAMES * SCALE ** level;
  const from = Math.max(0, Math.floor(startFrame / framesEach));
  // The end is rounded down as the start is, but for the sound's own: neighbours share nothing, and a slice does not show
  // the attack of the next one.
  const end = endFrame >= peaks.frames ? values.length : Math.floor(endFrame / framesEach);
  const to = Math.min(values.length, Math.max(from + 1, end));
  let peak = 0;
  for (let i = from; i < to; i++) if (values[i]! > peak) peak = values[i]!;
  return peak;
}

/** Peaks of `stretches` equal parts of the whole, 0..1 in thousandths: a skyline small enough for a list. */
export function skylineOf(peaks: PeakPyramid, stretches: number): number[] {
  return Array.from({ length: stretches }, (_, i) => {
    const level = peakBetween(peaks, (peaks.frames * i) / stretches, (peaks.frames * (i + 1)) / stretches);
    return Math.min(1, Math.round(level * 1000) / 1000);
  });
}
