/**
 * Adds a signal to another one from a frame of it on; what lies outside is left out. (A function of its own, so that it is
 * compiled once for all that is added.)
 */
export function addSamples(target: Float32Array, startFrame: number, samples: Float32Array, gain = 1): void {
  const end = Math.min(samples.length, target.length - startFrame);
  for (let i = Math.max(0, -startFrame); i < end; i++) target[startFrame + i]! += gain * samples[i]!;
}
