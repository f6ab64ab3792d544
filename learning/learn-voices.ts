/**
 * Learns the trees of `src/core/analysis/voice-evidence.ts`: which candidates of a voice begin a syllable. Of phrases that
 * `sung.py` makes, a third of them through rooms, noise and crackle, and of made notes that are held, so that a fiddle taken
 * for a voice is cut well, too.
 * `npx tsx learning/learn-voices.ts FOLDER JUDGED` learns from the voices of one folder, prints how it does on those of the
 * other, and writes the trees.
 */
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { measureBandEnergies } from '#core/analysis/band-energies.ts';
import { likelyCandidates, placeCandidate } from '#core/analysis/detect-onsets.ts';
import { EVIDENCE_TREES } from '#core/analysis/evidence-trees.ts';
import { evidenceRows } from '#core/analysis/onset-evidence.ts';
import { findCandidates, measureRises } from '#core/analysis/onset-features.ts';
import { measureTonalNovelty } from '#core/analysis/tonal-novelty.ts';
import { voiceRow } from '#core/analysis/voice-evidence.ts';
import { mixForReading } from '#core/dsp/audio.ts';
import { decodeSoundFile } from '#core/formats/decode.ts';
import { aged, makeMelody } from '../bench/melodic-material.ts';
import { RATE } from '../bench/tempo-material.ts';
import { boost } from './boosting.ts';
import { keep, told, type Labelled } from './told.ts';

const NOTES = ['sung', 'held notes', 'tones'] as const;
const LOOPS_A_KIND = 14;
const VOICE_WEIGHT = 2;
const START_WEIGHT = 1.5;
/** A syllable may be cut from shortly before its first sound until its vowel has begun. */
const EARLY_SECONDS = 0.02;
const LATE_SECONDS = 0.04;
/** The first that is this likely by its rises is where it begins, and the vowel is none. */
const LIKELY = 0.3;
/** The voices are put together of halves of sounds, and are not smooth in the middle of a vowel. */
const JOINT_SECONDS = 0.07;

/** Where a syllable may be cut, in seconds, and where its vowel was put together. */
interface Syllable {
  fromSeconds: number;
  toSeconds: number;
  jointSeconds: number;
}

function casesOf(
  signal: Float32Array,
  rate: number,
  syllables: readonly Syllable[],
  group: string,
  weight: number,
): Labelled[] {
  const energies = measureBandEnergies(signal, rate);
  const rises = measureRises(energies);
  const hits = likelyCandidates(energies, rises, findCandidates(rises.total));
  const plain = evidenceRows(hits, energies, rises, measureTonalNovelty(signal, rate), rate);
  const rows = plain.map((row, n) => voiceRow(row, hits[n]!.hop * energies.hopFrames, signal, rate));
  const seconds = hits.map(({ hop }) => placeCandidate(signal, rate, energies, rises, hop).attackFrame / rate);
  const labels: (boolean | null)[] = hits.map(() => false);
  for (const { fromSeconds, toSeconds, jointSeconds } of syllables) {
    seconds.forEach((at, n) => {
      if (Math.abs(at - jointSeconds) < JOINT_SECONDS) labels[n] = null;
    });
    const within = hits.flatMap((hit, n) =>
      seconds[n]! > fromSeconds && seconds[n]! < toSeconds ? [{ ...hit, n }] : [],
    );
    const first = within.find(({ likelihood }) => likelihood >= LIKELY);
    const best = first ?? within.sort((a, b) => b.likelihood - a.likelihood)[0];
    if (best) labels[best.n] = true;
  }
  return rows.flatMap((row, n) => {
    const isRight = labels[n]!;
    return isRight === null ? [] : [{ row, isRight, weight: isRight ? START_WEIGHT * weight : weight, group }];
  });
}

async function voices(folder: string): Promise<Labelled[]> {
  const truth = JSON.parse(await readFile(join(folder, 'truth.json'), 'utf8')) as Record<
    string,
    { startSeconds: number; vowelSeconds: number; endSeconds: number }[]
  >;
  const all: Labelled[] = [];
  for (const [index, [name, sung]] of Object.entries(truth).entries()) {
    const { audio } = await decodeSoundFile(await readFile(join(folder, name)));
    const mono = mixForReading(audio);
    const syllables = sung.map(({ startSeconds, vowelSeconds, endSeconds }) => ({
      fromSeconds: startSeconds - EARLY_SECONDS,
      toSeconds: vowelSeconds + LATE_SECONDS,
      jointSeconds: (vowelSeconds + endSeconds) / 2,
    }));
    const heard = index % 3 === 2 ? aged(mono, index) : mono;
    const [voice, style] = name.split('-');
    all.push(...casesOf(heard, audio.sampleRate, syllables, `${voice} ${style}`, VOICE_WEIGHT));
  }
  return all;
}

function notes(from: number): Labelled[] {
  return NOTES.flatMap((kind, place) =>
    Array.from({ length: LOOPS_A_KIND }, (_, n) => from + 100 * place + n).flatMap((seed) => {
      const { samples, starts } = makeMelody(kind, seed);
      const all = starts.map(({ frame, riseFrames }) => ({
        fromSeconds: frame / RATE - EARLY_SECONDS,
        toSeconds: (frame + riseFrames) / RATE + EARLY_SECONDS,
        jointSeconds: -1,
      }));
      return casesOf(seed % 2 === 0 ? aged(samples, seed) : samples, RATE, all, kind, 1);
    }),
  );
}

const [folder, judged] = process.argv.slice(2);
if (!folder || !judged) throw new Error('usage: npx tsx learning/learn-voices.ts FOLDER JUDGED');
const trees = boost([...(await voices(folder)), ...notes(330_000)]);
const unheard = [...(await voices(judged)), ...notes(730_000)];
for (const group of new Set(unheard.map((one) => one.group))) {
  const those = unheard.filter((one) => one.group === group);
  process.stdout.write(
    `${group}: by the trees of all other sounds ${told(those, () => EVIDENCE_TREES)}; now ${told(those, () => trees)}\n`,
  );
}
await keep('learn-voices.ts', 'voice-trees.ts', 'VOICE_TREES', trees);
