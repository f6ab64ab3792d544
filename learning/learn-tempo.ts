/**
 * Learns the weights of `src/core/analysis/read-tempo.ts`: a conditional logit over what each loop may be read as, of loops
 * made for the purpose (bench/tempo-material.ts), trimmed and not, whose drums and notes are arithmetic. `npx tsx learning/learn-tempo.ts [FOLDER]`
 * prints the weights, how they do on kinds of grooves that were left out, and on the hits and notes of a folder with truth.
 */
import { analyseSource } from '#core/analysis/analyse-source.ts';
import { isOdd } from '#core/analysis/odd-metres.ts';
import { placeFeatures, scored, TEMPO_WEIGHTS, withoutFlams } from '#core/analysis/read-tempo.ts';
import { tempoPlaces } from '#core/analysis/tempo-places.ts';
import { isRight, isRightTempo } from '../bench/tempo.ts';
import { drawnKits, madeKit } from '../bench/tempo-kits.ts';
import { makeLoop, RATE, STYLES, type Kit } from '../bench/tempo-material.ts';

/** Each trimmed and untrimmed. */
const LOOPS_A_STYLE = 12;
const STEPS = 1500;
const RATE_OF_LEARNING = 0.05;
/** Keeps weights small that little speaks for. */
const DECAY = 0.003;
/** Of fewer hits nothing can be learned. */
const FEWEST_HITS = 4;

interface Case {
  style: string;
  isTrimmed: boolean;
  /** Of each place that the loop may have. */
  rows: number[][];
  /** Which of them are right, and which are meant: those, or where there are none the ones whose tempo is. */
  right: boolean[];
  meant: boolean[];
}

function caseOf(kit: Kit, place: number, seed: number, untrimmed: boolean): Case | null {
  const loop = makeLoop(STYLES[place]!, kit, seed, untrimmed);
  const frames = loop.samples.length;
  const hits = withoutFlams(analyseSource({ sampleRate: RATE, channels: [loop.samples] }).tempoHits, RATE);
  if (hits.length < FEWEST_HITS) return null;
  // Odd bars are judged by the same weights, but none of these loops is in them.
  const places = tempoPlaces(hits, frames, RATE).filter(({ beatsPerBar }) => !isOdd(beatsPerBar));
  const right = places.map((one) => isRight(one, loop));
  const near = places.map((one) => isRightTempo(one, loop));
  if (!near.includes(true)) return null;
  const rows = places.map((one) => placeFeatures(one, hits, frames, RATE));
  return { style: loop.style, isTrimmed: loop.isTrimmed, rows, right, meant: right.includes(true) ? right : near };
}

function learn(cases: readonly Case[]): number[] {
  const count = cases[0]!.rows[0]!.length;
  const weights = new Array<number>(count).fill(0);
  const [mean, square] = [new Float64Array(count), new Float64Array(count)];
  for (let step = 1; step <= STEPS; step++) {
    const slope = new Float64Array(count);
    for (const { rows, meant } of cases) {
      const scores = rows.map((row) => scored(row, weights));
      const top = Math.max(...scores);
      const odds = scores.map((score) => Math.exp(score - top));
      const total = odds.reduce((sum, one) => sum + one, 0);
      const meantTotal = odds.reduce((sum, one, n) => sum + (meant[n] ? one : 0), 0);
      for (const [n, row] of rows.entries()) {
        const pull = (meant[n] ? odds[n]! / meantTotal : 0) - odds[n]! / total;
        for (let place = 0; place < count; place++) slope[place]! += pull * row[place]!;
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
  const found = cases.filter(({ rows, right }) => {
    const scores = rows.map((row) => scored(row, weights));
    return right[scores.indexOf(Math.max(...scores))];
  });
  return `${((100 * found.length) / cases.length).toFixed(1)}% of ${cases.length}`;
}

function casesOf(kitOf: (seed: number) => Kit, from: number, each: number): Case[] {
  return STYLES.flatMap((_, place) =>
    Array.from({ length: each }, (_one, n) => from + place * 100 + n).flatMap((seed) =>
      [false, true].map((untrimmed) => caseOf(kitOf(seed), place, seed, untrimmed)),
    ),
  ).filter((one) => one !== null);
}

const made = casesOf(madeKit, 50_000, LOOPS_A_STYLE);
const leftOut = [0, 1, 2, 3].map((fold) => {
  const isOut = ({ style }: Case) => STYLES.findIndex(({ name }) => name === style) % 4 === fold;
  return shareRight(made.filter(isOut), learn(made.filter((one) => !isOut(one))));
});
process.stdout.write(`kinds of grooves that were left out: ${leftOut.join(', ')}\n`);
const weights = learn(made).map((one) => Number(one.toFixed(3)));
for (const isTrimmed of [true, false]) {
  const those = made.filter((one) => one.isTrimmed === isTrimmed);
  process.stdout.write(`learned from, ${isTrimmed ? 'trimmed' : 'untrimmed'}: ${shareRight(those, weights)}\n`);
}
const [folder] = process.argv.slice(2);
if (folder) {
  const drawn = casesOf(await drawnKits(folder, () => true), 90_000, 4);
  process.stdout.write(`drums and notes of ${folder}: ${shareRight(drawn, weights)}`);
  process.stdout.write(`, with the weights in use: ${shareRight(drawn, TEMPO_WEIGHTS)}\n`);
}
process.stdout.write(`[${weights.join(', ')}]\n`);
