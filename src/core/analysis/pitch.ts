/**
 * The note that a sound has, by the McLeod pitch method (P. McLeod and G. Wyvill, "A smarter way to find pitch", ICMC
 * 2005) of the package pitchy, taken over several windows.
 */
import { PitchDetector } from 'pitchy';
import { hannWindow } from '../dsp/hann-window.ts';
import { hzToMidi, midiToHz } from '../units/pitch.ts';

export interface Pitch {
  /** Nearest MIDI note. */
  midi: number;
  /** Distance from it, -50..50. */
  cents: number;
  /** Mean clarity of the windows that agree, 0..1. */
  confidence: number;
}

/** Rate at which a note is first looked for, and the highest note that is found well enough there. */
const COARSE_RATE_HZ = 11025;
const HIGHEST_COARSE_HZ = 900;
const COARSE_CLEAR = 0.8;
/** A shorter period counts when it is nearly as clear (McLeod and Wyvill's constant k). */
const SAME_PERIOD = 0.93;
const SILENT_PEAK = 1e-4;
const LOWEST_HZ = 26;
const HIGHEST_HZ = 4200;
/** Below this clarity a window has no pitch. */
const CLEAR = 0.88;
/** Windows looked at in a slice, and where a single note is to be read as exactly as can be. */
export const QUICK_WINDOWS = 3;
export const THOROUGH_WINDOWS = 9;
const QUICK_SECONDS = 0.046;
const THOROUGH_SECONDS = 0.09;

/** Of so many partials these hold at least that share of the power in a note, looked at over so many periods. */
const PARTIALS = 10;
const MOST_PARTIALS = 13;
const LOW_PARTIALS = 3;
const LOW_SHARE = 0.01;
/** A chord has so many tones, none of which is weaker than this beside the loudest. */
const FEWEST_TONES = 3;
const TONE_SHARE = 0.05;
/** Partials that no just chord of small numbers has (2:3:4:5 is an open major triad), and those that it has above its tones. */
const LEFT_OUT = [7, 11, 13];
const OF_TONES = [6, 8, 9, 10, 12];
const FEWEST_OF_TONES = 3;
/** Beside the loudest tone, and beside the third of those. */
const OF_TONES_SHARE = 0.0025;
const LEFT_OUT_SHARE = 0.1;
const CHORD_PERIODS = 8;
const FEWEST_PERIODS = 4;

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
 * @param windowCount windows at most: {@link QUICK_WINDOWS} for slices, more for exactness
 * @returns null when the range is shorter than about 25 ms or has no steady pitch
 */
export function measurePitch(
  signal: Float32Array,
  sampleRate: number,
  startFrame: number,
  endFrame: number,
  windowCount = THOROUGH_WINDOWS,
): Pitch | null {
  const windows = pitchTrack(signal, sampleRate, startFrame, endFrame, windowCount).filter((at) => at.clarity >= CLEAR);
  if (windows.length === 0) return null;
  const notes = windows.map((at) => at.note).sort((a, b) => a - b);
  const middle = notes[Math.floor(notes.length / 2)]!;
  const agreeing = windows.filter((at) => Math.abs(at.note - middle) < 0.6);
  if (agreeing.length < Math.max(1, windows.length * 0.5)) return null;
  const weight = agreeing.reduce((sum, at) => sum + at.clarity, 0);
  const note = agreeing.reduce((sum, at) => sum + at.note * at.clarity, 0) / weight;
  const midi = Math.round(note);
  if (midi < 0 || midi > 127) return null;
  const frames = agreeing.map((at) => at.frame);
  if (isChordOver(signal, sampleRate, frames, endFrame, midiToHz(note))) return null;
  return { midi, cents: Math.round((note - midi) * 1000) / 10, confidence: weight / agreeing.length };
}

/**
 * Tones of a chord have a common period, too, one and more octaves below them (4:5:6 is a major triad, 2:3:4:5 an open
 * one). But nothing sounds where a note has its first partials, and some of the others are left out.
 */
function isChordOver(
  signal: Float32Array,
  sampleRate: number,
  frames: readonly number[],
  endFrame: number,
  hz: number,
): boolean {
  const windowAt = (frame: number) => {
    const size = Math.min(endFrame - frame, Math.round((CHORD_PERIODS * sampleRate) / hz));
    return size * hz < FEWEST_PERIODS * sampleRate ? [] : [partialPowers(signal, sampleRate, frame, size, hz)];
  };
  const [middle] = windowAt(frames[frames.length >> 1]!);
  if (!middle) return false;
  if (isCloseChord(middle)) return true;
  // All windows together: tones that beat against each other are away now and then.
  const windows = frames.flatMap(windowAt);
  return isOpenTriad(middle.map((_, i) => windows.reduce((total, powers) => total + powers[i]!, 0)));
}

/** Powers of the first partials of a note. */
function partialPowers(signal: Float32Array, sampleRate: number, frame: number, size: number, hz: number): number[] {
  const x = Float64Array.from(hannWindow(size), (share, i) => share * signal[frame + i]!);
  const count = Math.min(MOST_PARTIALS, Math.floor(sampleRate / 2 / hz));
  return Array.from({ length: count }, (_, i) => powerAt(x, (2 * Math.PI * (i + 1) * hz) / sampleRate));
}

/** Three tones and more, and nothing two octaves below them. */
function isCloseChord(powers: readonly number[]): boolean {
  const sum = (some: readonly number[]) => some.reduce((total, power) => total + power, 0);
  const high = powers.slice(LOW_PARTIALS, PARTIALS);
  const loudest = Math.max(0, ...high);
  const tones = high.filter((power) => power > TONE_SHARE * loudest).length;
  return tones >= FEWEST_TONES && sum(powers.slice(0, LOW_PARTIALS)) < LOW_SHARE * sum(high);
}

/** 2:3:4:5: its tones are the second to fifth partials of a note without its first, but their partials leave out some. */
function isOpenTriad(powers: readonly number[]): boolean {
  const at = (partial: number) => powers[partial - 1] ?? 0;
  const tones = Math.max(at(2), at(3), at(4), at(5));
  const isTriad = [2, 3, 5].every((partial) => at(partial) > TONE_SHARE * tones);
  if (!isTriad || at(1) > LOW_SHARE * tones) return false;
  const above = OF_TONES.map(at).sort((a, b) => b - a)[FEWEST_OF_TONES - 1]!;
  return above > OF_TONES_SHARE * tones && LEFT_OUT.every((partial) => at(partial) < LEFT_OUT_SHARE * above);
}

/** Power at a frequency, in radians a sample (G. Goertzel, Amer. Math. Monthly 65, 1958). */
function powerAt(x: Float64Array, omega: number): number {
  const turn = 2 * Math.cos(omega);
  let [one, two] = [0, 0];
  for (const value of x) [one, two] = [value + turn * one - two, one];
  return one * one + two * two - turn * one * two;
}

/** Pitch in one window: fractional MIDI note and how periodic the window is. */
export interface PitchWindow {
  frame: number;
  note: number;
  clarity: number;
}

function pitchTrack(
  signal: Float32Array,
  sampleRate: number,
  startFrame: number,
  endFrame: number,
  windowCount: number,
): PitchWindow[] {
  const seconds = windowCount > QUICK_WINDOWS ? THOROUGH_SECONDS : QUICK_SECONDS;
  const wanted = 2 ** Math.round(Math.log2(seconds * sampleRate));
  let size = wanted;
  while (size > 512 && size > (endFrame - startFrame) * 0.8) size /= 2;
  const room = endFrame - startFrame - size;
  if (room < 0 || size < 0.02 * sampleRate) return [];
  const first = startFrame + Math.min(room, Math.round(0.03 * sampleRate));
  const span = Math.min(endFrame - size - first, Math.round(0.6 * sampleRate));
  const count = Math.max(1, Math.min(windowCount, Math.floor((span / size) * 2) + 1));
  return Array.from({ length: count }, (_, index) => {
    const frame = first + (count > 1 ? Math.round((span * index) / (count - 1)) : 0);
    return windowPitch(signal, sampleRate, frame, size);
  });
}

/** Pitch of the `size` frames from `frame`; clarity 0 where there is silence or no note in range. */
export function windowPitch(signal: Float32Array, sampleRate: number, frame: number, size: number): PitchWindow {
  const none = { frame, note: 0, clarity: 0 };
  if (frame + size > signal.length) return none;
  // The note is looked for at a quarter of the rate, and its period then measured at the whole.
  const factor = Math.max(1, Math.floor(sampleRate / COARSE_RATE_HZ));
  const coarse = new Float32Array(size / factor);
  let peak = 0;
  for (let i = 0, at = frame; i < coarse.length; i++) {
    let sum = 0;
    for (let k = 0; k < factor; k++) sum += signal[at++]!;
    coarse[i] = sum / factor;
    peak = Math.max(peak, Math.abs(coarse[i]!));
  }
  if (peak < SILENT_PEAK) return none;
  const [coarseHz, coarseClarity] = detectorFor(coarse.length).findPitch(coarse, sampleRate / factor);
  if (coarseClarity < COARSE_CLEAR || !(coarseHz >= LOWEST_HZ)) return none;
  if (coarseHz > HIGHEST_COARSE_HZ) {
    const [hz, clarity] = detectorFor(size).findPitch(signal.subarray(frame, frame + size), sampleRate);
    return hz >= LOWEST_HZ && hz <= HIGHEST_HZ ? { frame, note: hzToMidi(hz), clarity } : none;
  }
  let found = refinePeriod(signal, frame, size, sampleRate / coarseHz, factor);
  // At the coarse rate a short period may fall between samples and its double win: ask again for the parts of it.
  for (const part of [2, 3]) {
    const shorter = refinePeriod(signal, frame, size, found.lag / part, 2);
    if (shorter.clarity >= found.clarity * SAME_PERIOD) found = shorter;
  }
  return { frame, note: hzToMidi(sampleRate / found.lag), clarity: found.clarity };
}

/** Greatest normalised square difference (McLeod and Wyvill, equation 9) near a lag, with a parabola through its top. */
function refinePeriod(
  signal: Float32Array,
  frame: number,
  size: number,
  coarseLag: number,
  reach: number,
): { lag: number; clarity: number } {
  const first = Math.max(2, Math.round(coarseLag) - reach);
  const values: number[] = [];
  const x = new Float64Array(signal.subarray(frame, frame + size));
  // Squares of what is compared with a later sample, and of what with an earlier one.
  let squares = 1e-12 + energyOf(x, 0, size - first) + energyOf(x, first, size);
  for (let lag = first; lag <= Math.round(coarseLag) + reach; lag++) {
    let product = 0;
    for (let i = lag; i < size; i++) product += x[i - lag]! * x[i]!;
    values.push((2 * product) / squares);
    squares -= x[size - lag - 1]! ** 2 + x[lag]! ** 2;
  }
  let top = 0;
  values.forEach((value, index) => {
    if (value > values[top]!) top = index;
  });
  const before = values[top - 1];
  const after = values[top + 1];
  const value = values[top]!;
  if (before === undefined || after === undefined) return { lag: first + top, clarity: value };
  const bend = before - 2 * value + after;
  const shift = bend < 0 ? (0.5 * (before - after)) / bend : 0;
  return { lag: first + top + shift, clarity: Math.min(1, value - 0.25 * (before - after) * shift) };
}

function energyOf(x: Float64Array, from: number, to: number): number {
  let sum = 0;
  for (let i = from; i < to; i++) sum += x[i]! * x[i]!;
  return sum;
}
