/**
 * What speaks for and against a candidate in a voice. A consonant and its vowel are two starts to anybody who listens for
 * drums, a vowel that opens is one, too; a syllable is one. So a voice has trees of its own (learning/learn-voices.ts), and
 * they are told whether the pitch goes on.
 */
import { windowPitch } from './pitch.ts';
import { lookFrames } from './voice-alone.ts';

/** The windows end this much before a candidate, and begin so much after it. */
const BEFORE_SECONDS = 0.005;
const AFTER_SECONDS = 0.012;
const CLEAR = 0.8;
const FURTHEST_SEMITONES = 12;

/**
 * The row of `onset-evidence.ts` with three numbers more: how clear the pitch is before a candidate, and after it, 0..1, and
 * how far apart the two are, in semitones; -1 where one of them is not clear.
 * @param frame of the candidate
 */
export function voiceRow(row: Float64Array, frame: number, signal: Float32Array, sampleRate: number): Float64Array {
  const size = lookFrames(sampleRate);
  const lead = size + Math.round(BEFORE_SECONDS * sampleRate);
  const after = Math.round(AFTER_SECONDS * sampleRate);
  const first = frame >= lead ? windowPitch(signal, sampleRate, frame - lead, size) : { clarity: 0, note: 0 };
  const second = windowPitch(signal, sampleRate, frame + after, size);
  const isClear = first.clarity > CLEAR && second.clarity > CLEAR;
  const apart = isClear ? Math.min(FURTHEST_SEMITONES, Math.abs(second.note - first.note)) : -1;
  return Float64Array.of(...row, first.clarity, second.clarity, apart);
}
