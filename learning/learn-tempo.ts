/**
 * Learns the weights of `src/core/analysis/tempo.ts`: a conditional logit over the readings of each loop, of loops made for
 * the purpose (bench/tempo-material.ts) whose drums and notes are arithmetic. `npx tsx learning/learn-tempo.ts [FOLDER]`
 * prints the weights, how they do on kinds of grooves that were left out, and on the hits and notes of a folder with truth.
 */
import { analyseSource } from '#core/analysis/analyse-source.ts';
import { hypothesisFeatures, readLoopTempo, TEMPO_WEIGHTS, type TempoHit } from '#core/analysis/tempo.ts';
import { drawnKits, madeKit } from '../bench/tempo-kits.ts';
import { makeLoop, RATE, STYLES, type Kit } from '../bench/tempo-material.ts';

const LOOPS_A_STYLE = 24;
const STEPS = 3000;
const RATE_OF_LEARNING = 0.05;
/** Keeps weights small that little speaks for. */
const DECAY = 0.004;

interface Case {
  style: string;
  /** Of each reading. */
  rows: number[][];
  right: number;
}

function caseOf(kit: Kit, place: number, seed: number): Case | null {
  const loop = makeLoop(STYLES[place]!, kit, seed, false);
  const { tempoHits } = analyseSource({ sampleRate: RATE, channels: [loop.samples] });
  return caseOfHits(loop.style, tempoHits, loop.samples.length, loop);
}

function caseOfHits(style: string, hits: TempoHit[], frames: number, truth: { bars: number; beatsPerBar: number }) {
  const readings = readLoopTempo(hits, frames, RATE, Infinity);
  const right = readings.findIndex(({ bars, beatsPerBar }) => bars === truth.bars && beatsPerBar === truth.beatsPerBar);
  if (right < 0 || hits.length === 0) return null;
  const rows = readings.map(({ bars, beatsPerBar }) => hypothesisFeatures(hits, frames, RATE, bars, beatsPerBar));
  return { style, rows, right };
}

const scored = (row: readonly number[], weights: readonly number[]) =>
  row.reduce((sum, value, place) => sum + value * weights[place]!, 0);

function learn(cases: readonly Case[]): number[] {
  const count = cases[0]!.rows[0]!.length;
  const weights = new Array<number>(count).fill(0);
  const [mean, square] = [new Float64Array(count), new Float64Array(count)];
  for (let step = 1; step <= STEPS; step++) {
    const slope = new Float64Array(count);
    for (const { rows, right } of cases) {
      const scores = rows.map((row) => scored(row, weights));
      const top = Math.max(...scores);
      const odds = scores.map((score) => Math.exp(score - top));
      const total = odds.reduce((sum, one) => sum + one, 0);
      for (let place = 0; place < count; place++) {
        slope[place]! += rows[right]![place]!;
        for (const [n, row] of rows.entries()) slope[place]! -= (odds[n]! / total) * row[place]!;
      }
    }
    // Adam (D. Kingma and J. Ba, 2015).
    for (let place = 0; place < count; place++) {
      const g = slope[place]! / cases.length - DECAY * weights[place]!;
      mean[place] = 0.9 * mean[place]! + 0.1 * g;
      square[place] = 0.999 * square[place]! + 0.001 * g * g;
      const m = mean[place]! / (1 - 0.9 ** step);
      weights[place]! += (RATE_OF_LEARNING * m) / (Math.sqrt(square[place]! / (1 - 0.999 ** step)) + 1e-8);
    }
  }
  return weights;
}

function shareRight(cases: readonly Case[], weights: readonly number[]): string {
  const right = cases.filter(({ rows, right: place }) => {
    const scores = rows.map((row) => scored(row, weights));
    return scores[place] === Math.max(...scores);
  });
  return `${((100 * right.length) / cases.length).toFixed(1)}% of ${cases.length}`;
}

function casesOf(kitOf: (seed: number) => Kit, from: number, each: number): Case[] {
  return STYLES.flatMap((_, place) =>
    Array.from({ length: each }, (_one, n) => caseOf(kitOf(from + place * 100 + n), place, from + place * 100 + n)),
  ).filter((one) => one !== null);
}

const made = casesOf(madeKit, 50_000, LOOPS_A_STYLE);
const leftOut = [0, 1, 2, 3].map((fold) => {
  const isOut = ({ style }: Case) => STYLES.findIndex(({ name }) => name === style) % 4 === fold;
  return shareRight(made.filter(isOut), learn(made.filter((one) => !isOut(one))));
});
process.stdout.write(`kinds of grooves that were left out: ${leftOut.join(', ')}\n`);
const weights = learn(made).map((one) => Number(one.toFixed(3)));
process.stdout.write(`learned from: ${shareRight(made, weights)}\n`);
const [folder] = process.argv.slice(2);
if (folder) {
  const drawn = casesOf(await drawnKits(folder, () => true), 90_000, 10);
  process.stdout.write(`drums and notes of ${folder}: ${shareRight(drawn, weights)}`);
  process.stdout.write(`, with the weights in use: ${shareRight(drawn, TEMPO_WEIGHTS)}\n`);
}
process.stdout.write(`[${weights.join(', ')}]\n`);
