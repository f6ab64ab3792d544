/**
 * Soft onsets beside the hits: where they are looked for, and what becomes of the two where both are found. See
 * soft-onsets.ts for how they are told.
 */
import type { BandEnergies } from './band-energies.ts';
import { CANDIDATES_LISTED_FROM, type FoundOnset } from './found-onset.ts';
import type { RiseMaps } from './onset-features.ts';
import { zeroCrossingBefore } from './snap.ts';
import { findSoftOnsets } from './soft-onsets.ts';
import type { TonalNovelty } from './tonal-novelty.ts';

const SOFT_RISE_REACH_SECONDS = 0.06;
/** What novelty sees around a hit is the hit itself. */
const BEFORE_HIT_SECONDS = 0.08;
const AFTER_HIT_SECONDS = 0.22;
/** What is left between two hits must be this long to hold a soft onset. */
const MIN_PAUSE_SECONDS = 0.1;
/** Beside a hit of this likelihood no soft onset is looked for; of an unsure one and a soft one the likelier stays. */
const SURE_HIT = 0.8;
/** Novelty sees a sound that begins at once up to so much before it, or after: where energy rises there, it begins there. */
const NOVELTY_EARLY_SECONDS = 0.035;
const NOVELTY_LATE_SECONDS = 0.015;
/** What is less likely by itself is no rise of anything. */
const LEAST_RISE = 0.05;

/** A stretch of time. */
interface TimeSpan {
  fromSeconds: number;
  toSeconds: number;
}

/** Sounds that begin without a hit, where no hit was found nearby. */
export function softOnsetsBeside(
  hits: readonly FoundOnset[],
  signal: Float32Array,
  sampleRate: number,
  energies: BandEnergies,
  rises: RiseMaps,
  candidates: readonly number[],
  novelty: TonalNovelty,
): FoundOnset[] {
  const hopSeconds = energies.hopFrames / sampleRate;
  const pauses = pausesBetween(
    hits.filter(({ likelihood }) => likelihood >= SURE_HIT).map(({ hop }) => hop * hopSeconds),
    energies.length * hopSeconds,
  );
  const riseNear = risesNear(energies, rises, candidates, hopSeconds);
  if (pauses.length === 0) return [];
  return findSoftOnsets(novelty, riseNear, CANDIDATES_LISTED_FROM)
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

/**
 * Hits and soft onsets in order. What novelty tells of a chord it tells to some 20 ms; where a rise that was too faint to
 * be taken for a hit stands beside it, both are one, and begin at the rise.
 */
export function withSoftOnsets(
  hits: readonly FoundOnset[],
  soft: readonly FoundOnset[],
  sampleRate: number,
): FoundOnset[] {
  const all = [...hits];
  let first = 0;
  for (const onset of soft) {
    const away = (at: number) => (hits[at]!.attackFrame - onset.attackFrame) / sampleRate;
    while (first < hits.length && away(first) < -AFTER_HIT_SECONDS) first++;
    let rise = -1;
    let rival = -1;
    for (let at = first; at < hits.length && away(at) <= BEFORE_HIT_SECONDS; at++) {
      const { likelihood } = all[at]!;
      const isBeside = away(at) >= -NOVELTY_LATE_SECONDS && away(at) <= NOVELTY_EARLY_SECONDS;
      if (isBeside && likelihood > (all[rise]?.likelihood ?? LEAST_RISE)) rise = at;
      if (likelihood >= 0.5 && likelihood > (all[rival]?.likelihood ?? 0)) rival = at;
    }
    const likelihood = Math.max(onset.likelihood, all[rise]?.likelihood ?? 0);
    if (rival >= 0 && rival !== rise) {
      if (all[rival]!.likelihood >= likelihood) continue;
      all[rival] = { ...all[rival]!, likelihood: 1 - likelihood };
    }
    if (rise < 0) all.push(onset);
    else all[rise] = { ...all[rise]!, likelihood };
  }
  return all.sort((a, b) => a.hop - b.hop);
}

/** The greatest rise of a candidate within {@link SOFT_RISE_REACH_SECONDS} of a time, in dB summed over the bands. */
export function risesNear(
  energies: BandEnergies,
  { total }: RiseMaps,
  candidates: readonly number[],
  hopSeconds: number,
): (seconds: number) => number {
  const isCandidate = new Uint8Array(energies.length);
  for (const hop of candidates) isCandidate[hop] = 1;
  return (seconds) => {
    let most = 0;
    const to = Math.min(energies.length - 1, Math.ceil((seconds + SOFT_RISE_REACH_SECONDS) / hopSeconds) - 1);
    for (let hop = Math.max(0, Math.floor((seconds - SOFT_RISE_REACH_SECONDS) / hopSeconds) + 1); hop <= to; hop++) {
      if (isCandidate[hop] && total[hop]! > most) most = total[hop]!;
    }
    return most;
  };
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
