/** Which of the likely onsets count as hits: the water line. Apart from finding them, so that the page need not know how. */

/** A moment at which a hit may begin. */
export interface Onset {
  /** Marker position: just before the attack, on a zero crossing. */
  frame: number;
  /**
   * Where the attack begins, as likely earlier as later. A cut belongs before all of an attack, but what is moved in time
   * is to be moved by the attack itself.
   */
  attackFrame: number;
  /** 0..1; hits with a strength of `1 - sensitivity` and more become slices. Of sure hits the louder is the stronger. */
  strength: number;
  /** How sure it is that a hit begins here, 0..1: `strength` before loudness was weighed in. */
  likelihood: number;
}

export interface OnsetSelection {
  /** 0..1; 0.5 finds what most people would mark. */
  sensitivity: number;
  /** Of hits nearer than this the stronger one stays, in milliseconds. */
  minGapMs: number;
}

export const DEFAULT_SELECTION: OnsetSelection = { sensitivity: 0.5, minGapMs: 18 };

/** Below this sensitivity a flam is one hit: strokes nearer to each other than this. */
const FLAM_SENSITIVITY = 0.35;
const FLAM_MS = 45;
/** A hit of this likelihood keeps its place when a stronger one follows within the least gap. */
const SURE_LIKELIHOOD = 0.8;

/**
 * The onsets that stand out of the water at a sensitivity, thinned to the least gap. At low sensitivity the strokes of
 * a flam or drag (25 to 40 ms apart, common practice) are one hit that begins with the first of them to stand out.
 */
export function selectOnsets(onsets: readonly Onset[], sampleRate: number, selection: OnsetSelection): Onset[] {
  const threshold = 1 - selection.sensitivity;
  const isOneStroke = selection.sensitivity < FLAM_SENSITIVITY;
  const gap = (Math.max(selection.minGapMs, isOneStroke ? FLAM_MS : 0) / 1000) * sampleRate;
  const kept: Onset[] = [];
  for (const onset of onsets) {
    if (onset.strength < threshold) continue;
    const previous = kept.at(-1);
    if (!previous || onset.frame - previous.frame >= gap) kept.push(onset);
    else if (previous.likelihood >= SURE_LIKELIHOOD) {
      // The first is where the sound begins, the second where it is loudest: one hit.
      kept[kept.length - 1] = { ...previous, strength: Math.max(previous.strength, onset.strength) };
    } else if (onset.strength > previous.strength) kept[kept.length - 1] = onset;
  }
  return kept;
}
