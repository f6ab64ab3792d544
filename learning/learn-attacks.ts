/**
 * Learns the trees of `src/core/analysis/attack-trees.ts`: how far before the place at which an attack shows it begins. Of random
 * loops of a real font and of made drums (drum_loops.py), and of the loops of a folder with truth.
 * `npx tsx learning/learn-attacks.ts FOLDER DRUM-LOOPS...` prints how it does on groups that were left out, and writes the trees.
 */
import { MAX_EARLIER_MS, MAX_LATER_MS } from '#core/analysis/attack-correction.ts';
import { measureBandEnergies } from '#core/analysis/band-energies.ts';
import { likelyCandidates, risesAt, visibleAttack } from '#core/analysis/detect-onsets.ts';
import { shareOf, type EvidenceTree } from '#core/analysis/evidence-tree.ts';
import { findCandidates, measureRises } from '#core/analysis/onset-features.ts';
import { boostQuantile, type Forest, type Measure } from './boosting.ts';
import { keep } from './told.ts';
import { loopsToLearn } from './true-loops.ts';

const FOREST: Forest = { trees: 200, depth: 3 };
const CORPUS_WEIGHT = 4;
/** Of this share of attacks the marker is to lie after the start: rather early than late. */
const LATE_SHARE = 0.1;
/** A candidate within this of a start is that start; what swells for longer than this begins nowhere exactly. */
const SAME_SECONDS = 0.015;
const SOFT_SECONDS = 0.02;
const LOOPS_A_GROUP = 12;

type Attack = Measure & { group: string };

async function attacksOf(folder: string, weight: number): Promise<Attack[]> {
  const all: Attack[] = [];
  let place = 0;
  for await (const { signal, rate, starts } of loopsToLearn(folder)) {
    const group = `${folder} ${Math.floor(place++ / LOOPS_A_GROUP)}`;
    const energies = measureBandEnergies(signal, rate);
    const rises = measureRises(energies);
    const hops = likelyCandidates(energies, rises, findCandidates(rises.total)).map(({ hop }) => hop);
    for (const { seconds, riseSeconds, isMasked } of starts) {
      const startFrame = seconds * rate;
      const away = (hop: number) => Math.abs(hop * energies.hopFrames - startFrame);
      const hop = hops.toSorted((a, b) => away(a) - away(b))[0];
      if (isMasked || riseSeconds > SOFT_SECONDS || hop === undefined || away(hop) > SAME_SECONDS * rate) continue;
      const { visible, features } = visibleAttack(signal, rate, hop * energies.hopFrames, risesAt(rises, hop));
      const value = Math.max(-MAX_EARLIER_MS, Math.min(MAX_LATER_MS, ((startFrame - visible) / rate) * 1000));
      all.push({ row: features, value, weight, group });
    }
  }
  return all;
}

function toldOf(cases: readonly Attack[], { base, trees }: { base: number; trees: readonly EvidenceTree[] }): string {
  const off = cases.map(({ row, value }) => trees.reduce((sum, tree) => sum + shareOf(tree, row), base) - value);
  const distances = off.map(Math.abs).sort((a, b) => a - b);
  const at = (share: number) => distances[Math.floor(share * (distances.length - 1))]!.toFixed(2);
  const late = (100 * off.filter((ms) => ms > 1).length) / off.length;
  return `${cases.length} attacks: median ${at(0.5)}, 95% ${at(0.95)} ms; later than 1 ms ${late.toFixed(1)}%`;
}

const [corpus, ...drums] = process.argv.slice(2);
if (!corpus || drums.length === 0) throw new Error('usage: npx tsx learning/learn-attacks.ts FOLDER DRUM-LOOPS...');
const all = await attacksOf(corpus, CORPUS_WEIGHT);
for (const folder of drums) all.push(...(await attacksOf(folder, 1)));
const foldOf = new Map([...new Set(all.map(({ group }) => group))].map((group, n) => [group, n % 5]));
const isOf = (fold: number) => (one: Attack) => foldOf.get(one.group) === fold;
process.stdout.write(`as it shows: ${toldOf(all, { base: 0, trees: [] })}\n`);
for (const fold of [0, 1, 2, 3, 4]) {
  const found = boostQuantile(
    all.filter((one) => !isOf(fold)(one)),
    LATE_SHARE,
    FOREST,
  );
  process.stdout.write(`left out: ${toldOf(all.filter(isOf(fold)), found)}\n`);
}
const { base, trees } = boostQuantile(all, LATE_SHARE, FOREST);
const before = `/** The answer before any question, in ms. */\nexport const CORRECTION_BASE_MS = ${base.toFixed(3)};\n\n`;
await keep('learn-attacks.ts', 'attack-trees.ts', 'CORRECTION_TREES', trees, before);
