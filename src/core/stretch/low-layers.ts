/**
 * The bass of drums, hit by hit. Below 200 Hz one wave is as long as an attack: a hi-hat that is copied with the tail of
 * the kick drum under it brings that tail along in the phase and at the level of its old time, and that moves the attack
 * itself. So the bass is taken apart: what rings when an attack comes is predicted, taken out from under it, and goes on
 * where its own hit has gone. What holds (a bass line) is left alone.
 */
import { predictOn } from '../dsp/linear-prediction.ts';
import { runningMeans } from '../dsp/running-means.ts';

type Stereo = readonly [left: Float32Array, right: Float32Array];

/** Three means over this are a low-pass filter: 6 dB down at 200 Hz, 28 dB at 400. */
const SPAN_SECONDS = 0.0018;
const MEANS = 3;
/** An attack is in sight of the filter so long before it comes, and all of it that is sudden has passed so long after. */
const EARLY_SECONDS = 0.003;
const SETTLED_SECONDS = 0.008;
/** What rings is predicted from so much before an attack, in steps of about this rate, and for so long. */
const MEMORY_SECONDS = 0.05;
const STEP_HZ = 1378;
const RING_SECONDS = 0.15;
const FADE_SECONDS = 0.08;
const ORDER = 8;
/** What dies away slower than this (40 dB a second) holds. */
const LEAST_PACE_NEPERS = 40 / 8.686;
/** Shorter segments do not tell; they are like the one before. */
const TELLING_SECONDS = 0.04;
/** Softer than this (-60 dB) there is no bass. */
const SILENT_POWER = 1e-6;
/** What holds may be left of at most this share of the power (-20 dB) where a hit is taken apart: it would be cut off. */
const MOST_HELD = 0.01;

/** A sound without the bass that goes its own way, and that bass in its new places, channel by channel. */
export interface PartedLows {
  body: Stereo;
  lows: readonly Float32Array[];
}

/** What goes on ringing, from a frame of the source on. */
interface Ringing {
  from: number;
  samples: Float32Array;
}
const NOTHING: Ringing = { from: 0, samples: new Float32Array(0) };

/**
 * @param places frames of the attacks in the source, rising from 0, and its end
 * @param targets the same in the result
 * @returns null where no bass goes its own way
 */
export function partLows(
  source: Stereo,
  sampleRate: number,
  places: readonly number[],
  targets: readonly number[],
): PartedLows | null {
  const channels = source[0] === source[1] ? [source[0]] : source;
  const span = 2 * Math.round((SPAN_SECONDS * sampleRate) / 2) - 1;
  const basses = channels.map((channel) => runningMeans(channel, span, MEANS));
  const areApart = whatDiesAway(basses, sampleRate, places, targets);
  if (!areApart.includes(true)) return null;
  const early = Math.round(EARLY_SECONDS * sampleRate);
  const outFrames = targets.at(-1)!;
  const parts = basses.map((bass, side) => {
    const body = channels[side]!.slice();
    const low = new Float32Array(outFrames);
    let ringing = NOTHING;
    for (const [i, isApart] of areApart.entries()) {
      const [from, to] = [places[i]!, places[i + 1]!];
      if (!isApart) {
        addRinging(body, ringing, from, to, 0, -1);
        continue;
      }
      const known = i + 1 < areApart.length ? Math.max(from, to - early) : to;
      const shift = targets[i]! - from;
      // Where the next attack comes later than it came, the bass is to ring until it is there, and then some.
      const wait = Math.max(0, targets[i + 1]! - shift - to);
      const next = known < to ? ringOn(bass, sampleRate, from, known, wait + RING_SECONDS * sampleRate) : NOTHING;
      const end = Math.min(known, outFrames - shift);
      for (let at = from; at < known; at++) body[at]! -= bass[at]!;
      for (let at = from; at < end; at++) low[at + shift]! += bass[at]!;
      addRinging(body, next, known, to, 0, -1);
      addRinging(low, next, known, Infinity, shift, 1);
      addRinging(low, ringing, from, Infinity, shift, -1);
      ringing = next;
    }
    return { body, low };
  });
  const [left, right = left] = parts;
  return { body: [left!.body, right!.body], lows: parts.map(({ low }) => low) };
}

/** Adds what rings between two frames of the source to a channel, `shift` frames later. */
function addRinging(
  channel: Float32Array,
  { from, samples }: Ringing,
  first: number,
  end: number,
  shift: number,
  gain: number,
): void {
  const last = Math.min(end, from + samples.length, channel.length - shift);
  for (let at = Math.max(first, from); at < last; at++) channel[at + shift]! += gain * samples[at - from]!;
}

/** For each segment: whether its bass dies away before the next attack, at the old time and at the new. */
function whatDiesAway(
  basses: readonly Float32Array[],
  sampleRate: number,
  places: readonly number[],
  targets: readonly number[],
): boolean[] {
  const power = (from: number, to: number) => {
    let sum = 0;
    for (const bass of basses) for (let at = Math.max(0, from); at < to; at++) sum += bass[at]! ** 2;
    return sum / Math.max(1, to - from);
  };
  const areApart: boolean[] = [];
  for (let i = 0; i + 1 < places.length; i++) {
    const start = places[i]!;
    const from = start + Math.round(SETTLED_SECONDS * sampleRate);
    // A note that ends by itself later than the next attack comes has not died away.
    const length = Math.min(places[i + 1]! - start, targets[i + 1]! - targets[i]!);
    const half = (start + length - Math.round(EARLY_SECONDS * sampleRate) - from) >> 1;
    if (half < (TELLING_SECONDS * sampleRate) / 2) {
      areApart.push(areApart[i - 1] ?? false);
      continue;
    }
    const first = power(from, from + half);
    const second = power(from + half, from + 2 * half);
    const paceNepers = (0.5 * Math.log((first + 1e-15) / (second + 1e-15)) * sampleRate) / half;
    const before = power(
      start - 2 * Math.round(EARLY_SECONDS * sampleRate),
      start - Math.round(EARLY_SECONDS * sampleRate),
    );
    const wouldCut = i > 0 && !areApart[i - 1] && before > MOST_HELD * first;
    areApart.push(first < SILENT_POWER || (paceNepers > LEAST_PACE_NEPERS && !wouldCut));
  }
  return areApart;
}

/** How a bass, known between two frames, goes on for `frames` after the second, fading out in the end. */
function ringOn(bass: Float32Array, sampleRate: number, from: number, until: number, frames: number): Ringing {
  const step = Math.max(1, Math.round(sampleRate / STEP_HZ));
  const known = Math.min(MEMORY_SECONDS * sampleRate, until - from - SETTLED_SECONDS * sampleRate);
  const past = new Float64Array(Math.max(0, Math.floor(known / step)));
  for (let k = 0; k < past.length; k++) past[k] = bass[until - 1 - (past.length - 1 - k) * step]!;
  const order = Math.min(ORDER, Math.floor(past.length / 3));
  const power = past.reduce((sum, value) => sum + value * value, 0);
  if (power < SILENT_POWER * past.length) return NOTHING;
  const steps = Math.round(frames / step);
  const next = order < 2 ? null : predictOn(past, order, steps + 2);
  if (!next) return { from: until, samples: fadeFrom(bass[until - 1] ?? 0, Math.round(EARLY_SECONDS * sampleRate)) };
  const samples = new Float32Array(steps * step);
  const points = new Float64Array(steps + 4);
  points.set(past.subarray(-2));
  points.set(next, 2);
  const fade = Math.min(points.length, Math.round((FADE_SECONDS * sampleRate) / step));
  for (let k = 0; k < fade; k++) points[points.length - 1 - k]! *= 0.5 - 0.5 * Math.cos((Math.PI * k) / fade);
  for (let k = 0; k < steps; k++) {
    // Cubic between the steps, through all of them.
    const [a, b, c, d] = [points[k]!, points[k + 1]!, points[k + 2]!, points[k + 3]!];
    const slope = (c - a) / 2;
    const bend = a - 2.5 * b + 2 * c - d / 2;
    const twist = (d - a + 3 * (b - c)) / 2;
    for (let i = 0; i < step; i++) {
      const t = (i + 1) / step;
      samples[k * step + i] = b + t * (slope + t * (bend + t * twist));
    }
  }
  return { from: until, samples };
}

/** What cannot be predicted ends softly. */
function fadeFrom(value: number, frames: number): Float32Array {
  return Float32Array.from({ length: frames }, (_, i) => value * (0.5 + 0.5 * Math.cos((Math.PI * (i + 1)) / frames)));
}
