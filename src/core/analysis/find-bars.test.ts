/** Bar lines of players who drift, found in hits with exact truth: made ones, and those of the loops in the fixtures. */
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { barLines } from '../units/loop-time.ts';
import { seededRandom } from '../units/random.ts';
import { findBarFrames, type BarHit } from './find-bars.ts';

const RATE = 44_100;
const SIXTEENTHS = 240;

/** Bars of so many beats at so many beats a minute. */
function linesOf(tempi: readonly number[], beatsPerBar = 4): number[] {
  const lines = [0];
  for (const bpm of tempi) lines.push(lines.at(-1)! + Math.round((beatsPerBar * 60 * RATE) / bpm));
  return lines;
}

const loopOf = (lines: readonly number[], beatsPerBar = 4) => ({
  startFrame: 0,
  endFrame: lines.at(-1)!,
  bars: lines.length - 1,
  beatsPerBar,
});

/** Steps of a bar with their strengths: kicks, backbeats, hats and a ghost. */
const BAR: readonly [step: number, strength: number][] = [
  [0, 1],
  [2, 0.6],
  [4, 0.95],
  [6, 0.6],
  [7, 0.4],
  [8, 0.7],
  [10, 0.9],
  [12, 0.95],
  [14, 0.6],
];

/** The bar in each bar, off by some milliseconds as people play; one hit in ten is missing. */
function played(lines: readonly number[], feelMs: number, seed: number, bar = BAR, steps = 16): BarHit[] {
  const random = seededRandom(seed);
  return lines.slice(1).flatMap((end, place) =>
    bar.flatMap(([step, strength]) => {
      const start = lines[place]!;
      // Summed, three of them are nearly normal.
      const off = ((random() + random() + random() - 1.5) * 2 * feelMs * RATE) / 1000;
      const frame = Math.round(start + ((end - start) * step) / steps + (place + step > 0 ? off : 0));
      return random() < 0.1 && step > 0 ? [] : [{ frame, strength }];
    }),
  );
}

function mostOffMs(found: readonly number[], lines: readonly number[]): number {
  return (Math.max(...found.map((frame, place) => Math.abs(frame - lines[place + 1]!))) / RATE) * 1000;
}

const ramp = (from: number, to: number, bars: number) =>
  Array.from({ length: bars }, (_, bar) => from + ((to - from) * bar) / (bars - 1));

describe('bars of a player who drifts', () => {
  const courses: [string, number[]][] = [
    ['rushes by 5%', ramp(96, 101, 8)],
    ['slows down by 4% over 16 bars', ramp(118, 113, 16)],
    ['comes and goes', Array.from({ length: 12 }, (_, bar) => 90 + 1.5 * Math.sin(bar / 2))],
    ['is faster in the fills', Array.from({ length: 8 }, (_, bar) => (bar % 4 === 3 ? 105 : 102.5))],
  ];
  it.each(courses)('who %s are found within 8 ms, where even ones are off by more', (_name, tempi) => {
    const lines = linesOf(tempi);
    for (const seed of [1, 2, 3]) {
      const found = findBarFrames(played(lines, 4, seed), loopOf(lines), RATE, SIXTEENTHS)!;
      expect(found).toHaveLength(tempi.length - 1);
      expect(mostOffMs(found, lines)).toBeLessThan(8);
    }
    expect(mostOffMs(barLines(loopOf(lines)).slice(1, -1), lines)).toBeGreaterThan(15);
  });

  it('in three and in triplets, too', () => {
    const lines = linesOf(ramp(140, 147, 8), 3);
    const bar: [number, number][] = [
      [0, 1],
      [2, 0.5],
      [3, 0.8],
      [5, 0.5],
      [6, 0.8],
      [8, 0.6],
    ];
    const found = findBarFrames(played(lines, 4, 5, bar, 9), loopOf(lines, 3), RATE, 320)!;
    expect(mostOffMs(found, lines)).toBeLessThan(8);
  });

  it('are not found where there is nothing to find: a steady player, one bar, no hits', () => {
    const lines = linesOf(ramp(100, 100, 8));
    for (const feelMs of [0, 4, 8]) {
      expect(findBarFrames(played(lines, feelMs, 9), loopOf(lines), RATE, SIXTEENTHS)).toBeNull();
    }
    const one = linesOf([100]);
    expect(findBarFrames(played(one, 4, 1), loopOf(one), RATE, SIXTEENTHS)).toBeNull();
    expect(findBarFrames([], loopOf(lines), RATE, SIXTEENTHS)).toBeNull();
    // Two chords a bar, held on as long as one likes, tell of no bar lines.
    const chords: [number, number][] = [
      [0, 1],
      [8, 0.9],
    ];
    const rushed = linesOf(ramp(96, 101, 8));
    expect(findBarFrames(played(rushed, 4, 1, chords), loopOf(rushed), RATE, SIXTEENTHS)).toBeNull();
  });
});

describe('the loops of the fixtures, so often that they last eight bars', () => {
  const folder = new URL('../../../tests/fixtures/loops/', import.meta.url);
  const { files } = JSON.parse(readFileSync(new URL('truth.json', folder), 'utf8')) as {
    files: Record<
      string,
      { sampleRate: number; frames: number; bars: number; beatsPerBar: number; onsets: { frame: number }[] }
    >;
  };
  it.each(Object.entries(files))('%s is even, and followed where it is played faster and faster', (_name, file) => {
    const { sampleRate, frames, bars, beatsPerBar, onsets } = file;
    const rounds = 8 / bars;
    const loop = { startFrame: 0, endFrame: frames * rounds, bars: 8, beatsPerBar };
    const hits = Array.from({ length: rounds }, (_, round) => onsets.map(({ frame }) => frame + round * frames))
      .flat()
      .map((frame) => ({ frame, strength: 0.8 }));
    expect(findBarFrames(hits, loop, sampleRate, SIXTEENTHS)).toBeNull();
    // A parabola: 4% between its slowest and its fastest.
    const drifting = (frame: number) => frame + 0.02 * frame * (1 - frame / loop.endFrame);
    const moved = hits.map(({ frame, strength }) => ({ frame: Math.round(drifting(frame)), strength }));
    const found = findBarFrames(moved, loop, sampleRate, SIXTEENTHS)!;
    found.forEach((frame, place) => {
      const off = Math.abs(frame - drifting(((place + 1) / 8) * loop.endFrame)) / sampleRate;
      expect(off * 1000, `bar ${place + 2}`).toBeLessThan(10);
    });
  });
});
