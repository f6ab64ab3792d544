/**
 * Finds hits. The energy in nine bands is followed millisecond by millisecond; where it rises in several at once a hit
 * may begin (A. Klapuri, "Sound onset detection by applying psychoacoustic knowledge", ICASSP 1999: relative rises in
 * bands). A logistic regression over what is measured around such a moment gives its strength, the likelihood that a
 * listener would mark it; then the marker is placed on the start of the attack (locate-attack.ts) and moved back to a
 * zero crossing.
 */
import { attackCorrectionMs, attackFeatures } from './attack-correction.ts';
import { measureBandEnergies, type BandEnergies } from './band-energies.ts';
import { leadIn } from './lead-in.ts';
import { locateAttack } from './locate-attack.ts';
import { candidateFeatures, findCandidates, measureRises, type RiseMaps } from './onset-features.ts';
import { ONSET_BIAS, ONSET_WEIGHTS } from './onset-weights.ts';
import type { Onset } from './select-onsets.ts';
import { zeroCrossingBefore } from './snap.ts';
import { findSoftOnsets } from './soft-onsets.ts';
import { runToEnd, within, type Steps } from '../units/steps.ts';
import { measureTonalNovelty, type TimeSpan } from './tonal-novelty.ts';

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
const CANDIDATES_LISTED_FROM = 0.02;
const CANDIDATES_A_STEP = 200;
/** Hits this far below the loudest one stand lowest of the sure ones. */
const LOUDNESS_SPAN_DB = 42;
const SURENESS_SHARE = 0.2;
const SOFT_RISE_REACH_SECONDS = 0.06;
/** What novelty sees around a hit is the hit itself. */
const BEFORE_HIT_SECONDS = 0.08;
const AFTER_HIT_SECONDS = 0.22;
/** What is left between two hits must be this long to hold a soft onset. */
const MIN_PAUSE_SECONDS = 0.1;
/** A soft onset is judged by what lies within this around it. */
const NOVELTY_SIGHT_SECONDS = 0.85;

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

/** The same where the band energies are known already, in steps that yield the share done. */
export function* onsetSteps(
  signal: Float32Array,
  sampleRate: number,
  energies: BandEnergies,
  listedFrom = CANDIDATES_LISTED_FROM,
): Steps<OnsetAnalysis> {
  const rises = measureRises(energies);
  yield 0.2;
  const candidates = findCandidates(rises.total);
  const found = yield* within(listHits(signal, sampleRate, energies, rises, candidates, listedFrom), 0.3, 0.7);
  const soft = listSoftOnsets(signal, sampleRate, energies, rises, candidates, found);
  const all = [...found, ...soft].sort((a, b) => a.hop - b.hop);
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

/** A found onset: where it was heard in the energies, and where its marker belongs. */
interface FoundOnset extends Omit<Onset, 'strength'> {
  hop: number;
}

function* listHits(
  signal: Float32Array,
  sampleRate: number,
  energies: BandEnergies,
  rises: RiseMaps,
  candidates: readonly number[],
  listedFrom: number,
): Steps<FoundOnset[]> {
  const rows = candidateFeatures(energies, rises, candidates);
  const found: FoundOnset[] = [];
  for (const [index, hop] of candidates.entries()) {
    if (index % CANDIDATES_A_STEP === 0) yield index / candidates.length;
    const likelihood = likelihoodOf(rows[index]!);
    if (likelihood < listedFrom) continue;
    const risesDb = [...rises.short.map((band) => band[hop]!), ...rises.long.map((band) => band[hop]!)];
    found.push({ hop, ...placeOnset(signal, sampleRate, hop * energies.hopFrames, risesDb), likelihood });
  }
  return found;
}

/** Sounds that begin without a hit, where no hit was found nearby. */
function listSoftOnsets(
  signal: Float32Array,
  sampleRate: number,
  energies: BandEnergies,
  rises: RiseMaps,
  candidates: readonly number[],
  hits: readonly FoundOnset[],
): FoundOnset[] {
  const hopSeconds = energies.hopFrames / sampleRate;
  const isCandidate = new Uint8Array(energies.length);
  for (const hop of candidates) isCandidate[hop] = 1;
  const riseNear = (seconds: number) => {
    let most = 0;
    const to = Math.min(energies.length - 1, Math.ceil((seconds + SOFT_RISE_REACH_SECONDS) / hopSeconds) - 1);
    for (let hop = Math.max(0, Math.floor((seconds - SOFT_RISE_REACH_SECONDS) / hopSeconds) + 1); hop <= to; hop++) {
      if (isCandidate[hop] && rises.total[hop]! > most) most = rises.total[hop]!;
    }
    return most;
  };
  const hitSeconds = hits.filter(({ likelihood }) => likelihood >= 0.5).map(({ hop }) => hop * hopSeconds);
  const pauses = pausesBetween(hitSeconds, energies.length * hopSeconds);
  if (pauses.length === 0) return [];
  const seen = pauses.map(({ fromSeconds, toSeconds }) => ({
    fromSeconds: fromSeconds - NOVELTY_SIGHT_SECONDS,
    toSeconds: toSeconds + NOVELTY_SIGHT_SECONDS,
  }));
  return findSoftOnsets(measureTonalNovelty(signal, sampleRate, seen), riseNear, CANDIDATES_LISTED_FROM)
    .filter(({ seconds }) => pauses.some((pause) => seconds >= pause.fromSeconds && seconds <= pause.toSeconds))
    .map(({ seconds, likelihood }) => {
      const attackFrame = Math.round(seconds * sampleRate);
      return {
        hop: Math.min(energies.length - 1, Math.round(seconds / hopSeconds)),
        frame: zeroCrossingBefore(signal, attackFrame, Math.round(0.005 * sampleRate)),
        attackFrame,
        likelihood,
      };
    });
}

/** Where nothing was hit for a while: only there sounds may begin softly. */
function pausesBetween(hitSeconds: readonly number[], endSeconds: number): TimeSpan[] {
  const pauses: TimeSpan[] = [];
  let fromSeconds = 0;
  for (const seconds of [...hitSeconds, endSeconds + BEFORE_HIT_SECONDS]) {
    const toSeconds = seconds - BEFORE_HIT_SECONDS;
    if (toSeconds - fromSeconds >= MIN_PAUSE_SECONDS) pauses.push({ fromSeconds, toSeconds });
    fromSeconds = seconds + AFTER_HIT_SECONDS;
  }
  return pauses;
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
  const visible = locateAttack(signal, sampleRate, coarseFrame, ATTACK_WINDOW);
  const features = attackFeatures(signal, sampleRate, visible, coarseFrame, risesDb);
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

/** Each candidate stands as high as it is strong, with the shape of its rise; what is no candidate stays low. */
function landscapeOf(total: Float32Array, candidates: readonly number[], strengths: readonly number[]): Float32Array {
  const values = new Float32Array(total.length);
  for (let i = 0; i < values.length; i++) values[i] = Math.min(0.12, total[i]! / 400);
  candidates.forEach((hop, index) => {
    const peak = total[hop]!;
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
