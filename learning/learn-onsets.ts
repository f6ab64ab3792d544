/**
 * Learns the trees of `src/core/analysis/onset-evidence.ts` and of `soft-onsets.ts`: what speaks for and against a candidate
 * beside its rises, and for and against a peak of novelty. Of grooves of drums and notes, of melodic loops, half of them through rooms, noise and crackle, all made by arithmetic
 * (bench/tempo-material.ts, bench/melodic-material.ts), and of the loops of a folder with truth.
 * `npx tsx learning/learn-onsets.ts FOLDER` prints how it does on kinds and files that were left out, and writes the trees.
 */
import { measureBandEnergies } from '#core/analysis/band-energies.ts';
import { logOddsByTrees, type EvidenceTree } from '#core/analysis/evidence-tree.ts';
import { likelyCandidates, placeCandidate } from '#core/analysis/detect-onsets.ts';
import { risesNear } from '#core/analysis/soft-beside-hits.ts';
import { evidenceRows } from '#core/analysis/onset-evidence.ts';
import { findCandidates, measureRises } from '#core/analysis/onset-features.ts';
import { fluxPeaks, peakSeconds, softFeatures } from '#core/analysis/soft-onsets.ts';
import { measureTonalNovelty } from '#core/analysis/tonal-novelty.ts';
import { filterInto, highPass, lowPass } from '#core/dsp/biquad.ts';
import { seededRandom } from '#core/units/random.ts';
import { aged, makeMelody, MELODIC_KINDS } from '../bench/melodic-material.ts';
import { drawnKits, madeKit } from '../bench/tempo-kits.ts';
import { makeLoop, RATE, STYLES, type Kit } from '../bench/tempo-material.ts';
import { boost } from './boosting.ts';
import { keep, told, type Labelled } from './told.ts';
import { loopsToLearn, type Start } from './true-loops.ts';

const LOOPS_A_STYLE = 9;
const LOOPS_A_KIND = 14;
const NOTHINGS = 36;
/** Recorded loops are few among the made ones; a missed hit is as bad as one and a half phantoms. */
const CORPUS_WEIGHT = 6;
const START_WEIGHT = 1.5;
/** Soft starts are few among the peaks of novelty. */
const SOFT_START_WEIGHT = 4;
/** A candidate within this of a start is that start; what follows it within so much is the same sound. */
const SAME_SECONDS = 0.012;
const FOLLOWS_SECONDS = 0.022;
/** What rises for longer than this is soft: it shows somewhere in its rise, or so much after it. */
const SOFT_SECONDS = 0.02;
/** Softer strokes than this share of the loudest, or of one shortly before, are drowned more often than not. */
const DROWNED = 0.1;
const DROWNED_BESIDE = 0.35;
const DROWNING_SECONDS = 0.06;
/** A peak of novelty this near to a start is that start; a swell's is anywhere in its rise. */
const EARLY_SECONDS = 0.05;
const LATE_SECONDS = 0.06;
/** What the trees tell with more than this is a hit: 0.8. */
const SURE_LOG_ODDS = 1.386;
/** Of each loop so much is heard. */
const SECONDS = 12;

/** What is measured of one loop: the candidates by their rises, and the peaks of novelty. */
interface Measured {
  hits: Labelled[];
  soft: (Labelled & { seconds: number })[];
  /** All candidates: soft starts are looked for away from sure ones only. */
  rows: { seconds: number; row: Float64Array }[];
}

function casesOf(signal: Float32Array, rate: number, starts: readonly Start[], group: string, weight = 1): Measured[] {
  const energies = measureBandEnergies(signal, rate);
  const rises = measureRises(energies);
  const hits = likelyCandidates(energies, rises, findCandidates(rises.total));
  const novelty = measureTonalNovelty(signal, rate);
  const rows = evidenceRows(hits, energies, rises, novelty, rate);
  const seconds = hits.map(({ hop }) => placeCandidate(signal, rate, energies, rises, hop).attackFrame / rate);
  const labels: (boolean | null)[] = hits.map(() => false);
  for (const start of starts) {
    let best = -1;
    seconds.forEach((at, n) => {
      const away = Math.abs(at - start.seconds);
      if (away <= SAME_SECONDS && labels[n] !== true && !(away > Math.abs(seconds[best]! - start.seconds))) best = n;
    });
    const after = start.riseSeconds > SOFT_SECONDS ? start.riseSeconds + SOFT_SECONDS : FOLLOWS_SECONDS;
    const isIn = (at: number) => at > start.seconds - FOLLOWS_SECONDS && at < start.seconds + after;
    // A swell begins once, wherever in it that shows most.
    if (best < 0 && after > FOLLOWS_SECONDS) {
      seconds.forEach((at, n) => {
        if (isIn(at) && labels[n] !== true && !(hits[n]!.likelihood < (hits[best]?.likelihood ?? 0))) best = n;
      });
    }
    if (best >= 0) labels[best] = start.isMasked ? null : true;
    seconds.forEach((at, n) => {
      const isBeside = Math.abs(at - (seconds[best] ?? start.seconds)) < FOLLOWS_SECONDS;
      if (isBeside && labels[n] === false) labels[n] = null;
    });
  }
  const caseOf = (row: Float64Array, label: boolean | null, ofStart = START_WEIGHT) =>
    label === null ? [] : [{ row, isRight: label, weight: label ? ofStart * weight : weight, group }];
  const near = risesNear(energies, rises, findCandidates(rises.total), energies.hopFrames / rate);
  const peaks = fluxPeaks(novelty).map((peak) => {
    const at = peakSeconds(novelty, peak);
    return { seconds: at, row: softFeatures(novelty, peak, near(at)) };
  });
  const softLabels = peakLabels(peaks, starts);
  return [
    {
      hits: rows.flatMap((row, n) => caseOf(row, labels[n]!)),
      soft: peaks.flatMap(({ row, seconds: at }, n) =>
        caseOf(row, softLabels[n]!, SOFT_START_WEIGHT).map((one) => ({ ...one, seconds: at })),
      ),
      rows: rows.map((row, n) => ({ row, seconds: seconds[n]! })),
    },
  ];
}

/** Of the peaks around a start the likeliest is it; the others are neither. */
function peakLabels(peaks: readonly { seconds: number; row: Float64Array }[], starts: readonly Start[]) {
  const labels = peaks.map(() => false as boolean | null);
  for (const { seconds: from, riseSeconds, isMasked } of starts) {
    let best = -1;
    peaks.forEach(({ seconds: at, row }, n) => {
      const isIn = at > from - EARLY_SECONDS && at < from + Math.max(LATE_SECONDS, riseSeconds);
      if (!isIn || labels[n] === true) return;
      labels[n] = null;
      if (best < 0 || row[0]! > peaks[best]!.row[0]!) best = n;
    });
    if (best >= 0 && !isMasked) labels[best] = true;
  }
  return labels;
}

/** Peaks of novelty away from what the trees are sure of. */
function inPauses(all: readonly Measured[], trees: readonly EvidenceTree[]): Labelled[] {
  return all.flatMap(({ soft, rows }) => {
    const sure = rows.filter(({ row }) => logOddsByTrees(row, trees) > SURE_LOG_ODDS).map(({ seconds }) => seconds);
    return soft.filter(({ seconds }) => !sure.some((at) => seconds > at - 0.08 && seconds < at + 0.22));
  });
}

function grooves(kitOf: (seed: number) => Kit, from: number, each: number): Measured[] {
  return STYLES.flatMap((style, place) =>
    Array.from({ length: each }, (_, n) => from + 100 * place + n).flatMap((seed) => {
      const loop = makeLoop(style, kitOf(seed), seed, false);
      // Two that have nothing to do with each other strike at all distances, as flams do.
      const isTwo = seed % 3 === 0;
      const other = isTwo ? makeLoop(STYLES[(place + 7) % STYLES.length]!, kitOf(seed + 50), seed + 50, false) : null;
      const samples = loop.samples.map((one, i) => one + (other?.samples[i] ?? 0));
      const strokes = [...loop.strokes, ...(other?.strokes ?? [])].sort((a, b) => a.frame - b.frame);
      return casesOf(
        (seed % 2 === 0 ? aged(samples, seed) : samples).subarray(0, SECONDS * RATE),
        RATE,
        startsOf(strokes),
        style.name,
      );
    }),
  );
}

/** Strokes that are drowned, by the loudest or by what was struck just before, speak neither for nor against. */
function startsOf(strokes: readonly { frame: number; level: number }[]): Start[] {
  const loudest = Math.max(...strokes.map(({ level }) => level));
  return strokes.map(({ frame, level }) => ({
    seconds: frame / RATE,
    riseSeconds: 0,
    isMasked:
      level < DROWNED * loudest ||
      strokes.some((other) => {
        const before = (frame - other.frame) / RATE;
        return before > 0 && before < DROWNING_SECONDS && level < DROWNED_BESIDE * other.level;
      }),
  }));
}

function melodies(from: number, each: number): Measured[] {
  return MELODIC_KINDS.flatMap((kind, place) =>
    Array.from({ length: each }, (_, n) => from + 100 * place + n).flatMap((seed) => {
      const { samples, starts } = makeMelody(kind, seed);
      const those = starts.map(({ frame, riseFrames }) => ({
        seconds: frame / RATE,
        riseSeconds: riseFrames / RATE,
        isMasked: false,
      }));
      return casesOf(seed % 2 === 0 ? aged(samples, seed) : samples, RATE, those, kind);
    }),
  );
}

/** Noise, hum and drones, in which nothing begins. */
function nothing(from: number, count: number): Measured[] {
  return Array.from({ length: count }, (_, n) => from + n).flatMap((seed) => {
    const random = seededRandom(seed);
    const section =
      seed % 2 === 0 ? lowPass(200 + 6000 * random(), 0.7, RATE) : highPass(100 + 3000 * random(), 0.7, RATE);
    const noise = Float32Array.from({ length: 6 * RATE }, () => 2 * random() - 1);
    const samples = new Float32Array(noise.length);
    filterInto(section, noise, samples);
    const tones = Array.from({ length: 4 }, () => 50 * 40 ** random());
    const share = seed % 3 === 0 ? 0 : random();
    for (let i = 0; i < samples.length; i++) {
      const drone = tones.reduce((sum, hz) => sum + Math.sin((2 * Math.PI * hz * i) / RATE), 0);
      samples[i] = samples[i]! * (seed % 3 === 0 ? 1 : 0.1) + share * 0.2 * drone;
    }
    return casesOf(samples, RATE, [{ seconds: 0, riseSeconds: 0, isMasked: true }], 'nothing');
  });
}

async function corpus(folder: string): Promise<Measured[]> {
  const all: Measured[] = [];
  for await (const { name, signal, rate, starts } of loopsToLearn(folder))
    all.push(...casesOf(signal, rate, starts, `corpus ${name}`, CORPUS_WEIGHT));
  return all;
}

const [folder] = process.argv.slice(2);
if (!folder) throw new Error('usage: npx tsx learning/learn-onsets.ts FOLDER');
const measured = [
  ...grooves(madeKit, 300_000, LOOPS_A_STYLE),
  ...melodies(310_000, LOOPS_A_KIND),
  ...nothing(320_000, NOTHINGS),
  ...(await corpus(folder)),
];
const KINDS = [...STYLES.map(({ name }) => name), ...MELODIC_KINDS, 'nothing', 'corpus'];
const groups = [...new Set(measured.flatMap(({ hits }) => hits.map(({ group }) => group)))];
const foldOf = new Map(groups.map((group, n) => [group, n % 5]));

/** Learns of all, and tells how what is left out of learning does. */
function learned(all: readonly Labelled[], what: string): EvidenceTree[] {
  process.stdout.write(`${what}: ${all.length}, ${all.filter(({ isRight }) => isRight).length} of them starts\n`);
  const out = [0, 1, 2, 3, 4].map((fold) => boost(all.filter(({ group }) => foldOf.get(group) !== fold)));
  for (const kind of KINDS) {
    const those = all.filter(({ group }) => group === kind || (kind === 'corpus' && group.startsWith('corpus')));
    const now = told(those, ({ group }) => out[foldOf.get(group)!]!);
    process.stdout.write(`${kind}: before ${told(those, () => [])}; left out ${now}\n`);
  }
  const trees = boost(all);
  process.stdout.write(`all, before ${told(all, () => [])}; learned from ${told(all, () => trees)}\n`);
  return trees;
}

const trees = learned(
  measured.flatMap(({ hits }) => hits),
  'candidates',
);
const softTrees = learned(inPauses(measured, trees), 'peaks of novelty in pauses');
const drawn = grooves(await drawnKits(folder, () => true), 900_000, 3).flatMap(({ hits }) => hits);
process.stdout.write(`grooves of its hits, before ${told(drawn, () => [])}; now ${told(drawn, () => trees)}\n`);
await keep('learn-onsets.ts', 'evidence-trees.ts', 'EVIDENCE_TREES', trees);
await keep('learn-onsets.ts', 'soft-trees.ts', 'SOFT_TREES', softTrees);
