/** Periodic Hann window: `0.5 - 0.5 cos(2 pi n / size)`. */
export function hannWindow(size: number): Float64Array {
  return Float64Array.from({ length: size }, (_, n) => 0.5 - 0.5 * Math.cos((2 * Math.PI * n) / size));
}
