/** Bands of hearing: as wide as an ear's (B. R. Glasberg and B. C. J. Moore, Hearing Research 47, 1990, eq. 4). */

export const BANDS = 24;
/** ERB number of 22 kHz: the highest band goes up to there. */
const HIGHEST_ERB = 43;

/** Place on the ear's scale: equal steps are heard as equally far. */
function erbNumber(hz: number): number {
  return 21.4 * Math.log10(1 + 0.00437 * hz);
}

/** The band in which a frequency lies, 0..{@link BANDS}-1. */
export function bandOf(hz: number): number {
  return Math.min(BANDS - 1, Math.floor((erbNumber(hz) / HIGHEST_ERB) * BANDS));
}

/** Frequency where a band begins. */
export function bandStartHz(band: number): number {
  return (10 ** ((band / BANDS) * (HIGHEST_ERB / 21.4)) - 1) / 0.00437;
}

/** The band of each bin of a spectrum. */
export function bandsOfBins(bins: number, sampleRate: number): Uint8Array {
  const size = 2 * (bins - 1);
  return Uint8Array.from({ length: bins }, (_, bin) => bandOf((bin * sampleRate) / size));
}
