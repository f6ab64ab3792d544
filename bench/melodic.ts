/**
 * How many hits are found and how many are phantoms, in loops made by arithmetic of other seeds than were learned from:
 * melodic ones and grooves, by themselves and through rooms, noise and crackle; within 10 ms, of what swells within its rise.
 */
import { analyseSource } from '#core/analysis/analyse-source.ts';
import { cutAtHits } from '#core/analysis/cut.ts';
import { DEFAULT_SELECTION } from '#core/analysis/select-onsets.ts';
import { aged, makeMelody, MELODIC_KINDS, type MadeStart } from './melodic-material.ts';
import { fMeasure, matchOnsets } from './score-onsets.ts';
import { madeKit } from './tempo-kits.ts';
import { makeLoop, RATE, STYLES } from './tempo-material.ts';

const TOLERANCE_SECONDS = 0.01;
const SOFT_SECONDS = 0.02;
/** Starts nearer to each other than the least gap of the cut are one. */
const SAME_SECONDS = 0.018;
const SECONDS = 12;

export interface Counted {
  found: number;
  missed: number;
  invented: number;
}

export function countStarts(samples: Float32Array, starts: readonly MadeStart[]): Counted {
  const analysis = analyseSource({ sampleRate: RATE, channels: [samples] });
  const markers = cutAtHits(analysis, DEFAULT_SELECTION).map(({ frame }) => frame / RATE);
  const own = starts.filter(({ frame }, n) => n === 0 || frame - starts[n - 1]!.frame > SAME_SECONDS * RATE);
  const truth = own.map(({ frame }) => frame / RATE);
  const spans = own.map(({ riseFrames }) => (riseFrames > SOFT_SECONDS * RATE ? riseFrames / RATE : 0));
  const found = matchOnsets(truth, markers, TOLERANCE_SECONDS, spans).length;
  return { found, missed: truth.length - found, invented: markers.length - found };
}

/** @param isAged through a room, noise, crackle and the like */
export function melodicCounts(kind: (typeof MELODIC_KINDS)[number], seed: number, each: number, isAged: boolean) {
  return sum(
    Array.from({ length: each }, (_, n) => {
      const { samples, starts } = makeMelody(kind, seed + n);
      return countStarts(isAged ? aged(samples, seed + n) : samples, starts);
    }),
  );
}

export function grooveCounts(style: (typeof STYLES)[number], seed: number, each: number, isAged: boolean): Counted {
  return sum(
    Array.from({ length: each }, (_, n) => {
      const { samples, strokes } = makeLoop(style, madeKit(seed + n), seed + n, false);
      const heard = (isAged ? aged(samples, seed + n) : samples).subarray(0, SECONDS * RATE);
      const starts = strokes.filter(({ frame }) => frame < heard.length - RATE / 20);
      return countStarts(
        heard,
        starts.map(({ frame }) => ({ frame, riseFrames: 0 })),
      );
    }),
  );
}

export function sum(all: readonly Counted[]): Counted {
  return all.reduce(
    (so, { found, missed, invented }) => ({
      found: so.found + found,
      missed: so.missed + missed,
      invented: so.invented + invented,
    }),
    { found: 0, missed: 0, invented: 0 },
  );
}

export function benchMelodic(): void {
  process.stdout.write('\nHits of loops made for the purpose: clean; through rooms, noise and crackle\n');
  const row = (name: string, [clean, old]: readonly [Counted, Counted]) => {
    const words = (counted: Counted) =>
      `F ${fMeasure(counted).toFixed(3)} (${counted.missed} missed of ${counted.found + counted.missed}, ${counted.invented} phantoms)`;
    process.stdout.write(`${name}: ${words(clean)}; ${words(old)}\n`);
  };
  for (const kind of MELODIC_KINDS)
    row(kind, [melodicCounts(kind, 700_000, 12, false), melodicCounts(kind, 700_000, 12, true)]);
  const grooves = (isAged: boolean) => sum(STYLES.map((style, n) => grooveCounts(style, 710_000 + 100 * n, 3, isAged)));
  row('22 kinds of grooves', [grooves(false), grooves(true)]);
}
