/** Repeats inside a strip: where each begins, how loud and how high it is. */
import type { EventValues } from '../params/tables.ts';

/** One of the starts of a strip. */
export interface Repeat {
  /** Of the strip's length, 0..1. */
  startShare: number;
  lengthShare: number;
  /** Added to the strip's own. */
  gainDb: number;
  tuneCents: number;
}

const ONCE: readonly Repeat[] = [{ startShare: 0, lengthShare: 1, gainDb: 0, tuneCents: 0 }];

/**
 * Spreads the `n` starts of a strip over its length. Each distance is `4^(-p / (n - 1))` times the one before, where p is
 * `repeatPull` (-1..1): even at 0; at 1 the last is a quarter of the first, at -1 four times as long. Level and pitch go
 * in equal steps from nothing at the first to `repeatGainDb` and `repeatCents` at the last.
 */
export function repeatsOf({ repeats, repeatPull, repeatGainDb, repeatCents }: EventValues): readonly Repeat[] {
  if (repeats <= 1) return ONCE;
  const ratio = 4 ** (-repeatPull / (repeats - 1));
  const whole = ratio === 1 ? repeats : (1 - ratio ** repeats) / (1 - ratio);
  let startShare = 0;
  return Array.from({ length: repeats }, (_, place) => {
    const lengthShare = ratio ** place / whole;
    const way = place / (repeats - 1);
    const repeat = { startShare, lengthShare, gainDb: repeatGainDb * way, tuneCents: repeatCents * way };
    startShare = ratio === 1 ? (place + 1) / repeats : startShare + lengthShare;
    return repeat;
  });
}
