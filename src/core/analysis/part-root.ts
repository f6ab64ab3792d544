/** The root of a whole loop, and how to fit it to a song's. */

/** A note that was heard in a slice. */
export interface HeardNote {
  /** MIDI note, null where there was no pitch. */
  midi: number | null;
  /** How long it lasts, in any unit. */
  length: number;
}

/** Low notes carry the root: each octave down counts this much more. */
const OCTAVE_WEIGHT = 1.6;

/**
 * The note that lasts longest, low ones before high ones (common practice: the bass plays the root).
 * @returns 0 (C) to 11, or null when nothing has a pitch
 */
export function guessRoot(notes: readonly HeardNote[]): number | null {
  const weights = new Array<number>(12).fill(0);
  for (const { midi, length } of notes) {
    if (midi !== null) weights[midi % 12]! += length * OCTAVE_WEIGHT ** ((60 - midi) / 12);
  }
  const most = Math.max(...weights);
  return most > 0 ? weights.indexOf(most) : null;
}

/** The smallest shift in semitones, -6 to 5, that brings one root onto another. */
export function smallestShift(fromRoot: number, toRoot: number): number {
  return ((((toRoot - fromRoot + 6) % 12) + 12) % 12) - 6;
}
