/** Where a cut does not click: zero crossings. */

/**
 * The last zero crossing at or before a frame, a rising one if there is a choice.
 * @param signal the sum (or mean) of the channels
 * @param reachFrames how far back to look
 * @returns the crossing's frame (the first sample on its new side); without one, the quietest frame in reach
 */
export function zeroCrossingBefore(signal: Float32Array, frame: number, reachFrames: number): number {
  if (frame <= 0) return 0;
  const last = Math.min(frame, signal.length - 1);
  const first = Math.max(1, last - reachFrames);
  let falling = -1;
  let quietest = last;
  for (let at = last; at >= first; at--) {
    const here = signal[at]!;
    const before = signal[at - 1]!;
    if (here >= 0 && before < 0) return at;
    if (falling < 0 && here <= 0 && before > 0) falling = at;
    if (Math.abs(here) < Math.abs(signal[quietest]!)) quietest = at;
  }
  return falling >= 0 ? falling : quietest;
}

/** The zero crossing nearest to a frame on either side; the quietest frame in reach when there is none. */
export function nearestZeroCrossing(signal: Float32Array, frame: number, reachFrames: number): number {
  if (frame <= 0) return 0;
  let quietest = Math.min(frame, signal.length - 1);
  for (let distance = 0; distance <= reachFrames; distance++) {
    for (const at of distance === 0 ? [frame] : [frame - distance, frame + distance]) {
      if (at < 1 || at >= signal.length) continue;
      if (signal[at - 1]! < 0 !== signal[at]! < 0) return at;
      if (Math.abs(signal[at]!) < Math.abs(signal[quietest]!)) quietest = at;
    }
  }
  return quietest;
}
