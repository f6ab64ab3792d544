/** Where and in which bands a slice is listened to. Times in ms from its start, bands by their edges in Hz. */

/** Middles of windows of 23 ms (1024 samples at 44.1 kHz); the first is what sounded before. */
export const CENTRES_MS = [-14, 6, 14, 24, 38, 56, 80, 112, 155, 210, 280, 370] as const;
export const BAND_EDGES_HZ = [
  20, 64, 107, 150, 193, 280, 366, 452, 600, 800, 1050, 1400, 1900, 2600, 3600, 4900, 6600, 8800, 11500, 14500, 20000,
] as const;
/** Share of what sounded before that is taken still to sound in each window after it. */
export const STILL_SOUNDING = [1, 1, 1, 0.8, 0.8, 0.7, 0.6, 0.5, 0.4, 0.3, 0.2] as const;

/** Of windows of 5.8 ms: the course of the attack. */
export const SHORT_CENTRES_MS = [1.5, 4.5, 7.5, 10.5, 13.5, 18, 24, 30, 38] as const;
export const SHORT_EDGES_HZ = [20, 600, 2000, 6000, 20000] as const;

/** Of windows of 93 ms: the lowest tones, and how tonal it is. */
export const LONG_CENTRES_MS = [49, 116] as const;
export const LOW_EDGES_HZ = [22, 38, 54, 70, 86, 102, 124, 151, 183, 226, 280, 350, 440, 560, 720, 950] as const;
export const TONAL_EDGES_HZ = [60, 250, 500, 1000, 2000, 4000, 8000, 16000] as const;

export const BANDS = BAND_EDGES_HZ.length - 1;
export const WINDOWS = CENTRES_MS.length;
/** Windows from the start on. */
export const AFTER = WINDOWS - 1;
/** Rises are told of so many windows. */
export const RISES = 4;

/** Where each group of numbers begins, one after another. */
const sizes = {
  /** Levels in each window and band. */
  levels: AFTER * BANDS,
  /** What of them is new. */
  news: AFTER * BANDS,
  before: BANDS,
  rises: RISES * BANDS,
  attack: SHORT_CENTRES_MS.length * (SHORT_EDGES_HZ.length - 1),
  low: LONG_CENTRES_MS.length * (LOW_EDGES_HZ.length - 1),
  /** How far the strongest partial stands out, and how uneven the spectrum is, in each band. */
  tonal: LONG_CENTRES_MS.length * 2 * (TONAL_EDGES_HZ.length - 1),
  /** Which windows the slice reaches, from the second on. */
  reached: AFTER - 1,
  length: 1,
  /** Level of each window against the loudest. */
  whole: AFTER,
  wholeBefore: 1,
  lowShare: LONG_CENTRES_MS.length,
};
type Group = keyof typeof sizes;

let at = 0;
export const GROUP_AT = Object.fromEntries(
  Object.entries(sizes).map(([name, size]) => {
    at += size;
    return [name, at - size];
  }),
) as Record<Group, number>;
/** Numbers that tell a slice. */
export const EAR_SIZE = at;
