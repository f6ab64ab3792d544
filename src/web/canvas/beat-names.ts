/** Which beats of a pattern are named where not all have room: those that a musician would count. */

/** Room that a bar and a beat take, in pixels. */
const NAME_PX = 40;

/**
 * Beats from one named beat to the next: all, every part of a bar that divides it, each bar, each second, fourth … bar.
 * @param perBar counted beats of a bar
 */
export function namedBeatStep(perBar: number, pixelsPerBeat: number): number {
  const fits = (beats: number) => beats * pixelsPerBeat >= NAME_PX;
  for (let beats = 1; beats < perBar; beats++) if (perBar % beats === 0 && fits(beats)) return beats;
  let beats = perBar;
  // A pattern has an end, and so has this: what is drawn is at least a pixel wide.
  while (!fits(beats) && beats < 1e6) beats *= 2;
  return beats;
}
