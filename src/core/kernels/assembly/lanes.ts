/** Sums of the four lanes of a vector, always in the same order. */
export function sumOfLanes(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 2) + (f32x4.extract_lane(v, 1) + f32x4.extract_lane(v, 3));
}
