/** What a sound goes on like, told from what it has done. */

/** Against equations that are nearly the same, as share of the power. */
const RIDGE = 1e-7;
/** A prediction that gets this much louder than what it was made from is none. */
const MAX_GROWTH = 1.5;

/**
 * Goes on with a sum of tones that hold or die away: linear prediction by least squares, looking forwards only (the
 * covariance method: J. Makhoul, "Linear prediction: a tutorial review", Proc. IEEE 63, 1975). For tones that die away it is
 * exact, where methods that look backwards too, as Burg's, are not.
 * @param past at least three times as many samples as the order
 * @returns `count` samples that follow; null where they would grow
 */
export function predictOn(past: Float64Array, order: number, count: number): Float64Array | null {
  const coefficients = leastSquares(past, order);
  const all = new Float64Array(past.length + count);
  all.set(past);
  for (let n = past.length; n < all.length; n++) all[n] = weighted(all, n, coefficients);
  const most = MAX_GROWTH * past.reduce((peak, value) => Math.max(peak, Math.abs(value)), 0);
  const next = all.subarray(past.length);
  return next.every((value) => Math.abs(value) <= most) ? next : null;
}

/** The sum of the samples before a place, the nearest first, each times its factor. */
function weighted(samples: Float64Array, place: number, factors: Float64Array): number {
  let sum = 0;
  for (let j = 0; j < factors.length; j++) sum += factors[j]! * samples[place - 1 - j]!;
  return sum;
}

/** The factors of the last `order` samples that come nearest to each next one. */
function leastSquares(past: Float64Array, order: number): Float64Array {
  // Covariances of the samples with themselves i and j earlier. Those of the next diagonal place are the same sum, a
  // sample further back: one product comes in and one goes (Makhoul, section II).
  const rows = Array.from({ length: order + 1 }, () => new Float64Array(order + 1));
  for (let j = 0; j <= order; j++) rows[0]![j] = covariance(past, order, j);
  for (let i = 1; i <= order; i++) {
    for (let j = i; j <= order; j++) {
      const comes = past[order - i]! * past[order - j]!;
      const goes = past[past.length - i]! * past[past.length - j]!;
      rows[i]![j] = rows[i - 1]![j - 1]! + comes - goes;
    }
  }
  let power = 0;
  for (let i = 1; i <= order; i++) power += rows[i]![i]!;
  for (let i = 1; i <= order; i++) rows[i]![i]! += (RIDGE / order) * power + Number.MIN_VALUE;
  return solve(rows);
}

function covariance(samples: Float64Array, from: number, lag: number): number {
  let sum = 0;
  for (let n = from; n < samples.length; n++) sum += samples[n]! * samples[n - lag]!;
  return sum;
}

/**
 * Solves the equations whose right sides stand in row 0, from column 1 on, and whose left sides, symmetric and positive, stand
 * in the rows from 1 on, of which only what lies on the diagonal and to the right is looked at. The rows are used up.
 */
function solve(rows: readonly Float64Array[]): Float64Array {
  const right = rows[0]!;
  for (let i = 1; i < rows.length; i++) {
    const pivot = rows[i]!;
    for (let k = i + 1; k < rows.length; k++) {
      const factor = pivot[k]! / pivot[i]!;
      for (let j = k; j < rows.length; j++) rows[k]![j]! -= factor * pivot[j]!;
      right[k]! -= factor * right[i]!;
    }
  }
  for (let i = rows.length - 1; i > 0; i--) {
    for (let k = i + 1; k < rows.length; k++) right[i]! -= rows[i]![k]! * right[k]!;
    right[i]! /= rows[i]![i]!;
  }
  return right.subarray(1);
}

/**
 * The weights that foretell a signal best from its autocorrelation (the autocorrelation method with the Levinson-Durbin
 * recursion: Makhoul, as above, eq. 38).
 * @param lags autocorrelation, lag 0 first; one more than the order
 * @param power of the signal: lag 0, or a little more so that it stays stable
 * @param prediction is given the weights of the samples before, the latest first
 * @returns the power of what is left
 */
export function predictFromLags(lags: Float64Array, power: number, prediction: Float64Array): number {
  const order = prediction.length;
  const before = new Float64Array(order);
  let left = power;
  for (let i = 0; i < order && left > 0; i++) {
    let sum = lags[i + 1]!;
    for (let j = 0; j < i; j++) sum -= prediction[j]! * lags[i - j]!;
    const reflection = sum / left;
    before.set(prediction);
    prediction[i] = reflection;
    for (let j = 0; j < i; j++) prediction[j] = before[j]! - reflection * before[i - 1 - j]!;
    left *= 1 - reflection * reflection;
  }
  return left;
}
