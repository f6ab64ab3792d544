/**
 * A low-pass filter that costs three sums a sample, delays nothing and sees no further than `passes * span / 2` to either
 * side: running means, one after another. Its response is that of one mean, `sin(pi f span) / (span sin(pi f))`, to the power of
 * the passes (S. W. Smith, "The Scientist and Engineer's Guide to Digital Signal Processing", chapter 15).
 * @param span frames of each mean, an odd number
 */
export function runningMeans(samples: Float32Array, span: number, passes: number): Float32Array {
  const wing = (passes * (span - 1)) / 2;
  const sound = new Float64Array(samples.length + 2 * wing);
  sound.set(samples, wing);
  const before = new Float64Array(span);
  for (let pass = 0; pass < passes; pass++) {
    before.fill(0);
    let sum = 0;
    for (let i = 0, slot = 0; i < sound.length; i++) {
      const value = sound[i]!;
      sum += value - before[slot]!;
      before[slot] = value;
      slot = slot + 1 === span ? 0 : slot + 1;
      sound[i] = sum / span;
    }
  }
  // Each mean comes half its span late.
  return new Float32Array(sound.subarray(2 * wing, 2 * wing + samples.length));
}
