/**
 * Finds hits. The energy in nine bands is followed millisecond by millisecond; where it rises in several at once a hit
 * may begin (A. Klapuri, "Sound onset detection by applying psychoacoustic knowledge", ICASSP 1999: relative rises in
 * bands). A logistic regression over what is measured around such a moment, and small trees over what else speaks for and
 * against it (onset-evidence.ts; of a voice alone voice-evidence.ts), give the likelihood that a listener would mark it; then
 * the marker is placed on the start of the attack (locate-attack.ts) and moved back to a zero crossing.
 */
import { attackCorrectionMs, attackFeatures } from './attack-correction.ts';
import { measureBandEnergies, type BandEnergies } from './band-energies.ts';
import { CANDIDATES_LISTED_FROM, type FoundOnset } from './found-onset.ts';
import { leadIn } from './lead-in.ts';
import { locateAttack } from './locate-attack.ts';
import { candidateFeatures, findCandidates, measureRises, type RiseMaps } from './onset-features.ts';
import { ONSET_BIAS, ONSET_WEIGHTS } from './onset-weights.ts';
import type { Onset } from './select-onsets.ts';
import { zeroCrossingBefore } from './snap.ts';
import { softOnsetsBeside, withSoftOnsets } from './soft-beside-hits.ts';
import { peakLevel } from '../dsp/audio.ts';
import { runToEnd, within, type Steps } from '../units/steps.ts';
import { endsAt, ENDS_SHARE } from './sound-ends.ts';
import { likelihoodByTrees } from './evidence-tree.ts';
import { EVIDENCE_TREES } from './evidence-trees.ts';
import { evidenceRows, type Candidate } from './onset-evidence.ts';
import { measureTonalNovelty } from './tonal-novelty.ts';
import { voiceSteps, type VoiceSpan } from './voice-alone.ts';
import { voiceRow } from './voice-evidence.ts';
import { VOICE_TREES } from './voice-trees.ts';

/** How likely a hit is, over time: the landscape under the water line. */
export interface StrengthLandscape {
  hopFrames: number;
  values: Float32Array;
}

export interface OnsetAnalysis {
  /** All candidates in order, also the weak ones. */
  onsets: Onset[];
  landscape: StrengthLandscape;
}

const ATTACK_WINDOW = { beforeMs: 12, afterMs: 5 };
/** A sound that begins within this of the file's start begins at the file's start, in milliseconds. */
const FILE_START_MS = 12;
const ZERO_CROSSING_REACH_MS = 0.7;
/** The visible start of an attack is usually too late, the corrected one too early; half way is this much early. */
const HALF_WAY_EARLY_MS = 0.33;
const CANDIDATES_A_STEP = 200;
/** Hits this far below the loudest one stand lowest of the sure ones. */
const LOUDNESS_SPAN_DB = 42;
const SURENESS_SHARE = 0.2;

/**
 * Analyses a whole signal once; {@link selectOnsets} then answers every setting at once.
 * @param signal the mean of the channels
 * @param listedFrom likelihood from which candidates are listed, at most 0.5: where the sensitivity is known (from 0.5 up),
 *   those below `1 - sensitivity` need no place
 * @returns no onsets for silence; cost about 0.5% of real time
 */
export function analyseOnsets(
  signal: Float32Array,
  sampleRate: number,
  listedFrom = CANDIDATES_LISTED_FROM,
): OnsetAnalysis {
  return runToEnd(onsetSteps(signal, sampleRate, measureBandEnergies(signal, sampleRate), listedFrom));
}

/**
 * The same where the band energies are known already, in steps that yield the share done.
 * @param voices where a voice sounds alone, if that is not to be looked for: nowhere, where only drums matter
 */
export function* onsetSteps(
  signal: Float32Array,
  sampleRate: number,
  energies: BandEnergies,
  listedFrom = CANDIDATES_LISTED_FROM,
  voices?: readonly VoiceSpan[],
): Steps<OnsetAnalysis> {
  const rises = measureRises(energies);
  yield 0.2;
  const candidates = findCandidates(rises.total);
  const byRises = likelyCandidates(energies, rises, candidates);
  const novelty = measureTonalNovelty(signal, sampleRate);
  yield 0.4;
  const rows = evidenceRows(byRises, energies, rises, novelty, sampleRate);
  const spans = voices ?? (yield* within(voiceSteps(signal, sampleRate), 0.4, 0.45));
  const isVoice = (hop: number) => isWithin(spans, hop * energies.hopFrames);
  const likely = byRises
    .map(({ hop }, index) => {
      const row = rows[index]!;
      if (!isVoice(hop)) return { hop, likelihood: likelihoodByTrees(row, EVIDENCE_TREES) };
      const more = voiceRow(row, hop * energies.hopFrames, signal, sampleRate);
      return { hop, likelihood: likelihoodByTrees(more, VOICE_TREES) };
    })
    .filter(({ likelihood }) => likelihood >= listedFrom);
  const found = yield* within(placed(signal, sampleRate, energies, rises, likely), 0.45, 0.8);
  // A voice that glides is new at every moment.
  const soft = softOnsetsBeside(found, signal, sampleRate, energies, rises, candidates, novelty).filter(
    ({ hop }) => !isVoice(hop),
  );
  const peak = peakLevel({ sampleRate, channels: [signal] });
  const unlessEnds = (one: FoundOnset, isSoft: boolean) =>
    endsAt(signal, sampleRate, one.hop * energies.hopFrames, peak, isSoft)
      ? { ...one, likelihood: one.likelihood * ENDS_SHARE }
      : one;
  const all = withSoftOnsets(
    found.map((one) => unlessEnds(one, false)),
    soft.map((one) => unlessEnds(one, true)),
    sampleRate,
  );
  const levels = all.map(({ hop }) => levelDbAfter(energies, hop));
  const loudestDb = Math.max(-Infinity, ...levels.filter((_, index) => all[index]!.likelihood >= 0.5));
  const strengths = all.map(({ likelihood }, index) => strengthOf(likelihood, levels[index]! - loudestDb));
  const onsets: Onset[] = [];
  all.forEach(({ frame, attackFrame, likelihood }, index) => {
    const strength = strengths[index]!;
    const previous = onsets.at(-1);
    if (previous && frame <= previous.frame) {
      previous.strength = Math.max(previous.strength, strength);
      previous.likelihood = Math.max(previous.likelihood, likelihood);
    } else onsets.push({ frame, attackFrame, strength, likelihood });
  });
  const values = landscapeOf(
    rises.total,
    all.map(({ hop }) => hop),
    strengths,
  );
  return { onsets, landscape: { hopFrames: energies.hopFrames, values } };
}

/** What may be hits, by the rises of the bands alone: see onset-evidence.ts for what else speaks for them. */
export function likelyCandidates(energies: BandEnergies, rises: RiseMaps, candidates: readonly number[]): Candidate[] {
  const rows = candidateFeatures(energies, rises, candidates);
  return candidates
    .map((hop, index) => ({ hop, likelihood: likelihoodOf(rows[index]!) }))
    .filter(({ likelihood }) => likelihood >= CANDIDATES_LISTED_FROM);
}

function* placed(
  signal: Float32Array,
  sampleRate: number,
  energies: BandEnergies,
  rises: RiseMaps,
  candidates: readonly Candidate[],
): Steps<FoundOnset[]> {
  const found: FoundOnset[] = [];
  for (const [index, candidate] of candidates.entries()) {
    if (index % CANDIDATES_A_STEP === 0) yield index / candidates.length;
    found.push({ ...candidate, ...placeCandidate(signal, sampleRate, energies, rises, candidate.hop) });
  }
  return found;
}

/** Where the marker of a candidate belongs, and where its attack begins. */
export function placeCandidate(
  signal: Float32Array,
  sampleRate: number,
  energies: BandEnergies,
  rises: RiseMaps,
  hop: number,
): Pick<Onset, 'frame' | 'attackFrame'> {
  return placeOnset(signal, sampleRate, hop * energies.hopFrames, risesAt(rises, hop));
}

/** Rises of all bands there, over short and over long times, in dB. */
export function risesAt(rises: RiseMaps, hop: number): number[] {
  return [...rises.short.map((band) => band[hop]!), ...rises.long.map((band) => band[hop]!)];
}

/** Where the attack of a candidate shows, and what tells how far before that it begins: see attack-correction.ts. */
export function visibleAttack(
  signal: Float32Array,
  sampleRate: number,
  coarseFrame: number,
  risesDb: readonly number[],
): { visible: number; features: Float64Array } {
  const visible = locateAttack(signal, sampleRate, coarseFrame, ATTACK_WINDOW);
  return { visible, features: attackFeatures(signal, sampleRate, visible, coarseFrame, risesDb) };
}

/**
 * Spreads the sure hits by how loud they are, so that raising the water drowns ghost notes first and the loudest hits
 * last; what is unsure keeps its likelihood. 0.5 stays 0.5: the default sensitivity finds the likely hits.
 */
function strengthOf(likelihood: number, belowLoudestDb: number): number {
  if (likelihood <= 0.5) return likelihood;
  const loudness = Math.max(0, Math.min(1, 1 + belowLoudestDb / LOUDNESS_SPAN_DB));
  const sureness = 2 * likelihood - 1;
  return Math.min(1, 0.5 + 0.5 * sureness * (SURENESS_SHARE + (1 - SURENESS_SHARE) * loudness));
}

/** Level of the 40 ms after a hop, all bands together, in dB (of power). */
function levelDbAfter(energies: BandEnergies, hop: number): number {
  let sum = 1e-12;
  const to = Math.min(energies.length, hop + 40);
  for (const band of energies.bands) for (let i = hop; i < to; i++) sum += band[i]!;
  return 10 * Math.log10(sum);
}

function likelihoodOf(row: Float64Array): number {
  let sum = ONSET_BIAS;
  for (let i = 0; i < row.length; i++) sum += row[i]! * ONSET_WEIGHTS[i]!;
  return 1 / (1 + Math.exp(-sum));
}

function placeOnset(
  signal: Float32Array,
  sampleRate: number,
  coarseFrame: number,
  risesDb: readonly number[],
): Pick<Onset, 'frame' | 'attackFrame'> {
  const startZone = Math.round((FILE_START_MS / 1000) * sampleRate);
  if (coarseFrame < startZone && soundsFromTheStart(signal, startZone)) return { frame: 0, attackFrame: 0 };
  const framesOf = (ms: number) => Math.round((ms / 1000) * sampleRate);
  const { visible, features } = visibleAttack(signal, sampleRate, coarseFrame, risesDb);
  const corrected = Math.max(0, visible + framesOf(attackCorrectionMs(features)));
  const { softFrames, hiddenFrames } = leadIn(signal, sampleRate, corrected, risesDb);
  const begin = Math.max(0, corrected - Math.max(softFrames, hiddenFrames));
  const frame = zeroCrossingBefore(signal, begin, framesOf(ZERO_CROSSING_REACH_MS));
  const halfWay = Math.round((visible + corrected) / 2) + framesOf(HALF_WAY_EARLY_MS);
  return { frame, attackFrame: Math.max(frame, halfWay - softFrames) };
}

/** Does the file begin with the sound itself rather than with silence? */
function soundsFromTheStart(signal: Float32Array, zone: number): boolean {
  let peak = 0;
  for (let i = 0; i < Math.min(zone * 2, signal.length); i++) peak = Math.max(peak, Math.abs(signal[i]!));
  const first = Math.max(4, Math.round(zone / 12));
  for (let i = 0; i < Math.min(first, signal.length); i++) if (Math.abs(signal[i]!) > peak * 0.003) return true;
  return false;
}

function isWithin(spans: readonly VoiceSpan[], frame: number): boolean {
  return spans.some(({ startFrame, endFrame }) => frame >= startFrame && frame < endFrame);
}

/** Each candidate stands as high as it is strong, with the shape of its rise; what is no candidate stays low. */
function landscapeOf(total: Float32Array, candidates: readonly number[], strengths: readonly number[]): Float32Array {
  const values = new Float32Array(total.length);
  for (let i = 0; i < values.length; i++) values[i] = Math.min(0.12, total[i]! / 400);
  candidates.forEach((hop, index) => {
    const peak = total[hop]!;
    // Soft ones are found by other means: where no band rises there is no shape.
    if (!(peak > 0)) return;
    for (let at = Math.max(0, hop - 14); at <= Math.min(values.length - 1, hop + 14); at++) {
      values[at] = Math.max(values[at]!, strengths[index]! * (total[at]! / peak) ** 2);
    }
  });
  for (let i = 0; i < values.length; i++) values[i] = Math.min(1, values[i]!);
  candidates.forEach((hop, index) => {
    values[hop] = strengths[index]!;
  });
  return values;
}
