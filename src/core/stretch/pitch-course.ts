/** How the pitch of a voice or another single line goes over time, moment by moment. */
import { windowPitch } from '../analysis/pitch.ts';

/** Moments are so far apart. */
export const COURSE_STEP_SECONDS = 0.005;
const WINDOW_SECONDS = 0.046;
/** Below this note a window holds too few periods, and a longer one is taken. */
const LOW_NOTE = 45;
const LOW_WINDOW_SECONDS = 0.093;
const CLEAR = 0.8;
/** Without a pitch for less than this, it goes on between what is before and after. */
const LONGEST_GAP_SECONDS = 0.04;
/** A jump that comes back so soon was a wrong reading. */
const MEDIAN_OF = 7;

export interface PitchCourse {
  /** MIDI notes, fractions too, one each {@link COURSE_STEP_SECONDS}; NaN where there is no pitch. */
  notes: Float64Array;
  /** The middle one of all that were heard; null where none was. */
  middle: number | null;
  /** Share of the time that has a pitch, 0..1. */
  heardShare: number;
}

/** @param signal one channel */
export function* pitchCourse(signal: Float32Array, sampleRate: number): Generator<number, PitchCourse> {
  const quick = yield* track(signal, sampleRate, WINDOW_SECONDS, 0.5);
  const first = middleOf(quick);
  const isLow = first === null || first < LOW_NOTE;
  const raw = isLow ? yield* track(signal, sampleRate, LOW_WINDOW_SECONDS, 0.5) : quick;
  const notes = withoutGaps(steadied(raw), Math.round(LONGEST_GAP_SECONDS / COURSE_STEP_SECONDS));
  const heard = notes.filter((note) => !Number.isNaN(note)).length;
  return { notes, middle: middleOf(notes), heardShare: notes.length === 0 ? 0 : heard / notes.length };
}

function* track(
  signal: Float32Array,
  sampleRate: number,
  windowSeconds: number,
  share: number,
): Generator<number, Float64Array> {
  const size = 2 ** Math.round(Math.log2(windowSeconds * sampleRate));
  const padded = new Float32Array(signal.length + 2 * size);
  padded.set(signal, size);
  const step = COURSE_STEP_SECONDS * sampleRate;
  const notes = new Float64Array(Math.ceil(signal.length / step));
  for (let i = 0; i < notes.length; i++) {
    const { note, clarity } = windowPitch(padded, sampleRate, Math.round(i * step) + size / 2, size);
    notes[i] = clarity >= CLEAR ? note : NaN;
    if (i % 100 === 0) yield (share * i) / notes.length;
  }
  return notes;
}

function middleOf(notes: Float64Array): number | null {
  const heard = notes.filter((note) => !Number.isNaN(note)).sort();
  return heard[Math.floor(heard.length / 2)] ?? null;
}

/** What stands alone far from its neighbours, an octave mostly, becomes what they are. */
function steadied(notes: Float64Array): Float64Array {
  const half = Math.floor(MEDIAN_OF / 2);
  return notes.map((note, i) => {
    if (Number.isNaN(note)) return note;
    const middle = middleOf(notes.slice(Math.max(0, i - half), i + half + 1))!;
    return Math.abs(note - middle) > 2 ? middle : note;
  });
}

function withoutGaps(notes: Float64Array, longest: number): Float64Array {
  const out = notes.slice();
  let last = -1;
  for (const [i, note] of notes.entries()) {
    if (Number.isNaN(note)) continue;
    const gap = i - last - 1;
    if (last >= 0 && gap > 0 && gap <= longest)
      for (let k = 1; k <= gap; k++) out[last + k] = notes[last]! + ((note - notes[last]!) * k) / (gap + 1);
    last = i;
  }
  return out;
}
