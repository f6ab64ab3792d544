/** Spectral flatness between two bins: the geometric mean of the powers over their mean; near 0 for tones, 0.56 for noise. */
export function flatness(powers: Float64Array, first: number, last: number): number {
  let [sum, logs] = [0, 0];
  for (let bin = first; bin < last; bin++) {
    const power = powers[bin]! + 1e-12;
    sum += power;
    logs += Math.log(power);
  }
  const count = Math.max(1, last - first);
  return Math.exp(logs / count) / (sum / count);
}
