/**
 * The note that a sound has, by the McLeod pitch method (P. McLeod and G. Wyvill, "A smarter way to find pitch", ICMC
 * 2005) of the package pitchy, taken over several windows.
 */
import { PitchDetector } from 'pitchy';
import { hzToMidi } from '../units/pitch.ts';

export interface Pitch {
  /** Nearest MIDI note. */
  midi: number;
  /** Distance from it, -50..50. */
  cents: number;
  /** Mean clarity of the windows that agree, 0..1. */
  confidence: number;
}

const LOWEST_HZ = 26;
const HIGHEST_HZ = 4200;
/** Below this clarity a window has no pitch. */
const CLEAR = 0.88;
const MAX_WINDOWS = 9;

const detectors = new Map<number, PitchDetector<Float32Array>>();

function detectorFor(size: number): PitchDetector<Float32Array> {
  let detector = detectors.get(size);
  if (!detector) {
    detector = PitchDetector.forFloat32Array(size);
    detectors.set(size, detector);
  }
  return detector;
}

/**
 * Reads the pitch of `signal[startFrame..endFrame)`.
 * @returns null when the range is shorter than about 25 ms or has no steady pitch
 */
export function measurePitch(
  signal: Float32Array,
  sampleRate: number,
  startFrame: number,
  endFrame: number,
): Pitch | null {
  const windows = pitchTrack(signal, sampleRate, startFrame, endFrame).filter((at) => at.clarity >= CLEAR);
  if (windows.length === 0) return null;
  const notes = windows.map((at) => at.note).sort((a, b) => a - b);
  const middle = notes[Math.floor(notes.length / 2)]!;
  const agreeing = windows.filter((at) => Math.abs(at.note - middle) < 0.6);
  if (agreeing.length < Math.max(1, windows.length * 0.5)) return null;
  const weight = agreeing.reduce((sum, at) => sum + at.clarity, 0);
  const note = agreeing.reduce((sum, at) => sum + at.note * at.clarity, 0) / weight;
  const midi = Math.round(note);
  if (midi < 0 || midi > 127) return null;
  return { midi, cents: Math.round((note - midi) * 1000) / 10, confidence: weight / agreeing.length };
}

/** Pitch in one window: fractional MIDI note and how periodic the window is. */
export interface PitchWindow {
  frame: number;
  note: number;
  clarity: number;
}

function pitchTrack(signal: Float32Array, sampleRate: number, startFrame: number, endFrame: number): PitchWindow[] {
  const wanted = 2 ** Math.round(Math.log2(0.09 * sampleRate));
  let size = wanted;
  while (size > 512 && size > (endFrame - startFrame) * 0.8) size /= 2;
  const room = endFrame - startFrame - size;
  if (room < 0 || size < 0.02 * sampleRate) return [];
  const first = startFrame + Math.min(room, Math.round(0.03 * sampleRate));
  const span = Math.min(endFrame - size - first, Math.round(0.6 * sampleRate));
  const count = Math.max(1, Math.min(MAX_WINDOWS, Math.floor((span / size) * 2) + 1));
  return Array.from({ length: count }, (_, index) => {
    const frame = first + (count > 1 ? Math.round((span * index) / (count - 1)) : 0);
    return windowPitch(signal, sampleRate, frame, size);
  });
}

/** Pitch of the `size` frames from `frame`; clarity 0 where there is silence or no note in range. */
export function windowPitch(signal: Float32Array, sampleRate: number, frame: number, size: number): PitchWindow {
  const part = signal.slice(frame, frame + size);
  let peak = 0;
  for (const sample of part) peak = Math.max(peak, Math.abs(sample));
  if (part.length < size || peak < 1e-4) return { frame, note: 0, clarity: 0 };
  const [hz, clarity] = detectorFor(size).findPitch(part, sampleRate);
  if (!(hz >= LOWEST_HZ && hz <= HIGHEST_HZ)) return { frame, note: 0, clarity: 0 };
  return { frame, note: hzToMidi(hz), clarity };
}
