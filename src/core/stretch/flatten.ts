/**
 * A pitch that glides and wavers brought to one note: each period of the sound is taken out and laid down again where the
 * wanted pitch has it (F. Charpentier and M. Stella, "Diphone synthesis using an overlap-add technique for speech waveforms
 * concatenation", ICASSP 1986; E. Moulines and F. Charpentier, Speech Communication 9, 1990). What happens inside stays at
 * its time, the length stays, and what has no pitch (breath, consonants) stays as it is.
 */
import { mixForReading, type AudioData } from '../dsp/audio.ts';
import { midiToHz } from '../units/pitch.ts';
import type { Steps } from '../units/steps.ts';
import { COURSE_STEP_SECONDS, pitchCourse } from './pitch-course.ts';

export interface FlatWish {
  /** 0: as it is; 100: all of it on the note. */
  percent: number;
  /** MIDI note, fractions too; null: the key nearest to the middle of what is heard. */
  note: number | null;
  /** The sound's own colour stays (a voice stays that voice); else it moves with the pitch, as by another speed. */
  keepsFormants: boolean;
}

export interface Flattened {
  audio: AudioData;
  /** The note that it was brought to. */
  note: number;
  /** Share of the time that has a pitch, 0..1. */
  heardShare: number;
}

/** With a pitch for less of its time there is no note to bring it to. */
const LEAST_HEARD = 0.1;
/** Of what has no pitch so long pieces are taken, in seconds. */
const UNPITCHED_SECONDS = 0.005;
/** How far a period may lie from where it is expected, as a share of it. */
const SEARCH_SHARE = 0.2;
/** It is moved no further than this, in semitones. */
const FARTHEST = 24;

/** @returns null where no single note is heard in it */
export function* flattenSteps(audio: AudioData, wish: FlatWish): Steps<Flattened | null> {
  const { sampleRate } = audio;
  const signal = mixForReading(audio);
  const course = yield* pitchCourse(signal, sampleRate);
  if (course.middle === null || course.heardShare < LEAST_HEARD) return null;
  const note = wish.note ?? Math.round(course.middle);
  const noteAt = (frame: number) =>
    course.notes[Math.max(0, Math.min(course.notes.length - 1, Math.round(frame / sampleRate / COURSE_STEP_SECONDS)))]!;
  const marks = periodMarks(signal, sampleRate, noteAt);
  yield 0.7;
  const wanted = (heard: number) => {
    const to = heard + (wish.percent / 100) * (note - heard);
    return Math.max(heard - FARTHEST, Math.min(heard + FARTHEST, to));
  };
  const channels = audio.channels.map((channel) =>
    layPeriods(channel, marks, (mark) => {
      const heard = noteAt(mark);
      if (Number.isNaN(heard)) return null;
      const to = wanted(heard);
      return { period: sampleRate / midiToHz(to), faster: wish.keepsFormants ? 1 : 2 ** ((to - heard) / 12) };
    }),
  );
  return { audio: { sampleRate, channels }, note, heardShare: course.heardShare };
}

/** The beginnings of periods, each as like the one before as can be; of what has no pitch, even steps. In frames. */
function periodMarks(signal: Float32Array, sampleRate: number, noteAt: (frame: number) => number): number[] {
  const marks = [0];
  let wasPitched = false;
  for (;;) {
    const last = marks.at(-1)!;
    const note = noteAt(last);
    const isPitched = !Number.isNaN(note);
    const period = isPitched ? sampleRate / midiToHz(note) : UNPITCHED_SECONDS * sampleRate;
    const expected = last + Math.round(period);
    if (expected >= signal.length) break;
    let next = expected;
    if (isPitched)
      next = wasPitched ? mostAlike(signal, last, expected, period) : loudestNear(signal, expected, period);
    marks.push(Math.max(last + Math.max(8, Math.round(period / 2)), next));
    wasPitched = isPitched;
  }
  return marks.filter((mark) => mark < signal.length);
}

/** Where a pitch begins, its first mark stands on the loudest sample near by. */
function loudestNear(signal: Float32Array, at: number, period: number): number {
  const reach = Math.round(period / 2);
  let best = at;
  for (let i = Math.max(0, at - reach); i <= Math.min(signal.length - 1, at + reach); i++)
    if (Math.abs(signal[i]!) > Math.abs(signal[best]!)) best = i;
  return best;
}

function mostAlike(signal: Float32Array, last: number, expected: number, period: number): number {
  const half = Math.round(period / 2);
  const reach = Math.round(SEARCH_SHARE * period);
  let [best, most] = [expected, -Infinity];
  for (let at = expected - reach; at <= expected + reach; at++) {
    let [both, power] = [0, 1e-12];
    for (let i = -half; i < half; i++) {
      const value = signal[at + i] ?? 0;
      both += value * (signal[last + i] ?? 0);
      power += value * value;
    }
    // Of two that are as like, the one that is expected.
    const alike = both / Math.sqrt(power) - 1e-6 * Math.abs(at - expected);
    if (alike > most) [best, most] = [at, alike];
  }
  return best;
}

interface Laid {
  /** Frames from this period to the next, as it is wanted. */
  period: number;
  /** How much faster the piece itself is read. */
  faster: number;
}

/** @param laidAt null: it has no pitch, and stays where it is */
function layPeriods(
  channel: Float32Array,
  marks: readonly number[],
  laidAt: (mark: number) => Laid | null,
): Float32Array {
  const frames = channel.length;
  const out = new Float64Array(frames);
  const weights = new Float64Array(frames);
  let at = marks[0] ?? 0;
  let near = 0;
  while (at < frames) {
    while (near + 1 < marks.length && Math.abs(marks[near + 1]! - at) <= Math.abs(marks[near]! - at)) near++;
    const mark = marks[near]!;
    const before = mark - (marks[near - 1] ?? mark - ((marks[near + 1] ?? frames) - mark));
    const after = (marks[near + 1] ?? frames) - mark;
    const laid = laidAt(mark);
    const faster = laid?.faster ?? 1;
    // What stays is laid exactly where it was: with its neighbours it is the sound itself.
    const to = laid ? at : mark;
    lay(channel, mark, before, after, faster, to, out, weights);
    if (laid) at += laid.period;
    else {
      near++;
      if (near >= marks.length) break;
      at = marks[near]!;
    }
  }
  // Where periods lie closer than they were they would be louder.
  return Float32Array.from(out, (value, i) => value / Math.max(1, weights[i]!));
}

/** Adds a piece around a mark, faded towards both sides, with its mark at a place between frames. */
function lay(
  channel: Float32Array,
  mark: number,
  before: number,
  after: number,
  faster: number,
  to: number,
  out: Float64Array,
  weights: Float64Array,
): void {
  const [left, right] = [before / faster, after / faster];
  for (let i = Math.max(0, Math.ceil(to - left)); i < Math.min(out.length, to + right); i++) {
    const away = i - to;
    const weight = 0.5 + 0.5 * Math.cos((Math.PI * away) / (away < 0 ? left : right));
    out[i] = out[i]! + weight * readAt(channel, mark + away * faster);
    weights[i] = weights[i]! + weight;
  }
}

/** Between frames on a curve of the third degree through four (Catmull and Rom, 1974). */
function readAt(signal: Float32Array, at: number): number {
  const i = Math.floor(at);
  const x = at - i;
  const one = signal[i] ?? 0;
  if (x === 0) return one;
  const [zero, two, three] = [signal[i - 1] ?? 0, signal[i + 1] ?? 0, signal[i + 2] ?? 0];
  const [c1, c2] = [0.5 * (two - zero), zero - 2.5 * one + 2 * two - 0.5 * three];
  const c3 = 0.5 * (three - zero) + 1.5 * (one - two);
  return ((c3 * x + c2) * x + c1) * x + one;
}
