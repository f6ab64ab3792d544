/** How the strength of a press becomes level. */
import type { ZoneValues } from '../params/tables.ts';

/**
 * Amplitude factor of a strength 0..1, in the order of the choices of the table. The square is the default in use for
 * samplers (common practice).
 */
export const STRENGTH_LAWS: Readonly<Record<ZoneValues['velocityLaw'], (strength: number) => number>> = {
  square: (strength) => strength * strength,
  linear: (strength) => strength,
  soft: Math.sqrt,
};

/** As far as the strength counts: 0 is always at full. @param level by the law */
export const sharedLevel = (level: number, share: number): number => (share === 1 ? level : 1 - share * (1 - level));
