/** What a sound goes on like, told from what it has done. */

/** Against equations that are nearly the same, as share of the power. */
const RIDGE = 1e-7;
/** A prediction that gets this much louder than what it was made from is none. */
const MOST_GROWTH = 1.5;

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
  for (let n = past.length; n < all.length; n++) {
    let value = 0;
    for (let j = 0; j < order; j++) value += coefficients[j]! * all[n - 1 - j]!;
    all[n] = value;
  }
  const most = MOST_GROWTH * past.reduce((peak, value) => Math.max(peak, Math.abs(value)), 0);
  const next = all.subarray(past.length);
  return next.every((value) => Math.abs(value) <= most) ? next : null;
}

/** The factors of the last `order` samples that come nearest to each next one. */
function leastSquares(past: Float64Array, order: number): Float64Array {
  const rows = Array.from({ length: order }, () => new Float64Array(order + 1));
  for (let n = order; n < past.length; n++) {
    rows.forEach((row, i) => {
      const weight = past[n - 1 - i]!;
      for (let j = 0; j < order; j++) row[j]! += weight * past[n - 1 - j]!;
      row[order]! += weight * past[n]!;
    });
  }
  const ridge = (RIDGE / order) * rows.reduce((sum, row, i) => sum + row[i]!, 0) + Number.MIN_VALUE;
  rows.forEach((row, i) => (row[i]! += ridge));
  // Gauss and Jordan; the matrix is symmetric and positive, so no rows need to be exchanged.
  rows.forEach((pivot, i) => {
    for (const [k, row] of rows.entries()) {
      if (k === i) continue;
      const factor = row[i]! / pivot[i]!;
      for (let j = i; j <= order; j++) row[j]! -= factor * pivot[j]!;
    }
  });
  return Float64Array.from(rows, (row, i) => row[order]! / row[i]!);
}
