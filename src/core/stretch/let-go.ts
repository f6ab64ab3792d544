/**
 * Where in a segment a held note or chord is let go: its end is no dying away, and belongs at its place in the new time.
 */
import { flatness } from '../dsp/flatness.ts';
import { WindowPair } from '../dsp/window-pair.ts';

/** Left and right; the same array twice for a sound of one channel. */
type Stereo = readonly [left: Float32Array, right: Float32Array];

/** Levels are taken over twice this, at every one of it. */
const HOP_SECONDS = 0.005;
/** The attack, which is over by then, tells nothing. */
const ATTACK_SECONDS = 0.04;
/** What is let go ends so much softer than it was held, and does not come back. */
const FALL_DB = 15;
/** It has faded where it is so much softer. */
const FADED_DB = 30;
/** Before that it was held for so long, and died away no faster than so many dB a second. */
const HELD_SECONDS = 0.05;
const HELD_DB_A_SECOND = 70;
/** It fades no slower than so many, and so many times as fast as it died away before. */
const FADE_DB_A_SECOND = 90;
const TIMES_FASTER = 4;
/** Softer than this nothing is heard. */
const SILENT_POWER = 1e-9;
/** Spectral flatness of what is held, between two frequencies: drums that are cut off are no notes. */
const MOST_FLAT = 0.12;
const LOW_HZ = 100;
const HIGH_HZ = 5000;
const SPECTRUM_SECONDS = 0.046;

const pairs = new Map<number, WindowPair>();

/** In frames from a segment's start. */
export interface LetGo {
  frame: number;
  /** There it has faded. */
  fadedFrame: number;
}

/**
 * @param transposed frames of the original that pass in a frame of the source: how fast a sound fades is told in its time
 * @returns null where no note is let go
 */
export function findLetGo(
  source: Stereo,
  { sourceStart, sourceEnd }: { sourceStart: number; sourceEnd: number },
  sampleRate: number,
  transposed = 1,
): LetGo | null {
  const hop = Math.round(HOP_SECONDS * sampleRate);
  const levels = levelsDb(source, sourceStart, sourceEnd, hop);
  const first = Math.round(ATTACK_SECONDS / HOP_SECONDS);
  const loudest = Math.max(...levels.subarray(first));
  const falls = levels.findLastIndex((level) => level >= loudest - FALL_DB) + 1;
  if (falls === levels.length) return null;
  const faded = levels.findLastIndex((level) => level >= loudest - FADED_DB) + 1;
  const bend = sharpestBend(levels, first, falls, faded);
  if (!bend) return null;
  const [before, after] = bend.slopes.map((slope) => -slope / HOP_SECONDS / transposed) as [number, number];
  if (before > HELD_DB_A_SECOND || after < FADE_DB_A_SECOND || after < TIMES_FASTER * before) return null;
  const frame = bend.at * hop;
  if (flatnessBefore(source, sourceStart + frame, sampleRate) > MOST_FLAT) return null;
  return { frame, fadedFrame: faded * hop };
}

/** Sums over hops up to each, for lines by least squares over any of them. */
class Lines {
  private readonly sums: Float64Array[];

  constructor(levels: Float64Array) {
    this.sums = [0, 1, 2].map(() => new Float64Array(levels.length + 1));
    const [all, products, squares] = this.sums as [Float64Array, Float64Array, Float64Array];
    for (const [i, level] of levels.entries()) {
      all[i + 1] = all[i]! + level;
      products[i + 1] = products[i]! + i * level;
      squares[i + 1] = squares[i]! + level * level;
    }
  }

  /** Slope in dB a hop, and what is left of the squares. */
  over(from: number, to: number): { slope: number; rest: number } {
    const [all, products, squares] = this.sums.map((sums) => sums[to]! - sums[from]!) as [number, number, number];
    const count = to - from;
    const middle = (from + to - 1) / 2;
    const spread = (count * (count * count - 1)) / 12;
    const together = products - middle * all;
    const slope = spread === 0 ? 0 : together / spread;
    return { slope, rest: squares - (all * all) / count - slope * together };
  }
}

/** Two lines, one up to a hop and one from it on, that fit the levels best. */
function sharpestBend(
  levels: Float64Array,
  first: number,
  last: number,
  end: number,
): { at: number; slopes: [number, number] } | null {
  const lines = new Lines(levels);
  const least = Math.round(HELD_SECONDS / HOP_SECONDS);
  let best: { at: number; slopes: [number, number]; rest: number } | null = null;
  for (let at = first + least; at < last && at + 2 <= end; at++) {
    const before = lines.over(first, at);
    const after = lines.over(at, end);
    const rest = before.rest + after.rest;
    if (!best || rest < best.rest) best = { at, slopes: [before.slope, after.slope], rest };
  }
  return best;
}

function levelsDb([left, right]: Stereo, from: number, to: number, hop: number): Float64Array {
  const count = Math.max(0, Math.floor((to - from) / hop) - 1);
  const sums = new Float64Array(count + 2);
  for (let i = 0; i < sums.length; i++) {
    let sum = 0;
    const end = Math.min(left.length, from + (i + 1) * hop);
    for (let at = Math.max(0, from + i * hop); at < end; at++) sum += left[at]! * left[at]! + right[at]! * right[at]!;
    sums[i] = sum;
  }
  const levels = new Float64Array(count);
  for (let i = 0; i < count; i++) levels[i] = 10 * Math.log10((sums[i]! + sums[i + 1]!) / (2 * hop) + SILENT_POWER);
  return levels;
}

/** Spectral flatness of the window that ends at a frame, both channels together. */
function flatnessBefore([left, right]: Stereo, end: number, sampleRate: number): number {
  const size = 2 ** Math.round(Math.log2(SPECTRUM_SECONDS * sampleRate));
  let pair = pairs.get(size);
  if (!pair) pairs.set(size, (pair = new WindowPair(size)));
  pair.load(0, left, end - size);
  pair.load(1, right, end - size);
  pair.measure();
  const [one, other] = pair.powers;
  const both = one.map((power, bin) => power + other[bin]!);
  return flatness(both, Math.ceil((LOW_HZ * size) / sampleRate), Math.floor((HIGH_HZ * size) / sampleRate));
}
