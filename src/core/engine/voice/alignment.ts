/** Where a crossing from one sound to another is best made: where the waves of both lie alike. */

/** What is compared, and how far around: the longest period of a bass, in frames at 44.1 kHz. */
const WINDOW_FRAMES = 529;
const REACH_FRAMES = 360;
/** Looked for roughly first, then around the best, for it is done between two blocks of sound. */
const ROUGH_STRIDE = 12;
const ROUGH_STEP = 6;
const FINE_STRIDE = 4;
/** Of two that are as alike the nearer one: this much less counts what lies farthest. */
const FAR_PENALTY = 0.1;

/** Both channels; the same array twice for a sound of one. */
export interface Samples {
  readonly left: Float32Array;
  readonly right: Float32Array;
}

/**
 * Frames from `frame` at which `sound` goes on most like `wanted` does from `wantedFrame`: the greatest normalised
 * correlation, as in overlap-add of similar pieces (W. Verhelst and M. Roelands, ICASSP 1993). Allocates nothing.
 * @param from first frame of the sound that may be taken
 * @param to no frame from here on is looked at
 * @returns -360..360, 0 where there is no room
 */
export function alignment(
  wanted: Samples,
  wantedFrame: number,
  sound: Samples,
  frame: number,
  from: number,
  to: number,
): number {
  if (wantedFrame + WINDOW_FRAMES > wanted.left.length || frame + WINDOW_FRAMES > to) return 0;
  const least = Math.max(-REACH_FRAMES, from - frame);
  const most = Math.min(REACH_FRAMES, to - WINDOW_FRAMES - frame);
  let best = 0;
  let bestLikeness = 0;
  for (let offset = least; offset <= most; offset += ROUGH_STEP) {
    const farness = (FAR_PENALTY * Math.abs(offset)) / REACH_FRAMES;
    const found = likeness(wanted, wantedFrame, sound, frame + offset, ROUGH_STRIDE) * (1 - farness);
    if (found <= bestLikeness) continue;
    best = offset;
    bestLikeness = found;
  }
  const last = Math.min(most, best + ROUGH_STEP);
  bestLikeness = 0;
  for (let offset = Math.max(least, best - ROUGH_STEP); offset <= last; offset++) {
    const found = likeness(wanted, wantedFrame, sound, frame + offset, FINE_STRIDE);
    if (found <= bestLikeness) continue;
    best = offset;
    bestLikeness = found;
  }
  return best;
}

/** Correlation of two sounds from two frames on, over the power of the second; every `stride`th sample counts. */
function likeness(
  wanted: Samples,
  wantedFrame: number,
  { left, right }: Samples,
  frame: number,
  stride: number,
): number {
  let product = 0;
  let power = 1e-12;
  for (let i = 0; i < WINDOW_FRAMES; i += stride) {
    const a = left[frame + i]!;
    const b = right[frame + i]!;
    product += a * wanted.left[wantedFrame + i]! + b * wanted.right[wantedFrame + i]!;
    power += a * a + b * b;
  }
  return product / Math.sqrt(power);
}
