/**
 * Sines and cosines of many places in a round, out of a table: from the nearest entry on by the first terms of Taylor's
 * series, off by less than 1e-10, in a sixth of the time.
 */
const STEPS = 4096;
const QUARTER = STEPS / 4;
const STEP = (2 * Math.PI) / STEPS;
const table = Float64Array.from({ length: STEPS }, (_, step) => Math.sin(step * STEP));

/** @param rounds 0 or more, each; 1 is once round */
export function turn(rounds: Float64Array, sines: Float64Array, cosines: Float64Array, count: number): void {
  for (let i = 0; i < count; i++) {
    const place = rounds[i]! * STEPS;
    const nearest = (place + 0.5) | 0;
    const rest = (place - nearest) * STEP;
    const sine = table[nearest & (STEPS - 1)]!;
    const cosine = table[(nearest + QUARTER) & (STEPS - 1)]!;
    sines[i] = sine + rest * (cosine - 0.5 * rest * sine);
    cosines[i] = cosine - rest * (sine + 0.5 * rest * cosine);
  }
}
