/**
 * Where a hit begins: a little before it first stands out of the floor for good, as that is taken out. In the recordings that
 * this was set by, that moment lay between 0.6 ms before and 1.5 ms after the true start.
 */
import { locateAttack } from '../analysis/locate-attack.ts';
import type { Floor } from './floor.ts';

/** The start of a take lies so much before that moment: before the attack, and not by 2 ms. */
const BEFORE_MS = 1.48;
/** Of one that was struck into another: its start is found otherwise, and is off by less than this. */
const RESTRUCK_BEFORE_MS = 1;
/** Looked at around the place where it came over the line. */
const REACH_MS = 25;
const AFTER_MS = 8;
/** Powers of windows so long, so far apart, against the floor: certain, on its way, nothing. */
const WINDOW_SECONDS = 16 / 44_100;
const STEP_SECONDS = 4 / 44_100;
const CERTAIN = 16;
const ON_ITS_WAY = 6;
const NOTHING = 2.5;
const HARDLY = 3;

/**
 * @param mono the input around the hit
 * @param coarseFrame where it came over the line @param isRestruck while another one still rang
 * @returns a frame of `mono`, 0 at least
 */
export function takeStart(
  mono: Float32Array,
  sampleRate: number,
  coarseFrame: number,
  floor: Floor,
  isRestruck: boolean,
): number {
  const frames = (ms: number) => Math.round((ms / 1000) * sampleRate);
  if (!isRestruck) {
    const range = { from: coarseFrame - frames(REACH_MS), to: coarseFrame + frames(AFTER_MS) };
    const seen = firstSeen(mono, sampleRate, range, floor);
    if (seen !== null) return Math.max(0, seen - frames(BEFORE_MS));
  }
  const attack = locateAttack(mono, sampleRate, coarseFrame, { beforeMs: 12, afterMs: AFTER_MS });
  return Math.max(0, attack - frames(RESTRUCK_BEFORE_MS));
}

/** The first frame of a range at which something stands out of the floor that goes on; null where nothing does. */
function firstSeen(
  mono: Float32Array,
  sampleRate: number,
  { from, to }: { from: number; to: number },
  floor: Floor,
): number | null {
  const windowFrames = Math.max(4, Math.round(WINDOW_SECONDS * sampleRate));
  const stepFrames = Math.max(1, Math.round(STEP_SECONDS * sampleRate));
  const start = Math.max(floor.prediction.length, from);
  const end = Math.min(mono.length, to);
  if (end - start < 2 * windowFrames) return null;
  const left = residual(mono, start, end, floor);
  const usual = 10 ** ((floor.levelDb - floor.liftDb) / 10);
  const count = Math.floor((left.length - windowFrames) / stepFrames) + 1;
  const powers = Float64Array.from({ length: count }, (_, place) => {
    let sum = 0;
    for (let i = 0; i < windowFrames; i++) sum += left[place * stepFrames + i]! ** 2;
    return sum / windowFrames / usual;
  });
  const certain = powers.findIndex((power, place) => power > CERTAIN && (powers[place + 4] ?? 0) > ON_ITS_WAY);
  if (certain < 0) return null;
  let first = certain;
  while (first > 0 && !(powers[first - 1]! < NOTHING && powers[Math.max(0, first - 5)]! < HARDLY)) first--;
  // It sounded already where the range begins.
  if (first === 0) return null;
  return start + first * stepFrames + Math.round(windowFrames / 2);
}

/** What the floor does not foretell. */
function residual(mono: Float32Array, from: number, to: number, { prediction }: Floor): Float64Array {
  const out = new Float64Array(to - from);
  for (let i = from; i < to; i++) {
    let left = mono[i]!;
    for (let k = 0; k < prediction.length; k++) left -= prediction[k]! * mono[i - 1 - k]!;
    out[i - from] = left;
  }
  return out;
}
