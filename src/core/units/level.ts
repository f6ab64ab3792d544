/** Levels: decibels of amplitude, and the law from velocity to level. */

const LN10_20TH = Math.LN10 / 20;

/** Amplitude factor of a level in dB: `10^(dB/20)`. `-Infinity` gives 0. */
export function dbToGain(db: number): number {
  // Half as dear as a power, for it is worked out for every sample of what presses and lifts.
  return Math.exp(db * LN10_20TH);
}

/** Level in dB of an amplitude factor (0 or more): `20 log10(gain)`; 0 gives `-Infinity`. */
export function gainToDb(gain: number): number {
  return 20 * Math.log10(gain);
}

/** How strongly a velocity of 0..1 acts on the level. */
export type VelocityLaw = 'square' | 'linear' | 'none';

/** Amplitude factor 0..1 of a velocity 0..1. The square law is the default in use for samplers (common practice). */
export function velocityToGain(velocity: number, law: VelocityLaw = 'square'): number {
  if (law === 'none') return velocity > 0 ? 1 : 0;
  return law === 'linear' ? velocity : velocity * velocity;
}

/**
 * Left amplitude factor of a balance from -1 (left) to 1 (right). The centre is 1 on both sides, so that a part left alone
 * sounds exactly as its source; towards one side the other is turned down along a quarter cosine.
 */
export function panLeftGain(pan: number): number {
  if (pan <= 0) return 1;
  return pan >= 1 ? 0 : Math.cos((pan * Math.PI) / 2);
}

/** Right amplitude factor of a balance: see {@link panLeftGain}. */
export function panRightGain(pan: number): number {
  return panLeftGain(-pan);
}
