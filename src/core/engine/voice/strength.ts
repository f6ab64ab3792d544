/** How the strength of a press becomes level, and which of the sounds on a key it reaches. */
import type { ZoneFragment } from '../plan/fragments.ts';
import { ZONE, type ZoneState } from '../zone-state.ts';

const LINEAR = 1;
const SOFT = 2;

/** The strength that counts, 0..1: as struck, or the zone's own. */
export function strengthOf({ values }: ZoneState, velocity: number): number {
  const fixed = values[ZONE.fixedVelocity]!;
  return fixed > 0 ? fixed / 127 : Math.max(0, Math.min(1, velocity));
}

/**
 * Amplitude factor of a strength 0..1: `v^2`, `v` or `sqrt(v)` by the zone's law, as far as its share says. The square is
 * the default in use for samplers (common practice).
 */
export function strengthGain({ values }: ZoneState, velocity: number): number {
  const law = values[ZONE.velocityLaw]!;
  const full = law === LINEAR ? velocity : law === SOFT ? Math.sqrt(velocity) : velocity * velocity;
  const share = values[ZONE.velocityShare]!;
  return share === 1 ? full : 1 - share * (1 - full);
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
