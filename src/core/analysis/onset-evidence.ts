/**
 * What speaks for and against a candidate beside the rises of its bands: whether the sound as a whole falls there (a note
 * that is let go makes some bands rise, too), whether anything of it stays (the crackle of a record does not), whether a
 * new note begins under what rings (tonal-novelty.ts), and what else may begin nearby.
 */
import { BAND_COUNT, type BandEnergies } from './band-energies.ts';
import type { RiseMaps } from './onset-features.ts';
import { NOVELTY_LEAD_SECONDS, type TonalNovelty } from './tonal-novelty.ts';

/** In hops (about 1 ms). */
const BEFORE = { from: -30, to: -3 };
const AFTER = { from: 12, to: 45 };
const STAYS = { from: 6, to: 20 };
const ATTACK = { from: -2, to: 4 };
/** Whether it still grows a while after it began. */
const YOUNG = { from: 3, to: 10 };
const GROWN = { from: 25, to: 45 };
const SHORTLY_BEFORE = { from: -40, to: -5 };
const FIRST_HIGH_BAND = 5;
const CLIP_DB = 24;
/** The flux shows a note that begins at once within so much of it. */
const FLUX_REACH_SECONDS = 0.03;
const GROWTH_SECONDS = { before: [-0.12, -0.03], after: [0.03, 0.12] } as const;
const AROUND_SECONDS = 0.25;
const LOGIT_CLIP = 5;
const NEAR_HOPS = 90;
const APART_HOPS = 6;

export interface Candidate {
  hop: number;
  /** By the rises alone. */
  likelihood: number;
}

/**
 * A row of numbers for each candidate: the log odds by its rises; the change of all that sounds, in dB; the most that stays
 * in any band; the loudest band after it against the loudest of the source; how short its attack is in the high bands; the
 * flux, the flux against what sounds and against the greatest other one nearby, the turn and the growth; the log odds of the
 * likeliest other candidate shortly before, and after; how much it still grows; and how much brighter was what came before.
 */
export function evidenceRows(
  candidates: readonly Candidate[],
  energies: BandEnergies,
  { sums, floor }: RiseMaps,
  novelty: TonalNovelty,
  sampleRate: number,
): Float64Array[] {
  const { length } = energies;
  const hopSeconds = energies.hopFrames / sampleRate;
  const mean = (sum: Float64Array, from: number, to: number) => {
    const a = Math.max(0, Math.min(length, from));
    const b = Math.max(0, Math.min(length, to));
    return b > a ? (sum[b]! - sum[a]!) / (b - a) : 0;
  };
  const dB = (ratio: number) => Math.max(-CLIP_DB, Math.min(CLIP_DB, 10 * Math.log10(ratio)));
  let loudest = 1e-12;
  for (const sum of sums) for (let i = 0; i + 10 <= length; i += 5) loudest = Math.max(loudest, mean(sum, i, i + 10));
  const { flux, turn, weight } = novelty;
  const place = (seconds: number) => Math.round(seconds / novelty.hopSeconds);
  const greatest = (curve: Float32Array, from: number, to: number) => {
    let most = 0;
    for (let i = Math.max(0, from); i <= Math.min(curve.length - 1, to); i++) if (curve[i]! > most) most = curve[i]!;
    return most;
  };
  const meanOf = (curve: Float32Array, from: number, to: number) => {
    let sum = 0;
    let count = 0;
    for (let i = Math.max(0, from); i <= Math.min(curve.length - 1, to); i++, count++) sum += curve[i]!;
    return sum / Math.max(1, count);
  };
  const total = (hop: number, { from, to }: { from: number; to: number }) =>
    sums.reduce((all, sum) => all + mean(sum, hop + from, hop + to), 0);
  const highShareDb = (hop: number, span: { from: number; to: number }) => {
    const high = sums.slice(FIRST_HIGH_BAND).reduce((all, sum) => all + mean(sum, hop + span.from, hop + span.to), 0);
    return dB((high + floor) / (total(hop, span) + floor));
  };
  return candidates.map(({ hop, likelihood }, index) => {
    let before = 0;
    let after = 0;
    let stays = -CLIP_DB;
    let level = 0;
    for (const sum of sums) {
      before += mean(sum, hop + BEFORE.from, hop + BEFORE.to);
      after += mean(sum, hop + AFTER.from, hop + AFTER.to);
      const quiet = mean(sum, hop + BEFORE.from, hop + BEFORE.to) + floor;
      stays = Math.max(stays, dB((mean(sum, hop + STAYS.from, hop + STAYS.to) + floor) / quiet));
      level = Math.max(level, mean(sum, hop, hop + 8));
    }
    let [peak, rest] = [0, 0];
    for (let band = FIRST_HIGH_BAND; band < BAND_COUNT; band++) {
      const values = energies.bands[band]!;
      for (let at = Math.max(0, hop + ATTACK.from); at < Math.min(length, hop + ATTACK.to); at++) {
        if (values[at]! > peak) peak = values[at]!;
      }
      rest = Math.max(rest, mean(sums[band]!, hop + STAYS.from, hop + STAYS.to));
    }
    const at = place(hop * hopSeconds + NOVELTY_LEAD_SECONDS);
    const reach = place(FLUX_REACH_SECONDS);
    const around = place(AROUND_SECONDS);
    const most = greatest(flux, at - reach, at + reach);
    const other = Math.max(greatest(flux, at - around, at - reach - 3), greatest(flux, at + reach + 3, at + around));
    const sounds = greatest(weight, at - reach, at + reach + 3);
    const weightOf = ([from, to]: readonly [number, number]) =>
      meanOf(weight, place(hop * hopSeconds + from), place(hop * hopSeconds + to));
    let [earlier, later] = [0, 0];
    for (let k = index - 1; k >= 0 && hop - candidates[k]!.hop <= NEAR_HOPS; k--) {
      if (hop - candidates[k]!.hop >= APART_HOPS) earlier = Math.max(earlier, candidates[k]!.likelihood);
    }
    for (let k = index + 1; k < candidates.length && candidates[k]!.hop - hop <= NEAR_HOPS; k++) {
      if (candidates[k]!.hop - hop >= APART_HOPS) later = Math.max(later, candidates[k]!.likelihood);
    }
    return Float64Array.of(
      Math.max(-LOGIT_CLIP, Math.min(LOGIT_CLIP, Math.log((likelihood + 1e-9) / (1 - likelihood + 1e-9)))),
      dB((after + floor) / (before + floor)),
      stays,
      Math.max(-60, 10 * Math.log10((level + loudest * 1e-7) / loudest)),
      dB((peak + floor) / (rest + floor)),
      Math.log(1 + most),
      most / (sounds + 1e-6),
      Math.log((most + 0.5) / (other + 0.5)),
      greatest(turn, at - reach, at + reach),
      Math.log((weightOf(GROWTH_SECONDS.after) + 1) / (weightOf(GROWTH_SECONDS.before) + 1)),
      earlier,
      later,
      dB((total(hop, GROWN) + floor) / (total(hop, YOUNG) + floor)),
      highShareDb(hop, SHORTLY_BEFORE) - highShareDb(hop, AFTER),
    );
  });
}
