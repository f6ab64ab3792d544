/** Whether sounds with a pitch are notes of one instrument rather than drums that have a pitch, too. */

export interface Tuned {
  midi: number;
  /** Distance from the note in cents. */
  cents: number;
}

/** Of fewer nothing can be told: random ones would be in tune once in some hundred times. */
const FEWEST = 8;
/** Drums of one kit have three pitches, seldom four, and each its own. */
const FEWEST_NOTES = 4;
/** Instruments have one tuning: mean resultant length of the distances from equal temperament (K. Mardia, Statistics of Directional Data, 1972). */
const IN_TUNE = 0.78;

/** @param pitches of all struck sounds of a loop; null without a pitch */
export function isTuned(pitches: readonly (Tuned | null)[]): boolean {
  const heard = pitches.filter((one) => one !== null);
  if (heard.length < FEWEST || heard.length < pitches.length / 2) return false;
  if (new Set(heard.map(({ midi }) => midi)).size < FEWEST_NOTES) return false;
  let [x, y] = [0, 0];
  for (const { cents } of heard) {
    x += Math.cos((2 * Math.PI * cents) / 100);
    y += Math.sin((2 * Math.PI * cents) / 100);
  }
  return Math.hypot(x, y) / heard.length >= IN_TUNE;
}
