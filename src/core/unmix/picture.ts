/** What is seen of a slice that is taken apart: level and layer at each moment in each band, and the border. */
import type { Spectrograph } from './spectra.ts';

/** Bands of the picture, equal steps of pitch from {@link LOWEST_HZ} to {@link HIGHEST_HZ}. */
export const PICTURE_BANDS = 48;
export const LOWEST_HZ = 60;
export const HIGHEST_HZ = 18_000;
const RANGE_DB = 70;

export interface ApartPicture {
  rows: number;
  /** Where the first row stands, and how far the next are from each other, in seconds from the slice's start. */
  firstSeconds: number;
  rowSeconds: number;
  /** By row and band from the lowest: 0 silent, 1 the loudest of the slice. */
  levels: Float32Array;
  /** By row and band: share of the brighter layer, 0..1; null where there is but one. */
  upper: Float32Array | null;
  /** Which layer is the brighter one. */
  upperPlace: number | null;
  /** Where the brighter one begins as it was found, before it was moved by hand, in Hz by row. */
  borderHz: Float32Array | null;
}

export function bandHz(band: number): number {
  return LOWEST_HZ * (HIGHEST_HZ / LOWEST_HZ) ** (band / PICTURE_BANDS);
}

export function pictureOf(
  powers: Float32Array,
  upper: Float32Array | null,
  border: Float32Array | null,
  upperPlace: number | null,
  spectrograph: Spectrograph,
  rows: number,
): ApartPicture {
  const { bins, size, hop, sampleRate } = spectrograph;
  const binOf = (hz: number) => (hz * size) / sampleRate;
  const edges = Array.from({ length: PICTURE_BANDS + 1 }, (_, band) => binOf(bandHz(band)));
  const levels = new Float32Array(rows * PICTURE_BANDS);
  const shares = upper && new Float32Array(rows * PICTURE_BANDS);
  for (let row = 0; row < rows; row++) {
    for (let band = 0; band < PICTURE_BANDS; band++) {
      const first = Math.max(1, Math.min(bins - 1, Math.floor(edges[band]!)));
      const last = Math.min(bins, Math.max(first + 1, Math.ceil(edges[band + 1]!)));
      let [sum, own] = [0, 0];
      for (let bin = first; bin < last; bin++) {
        const power = powers[row * bins + bin]!;
        sum += power;
        if (upper) own += power * upper[row * bins + bin]!;
      }
      const i = row * PICTURE_BANDS + band;
      levels[i] = sum / (last - first);
      if (shares) shares[i] = own / (sum + 1e-30);
    }
  }
  const loudest = levels.reduce((most, level) => Math.max(most, level), 1e-20);
  const shown = levels.map((level) => Math.max(0, 1 + (10 * Math.log10(level / loudest + 1e-12)) / RANGE_DB));
  const borderHz = border && border.map((bin) => (bin * sampleRate) / size);
  const times = { firstSeconds: spectrograph.secondsOf(0), rowSeconds: hop / sampleRate };
  return { rows, ...times, levels: shown, upper: shares, upperPlace, borderHz };
}
