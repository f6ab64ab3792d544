/** What lies where in the picture of a source. */

/** Heights in pixels: ruler and numbers above, landscape below; the skyline takes the rest. */
const RULER_HEIGHT = 17;
export const NUMBER_HEIGHT = 20;
const GAP = 6;
/** The landscape gets this share of the height, within these bounds. */
const LANDSCAPE_SHARE = 0.24;
const LANDSCAPE_HEIGHTS = [16, 56] as const;
/** Lower than this there is no room for a ruler. */
const RULER_FROM_HEIGHT = 110;
/** What lies where in a source of this height, in pixels from its top; nothing ever has less than no height. */
export interface SourceBox {
  rulerHeight: number;
  numberTop: number;
  skylineTop: number;
  /** The base line. */
  skylineBottom: number;
  landscapeTop: number;
  landscapeBottom: number;
}

export function sourceBox(height: number): SourceBox {
  const rulerHeight = height >= RULER_FROM_HEIGHT ? RULER_HEIGHT : 0;
  const [least, most] = LANDSCAPE_HEIGHTS;
  const landscape = Math.min(height / 3, Math.max(least, Math.min(most, height * LANDSCAPE_SHARE)));
  const skylineTop = Math.min(height / 2, rulerHeight + NUMBER_HEIGHT + 2);
  return {
    rulerHeight,
    numberTop: rulerHeight,
    skylineTop,
    skylineBottom: Math.max(skylineTop, height - landscape - GAP),
    landscapeTop: height - landscape,
    landscapeBottom: height - 2,
  };
}
