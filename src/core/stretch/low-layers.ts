/**
 * The bass of drums, hit by hit. Below 200 Hz one wave is as long as an attack: a hi-hat that is copied with the tail of
 * the kick drum under it brings that tail along in the phase and at the level of its old time, and that moves the attack
 * itself. So the bass is taken apart: what rings when an attack comes is predicted, taken out from under it, and goes on
 * where its own hit has gone. What holds (a bass line) is left alone.
 */
import { predictOn } from '../dsp/linear-prediction.ts';
import { addSamples } from '../dsp/mixing.ts';
import { runningMeans } from '../dsp/running-means.ts';

type Stereo = readonly [left: Float32Array, right: Float32Array];

/** Three means over this are a low-pass filter: 6 dB down at 200 Hz, 28 dB at 400. */
const SPAN_SECONDS = 0.0018;
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
const MIN_PACE_NEPERS = 40 / 8.686;
/** Shorter segments do not tell; they are like the one before. */
const TELLING_SECONDS = 0.04;
/** Softer than this (-60 dB) there is no bass. */
const SILENT_POWER = 1e-6;
/** What holds may be left of at most this share of the power (-20 dB) where a hit is taken apart: it would be cut off. */
const MAX_SUSTAINED = 0.01;

/** Something to be added to a channel from a frame of the result on. */
export interface Layer {
  startFrame: number;
  samples: Float32Array;
  gain: 1 | -1;
}

/** A sound without the bass that goes its own way, and of what that bass is made up in its new places, for each channel. */
export interface PartedLows {
  body: Stereo;
  lows: readonly (readonly Layer[])[];
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
  const basses = channels.map((channel) => runningMeans(channel, span));
  const areApart = whatDiesAway(basses, sampleRate, places, targets);
  if (!areApart.includes(true)) return null;
  const early = Math.round(EARLY_SECONDS * sampleRate);
  const parts = basses.map((bass, side) => {
    const body = channels[side]!.slice();
    const low: Layer[] = [];
    let ringing = NOTHING;
    for (const [i, isApart] of areApart.entries()) {
      const [from, to] = [places[i]!, places[i + 1]!];
      const earlier = between(ringing, from);
      if (!isApart) {
        const under = between(ringing, from, to);
        addSamples(body, under.from, under.samples, -1);
        continue;
      }
      const known = i + 1 < areApart.length ? Math.max(from, to - early) : to;
      const shift = targets[i]! - from;
      // Where the next attack comes later than it came, the bass is to ring until it is there, and then some.
      const wait = Math.max(0, targets[i + 1]! - shift - to);
      ringing = known < to ? ringOn(bass, sampleRate, from, known, wait + RING_SECONDS * sampleRate) : NOTHING;
      const lasting = bass.subarray(from, known);
      const under = between(ringing, known, to);
      addSamples(body, from, lasting, -1);
      addSamples(body, under.from, under.samples, -1);
      low.push({ startFrame: from + shift, samples: lasting, gain: 1 });
      low.push({ startFrame: known + shift, samples: ringing.samples, gain: 1 });
      // What rang when this attack came is in its bass too, and has gone its own way.
      low.push({ startFrame: earlier.from + shift, samples: earlier.samples, gain: -1 });
    }
    return { body, low };
  });
  const [left, right = left] = parts;
  return { body: [left!.body, right!.body], lows: parts.map(({ low }) => low) };
}

/** What of a ringing lies between two frames. */
function between({ from, samples }: Ringing, first: number, end = Infinity): Ringing {
  const start = Math.max(from, first);
  return { from: start, samples: samples.subarray(start - from, Math.max(0, end - from)) };
}

/** For each segment: whether its bass dies away before the next attack, at the old time and at the new. */
function whatDiesAway(
  basses: readonly Float32Array[],
  sampleRate: number,
  places: readonly number[],
  targets: readonly number[],
): boolean[] {
  const power = (from: number, to: number) =>
    basses.reduce((sum, bass) => sum + meanSquare(bass.subarray(Math.max(0, from), Math.max(0, to))), 0);
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
    const wouldCut = i > 0 && !areApart[i - 1] && before > MAX_SUSTAINED * first;
    areApart.push(first < SILENT_POWER || (paceNepers > MIN_PACE_NEPERS && !wouldCut));
  }
  return areApart;
}

function meanSquare(samples: Float32Array | Float64Array): number {
  let sum = 0;
  for (let i = 0; i < samples.length; i++) sum += samples[i]! * samples[i]!;
  return sum / Math.max(1, samples.length);
}

/** How a bass, known between two frames, goes on for `frames` after the second, fading out in the end. */
function ringOn(bass: Float32Array, sampleRate: number, from: number, until: number, frames: number): Ringing {
  const step = Math.max(1, Math.round(sampleRate / STEP_HZ));
  const known = Math.min(MEMORY_SECONDS * sampleRate, until - from - SETTLED_SECONDS * sampleRate);
  const past = new Float64Array(Math.max(0, Math.floor(known / step)));
  for (let k = 0; k < past.length; k++) past[k] = bass[until - 1 - (past.length - 1 - k) * step]!;
  const order = Math.min(ORDER, Math.floor(past.length / 3));
  if (past.length > 0 && meanSquare(past) < SILENT_POWER) return NOTHING;
  const steps = Math.round(frames / step);
  const next = order < 2 ? null : predictOn(past, order, steps + 2);
  if (!next) return { from: until, samples: fadeFrom(bass[until - 1] ?? 0, Math.round(EARLY_SECONDS * sampleRate)) };
  const points = new Float64Array(steps + 4);
  points.set(past.subarray(-2));
  points.set(next, 2);
  const fade = Math.min(points.length, Math.round((FADE_SECONDS * sampleRate) / step));
  for (let k = 0; k < fade; k++) points[points.length - 1 - k]! *= 0.5 - 0.5 * Math.cos((Math.PI * k) / fade);
  const samples = new Float32Array(steps * step);
  for (let k = 0; k < steps; k++) fillBetween(samples.subarray(k * step, (k + 1) * step), points, k);
  return { from: until, samples };
}

/** Cubic from the second to the third of four points, which it reaches with the last sample. */
function fillBetween(samples: Float32Array, points: Float64Array, first: number): void {
  const before = points[first]!;
  const from = points[first + 1]!;
  const to = points[first + 2]!;
  const after = points[first + 3]!;
  const slope = (to - before) / 2;
  const bend = before - 2.5 * from + 2 * to - after / 2;
  const twist = (after - before + 3 * (from - to)) / 2;
  const share = 1 / samples.length;
  for (let i = 0; i < samples.length; i++) {
    const t = (i + 1) * share;
    samples[i] = from + t * (slope + t * (bend + t * twist));
  }
}

/** What cannot be predicted ends softly. */
function fadeFrom(value: number, frames: number): Float32Array {
  return Float32Array.from({ length: frames }, (_, i) => value * (0.5 + 0.5 * Math.cos((Math.PI * (i + 1)) / frames)));
}
