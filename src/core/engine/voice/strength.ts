/** How the strength of a press becomes level, and which of the sounds on a key it reaches. */
import type { ZoneFragment } from '../plan/fragments.ts';
import { sharedLevel, STRENGTH_LAWS } from '../../strips/strength-laws.ts';
import { ZONE, type ZoneState } from '../zone-state.ts';

const LAWS = Object.values(STRENGTH_LAWS);

/** The strength that counts, 0..1: as struck, or the zone's own. */
export function strengthOf({ values }: ZoneState, velocity: number): number {
  const fixed = values[ZONE.fixedVelocity]!;
  return fixed > 0 ? fixed / 127 : Math.max(0, Math.min(1, velocity));
}

/** Amplitude factor of a strength 0..1, by the zone's law, as far as its share says. */
export function strengthGain({ values }: ZoneState, velocity: number): number {
  return sharedLevel(LAWS[values[ZONE.velocityLaw]!]!(velocity), values[ZONE.velocityShare]!);
}

/** MIDI's step of a strength 0..1: 1..127. */
export function velocityStep(velocity: number): number {
  return Math.max(1, Math.min(127, Math.round(velocity * 127)));
}

/**
 * How much of a zone a strength brings, 0..1: two zones that meet share the steps around their border so that their powers
 * add up to one (`sin^2 + cos^2`).
 * @param step 1..127
 */
export function layerGain(
  { lowVelocity, highVelocity, velocityFade }: Pick<ZoneFragment, 'lowVelocity' | 'highVelocity' | 'velocityFade'>,
  step: number,
): number {
  if (velocityFade === 0) return step >= lowVelocity && step <= highVelocity ? 1 : 0;
  const rise = lowVelocity <= 1 ? 1 : (step - (lowVelocity - 0.5 - velocityFade / 2)) / velocityFade;
  const fall = highVelocity >= 127 ? 1 : (highVelocity + 0.5 + velocityFade / 2 - step) / velocityFade;
  const share = Math.max(0, Math.min(1, rise, fall));
  return share === 1 ? 1 : Math.sin((share * Math.PI) / 2);
}
