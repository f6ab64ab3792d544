/** Whose the numbers of a slice's spectra are: shares of its layers and of the ring, 0..1. */
import type { RingWish } from './ring.ts';
import type { Spectra, Spectrograph } from './spectra.ts';

/** Low notes that may be left in. */
const LOW_HZ = 150;
/** The soft edge at which shares are by power. */
const BY_POWER_PERCENT = 30;
const HARDEST = 24;

/** Shares of one of two layers, 0..1. @param softEdgePercent see ApartWish */
export function sharesOf(one: Float32Array, other: Float32Array, softEdgePercent: number): Float32Array {
  const exponent = Math.min(HARDEST, BY_POWER_PERCENT / Math.max(1, softEdgePercent));
  return one.map((power, i) => 1 / (1 + ((other[i]! + 1e-20) / (power + 1e-20)) ** exponent));
}

/** Shares of the ring, where and as far as it is taken out. */
export function ringShares(
  ring: Float32Array,
  fitted: readonly Float32Array[],
  { percent, fromSeconds, untilSeconds, leavesLow }: RingWish,
  spectrograph: Spectrograph,
): Float32Array {
  const { bins, size, sampleRate } = spectrograph;
  const lowest = leavesLow ? (LOW_HZ * size) / sampleRate : 0;
  return ring.map((power, i) => {
    const seconds = spectrograph.secondsOf(Math.floor(i / bins));
    if (i % bins < lowest || seconds < fromSeconds || seconds > untilSeconds) return 0;
    const own = fitted.reduce((sum, powers) => sum + powers[i]!, 0);
    return ((percent / 100) * power) / (power + own + 1e-20);
  });
}

/** An attack is as long as this, and what comes after it so much later, in seconds. */
const ATTACK_SECONDS = 0.012;
const AFTER_ATTACK_SECONDS = 0.024;

/**
 * Exponent of the shares of a row: a share by power leaves `share^2` of the power that both have, which is too little of
 * an attack; its root leaves as much as there was.
 */
export function sharingPowers(attacks: 'both' | 'shared', rows: number, spectrograph: Spectrograph): Float64Array {
  return Float64Array.from({ length: rows }, (_, row) => {
    if (attacks === 'shared') return 1;
    const after = (spectrograph.secondsOf(row) - ATTACK_SECONDS) / (AFTER_ATTACK_SECONDS - ATTACK_SECONDS);
    return 0.5 + 0.5 * Math.max(0, Math.min(1, after));
  });
}

/** Spectra as far as they are somebody's. */
export function shared({ rows, bins, re, im }: Spectra, share: Float32Array): Spectra {
  return { rows, bins, re: re.map((value, i) => value * share[i]!), im: im.map((value, i) => value * share[i]!) };
}

/** Where the power lies, as a bin. */
export function centroid(powers: Float32Array, bins: number): number {
  let [weighed, all] = [0, 1e-30];
  for (let i = 0; i < powers.length; i++) {
    const amount = Math.sqrt(powers[i]!);
    weighed += amount * (i % bins);
    all += amount;
  }
  return weighed / all;
}
