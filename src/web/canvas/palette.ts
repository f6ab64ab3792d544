/** The colour of a slice: how bright it sounds, placed among the slices of its own source. */

/** From dark to bright: plum, blue, sea, moss, sand. */
const STOPS: readonly [red: number, green: number, blue: number][] = [
  [0x3b, 0x2a, 0x5a],
  [0x2f, 0x5d, 0x8c],
  [0x1e, 0x8a, 0x83],
  [0x8d, 0xa6, 0x3a],
  [0xe0, 0xa5, 0x26],
];

/** On dark paper the colours are mixed with this share of white, so that the darkest can be seen. */
/** Colours that mark patterns, by their places: apart from each other on paper and at night. */
export const PATTERN_MARKS = ['#b8543a', '#c98a1b', '#7f8f2a', '#2e8b6a', '#2b7fa3', '#5a62b5', '#9a4f96', '#7a6a58'];

export const NIGHT_LIFT = 0.26;

/**
 * Colour at a place from 0 (dark) to 1 (bright).
 * @param lift share of white mixed in, 0..1
 */
export function brightnessColour(place: number, lift = 0): string {
  const at = Math.max(0, Math.min(1, place)) * (STOPS.length - 1);
  const below = Math.min(STOPS.length - 2, Math.floor(at));
  const share = at - below;
  const mix = STOPS[below]!.map((value, index) => {
    const colour = value + (STOPS[below + 1]![index]! - value) * share;
    return Math.round(colour + (255 - colour) * lift);
  });
  return `rgb(${mix.join(', ')})`;
}

/**
 * Colours for brightnesses in Hz: on a logarithmic scale between the 5th and the 95th percentile of the list, so that
 * colours spread; the middle colour for all when they are alike.
 */
export function sliceColours(brightnessHz: readonly number[], lift = 0): string[] {
  const logs = brightnessHz.map((hz) => Math.log2(Math.max(20, hz)));
  const sorted = [...logs].sort((a, b) => a - b);
  const percentile = (share: number) => sorted[Math.round((sorted.length - 1) * share)] ?? 0;
  const low = percentile(0.05);
  const high = percentile(0.95);
  return logs.map((value) => brightnessColour(high - low < 0.05 ? 0.5 : (value - low) / (high - low), lift));
}
