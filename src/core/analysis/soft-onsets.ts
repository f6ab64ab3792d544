/**
 * Finds sounds that begin without a hit: where the tonal novelty peaks, and what is measured around the peak says that
 * something new begins (a logistic regression, and trees that know noise and slow chords better).
 */
import { likelihoodByTrees } from './evidence-tree.ts';
import { SOFT_TREES } from './soft-trees.ts';
import { SOFT_BIAS, SOFT_WEIGHTS } from './soft-weights.ts';
import { NOVELTY_LEAD_SECONDS, type TonalNovelty } from './tonal-novelty.ts';

/** Peaks are the greatest flux within this many values on either side. */
const PEAK_REACH = 5;
const MIN_FLUX = 1.5;
/** Where less than this share of what sounded sounds on, something ends (log of the sums of compressed magnitudes). */
const LEAST_GROWTH = -1;
const GROWTH_FEATURE = 5;
/** After a soft onset its own swelling may look like another: such are ignored for this long. */
const REFRACTORY_SECONDS = 0.26;

export interface SoftOnset {
  seconds: number;
  /** 0..1 */
  likelihood: number;
}

/** Places of the flux's peaks. */
export function fluxPeaks({ flux }: TonalNovelty): number[] {
  const found: number[] = [];
  for (let i = 1; i < flux.length - 1; i++) {
    let isPeak = flux[i]! > MIN_FLUX;
    const to = Math.min(flux.length - 1, i + PEAK_REACH);
    for (let k = Math.max(0, i - PEAK_REACH); k <= to && isPeak; k++) {
      if (flux[k]! > flux[i]! || (flux[k] === flux[i] && k < i)) isPeak = false;
    }
    if (isPeak) found.push(i);
  }
  return found;
}

export function peakSeconds(novelty: TonalNovelty, peak: number): number {
  return Math.max(0, peak * novelty.hopSeconds - NOVELTY_LEAD_SECONDS);
}

/**
 * Describes a peak: its flux (log), the flux against all that sounds, against the median within 0.7 s, the turn of the
 * spectrum, the growth over the peak, the rise of energy there in dB, the flux against the greatest other within 0.46 s,
 * how much sounds after it, how much of that is left 0.3 s later; and before all of these the log odds by a logistic
 * regression over them, after them the slow turn of the spectrum.
 * @param riseDb greatest rise of energy (see onset-features.ts) within 60 ms
 */
export function softFeatures(novelty: TonalNovelty, peak: number, riseDb: number): Float64Array {
  const { flux, turn, longTurn, weight, hopSeconds } = novelty;
  const seconds = peak * hopSeconds - NOVELTY_LEAD_SECONDS;
  const at = flux[peak]!;
  const index = (time: number) => time / hopSeconds;
  const greatest = (curve: Float32Array, from: number, to: number) => {
    let most = 0;
    for (let i = Math.max(0, Math.floor(index(from))); i <= Math.min(curve.length - 1, Math.ceil(index(to))); i++) {
      if (curve[i]! > most) most = curve[i]!;
    }
    return most;
  };
  const meanWeight = (from: number, to: number) => {
    let sum = 0;
    let count = 0;
    for (let i = Math.max(0, Math.round(index(from))); i < Math.min(weight.length, index(to)); i++) {
      sum += weight[i]!;
      count++;
    }
    return sum / Math.max(1, count);
  };
  const around = flux.slice(
    Math.max(0, Math.floor(index(seconds - 0.7))),
    Math.min(flux.length, Math.ceil(index(seconds + 0.7))),
  );
  around.sort();
  let other = 0;
  for (let i = Math.max(0, peak - 40); i <= Math.min(flux.length - 1, peak + 40); i++) {
    if (Math.abs(i - peak) > PEAK_REACH && flux[i]! > other) other = flux[i]!;
  }
  const before = meanWeight(seconds - 0.12, seconds - 0.03);
  const after = meanWeight(seconds + 0.06, seconds + 0.15);
  const measured = [
    Math.log(1 + at),
    at / (greatest(weight, seconds - 0.02, seconds + 0.08) + 1e-6),
    Math.log((at + 0.5) / ((around[around.length >> 1] ?? 0) + 0.5)),
    greatest(turn, seconds - 0.01, seconds + 0.04),
    Math.log((after + 1) / (before + 1)),
    riseDb,
    Math.log((at + 0.5) / (other + 0.5)),
    Math.log(1 + after),
    meanWeight(seconds + 0.2, seconds + 0.4) / (after + 1e-6),
  ];
  const logOdds = measured.reduce((total, value, index) => total + value * SOFT_WEIGHTS[index]!, SOFT_BIAS);
  return Float64Array.of(logOdds, ...measured, greatest(longTurn, seconds - 0.05, seconds + 0.2));
}

/**
 * @param riseDbNear greatest rise of energy within 60 ms of a time in seconds
 * @returns soft onsets with a likelihood above `least`, in order
 */
export function findSoftOnsets(
  novelty: TonalNovelty,
  riseDbNear: (seconds: number) => number,
  least: number,
): SoftOnset[] {
  const found: SoftOnset[] = [];
  for (const peak of fluxPeaks(novelty)) {
    const seconds = peakSeconds(novelty, peak);
    const row = softFeatures(novelty, peak, riseDbNear(seconds));
    if (row[GROWTH_FEATURE]! < LEAST_GROWTH) continue;
    const likelihood = likelihoodByTrees(row, SOFT_TREES);
    if (likelihood < least) continue;
    const previous = found.at(-1);
    if (previous && seconds - previous.seconds < REFRACTORY_SECONDS) {
      if (likelihood > previous.likelihood + 0.3) found[found.length - 1] = { seconds, likelihood };
    } else found.push({ seconds, likelihood });
  }
  return found;
}
