/** The note of a whole sound: of a single note or a slice that is to be played over the keyboard. */
import { measurePitch, type Pitch } from './pitch.ts';

/** Samples below this share of the peak at either end are left out. */
const EDGE_LEVEL = 0.02;

/** @returns null where there is no pitch: noise, drums, silence, or sounds shorter than about 25 ms */
export function readRootNote(signal: Float32Array, sampleRate: number): Pitch | null {
  let peak = 0;
  for (const sample of signal) peak = Math.max(peak, Math.abs(sample));
  if (peak === 0) return null;
  let start = 0;
  while (start < signal.length && Math.abs(signal[start]!) < peak * EDGE_LEVEL) start++;
  let end = signal.length;
  while (end > start && Math.abs(signal[end - 1]!) < peak * EDGE_LEVEL) end--;
  return measurePitch(signal, sampleRate, start, end);
}
