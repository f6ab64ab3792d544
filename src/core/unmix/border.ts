/** The border between two layers: above it the brighter one, below it the other; found, and moved by hand. */

/** Moments of a slice at which the border can be moved, as shares of its length. */
export const HANDLE_PLACES = [0, 0.08, 0.25, 0.6] as const;
export const NO_PULLS: readonly number[] = HANDLE_PLACES.map(() => 0);

/** Less of the loudest moment's power is silence (-70 dB). */
const SILENT_SHARE = 1e-7;

/**
 * Where the upper layer begins in each row: the bin from which on most of the power is the upper's, and below which most
 * is the other's.
 * @param upper share of the upper layer, by row and bin
 */
export function foundBorder(powers: Float32Array, upper: Float32Array, rows: number, bins: number): Float32Array {
  const border = new Float32Array(rows);
  const levels = Float64Array.from({ length: rows }, (_, row) =>
    powers.subarray(row * bins, (row + 1) * bins).reduce((sum, power) => sum + power, 0),
  );
  const quietest = SILENT_SHARE * levels.reduce((most, level) => Math.max(most, level), 0);
  for (let row = 0; row < rows; row++) {
    // Where nothing sounds nothing is told: the border stays where it was.
    if (levels[row]! <= quietest) {
      border[row] = border[row - 1] ?? bins;
      continue;
    }
    let wrong = 0;
    for (let bin = 0; bin < bins; bin++) {
      const i = row * bins + bin;
      wrong += Math.sqrt(powers[i]!) * (1 - upper[i]!);
    }
    let [least, best] = [wrong, 0];
    for (let bin = 0; bin < bins; bin++) {
      const i = row * bins + bin;
      wrong += Math.sqrt(powers[i]!) * (2 * upper[i]! - 1);
      if (wrong < least) [least, best] = [wrong, bin + 1];
    }
    border[row] = best;
  }
  return steadied(border);
}

/** The middle one of five: a single row does not jump. */
function steadied(border: Float32Array): Float32Array {
  return border.map((_, row) => {
    const near = border.slice(Math.max(0, row - 2), row + 3).sort();
    return near[Math.floor(near.length / 2)]!;
  });
}

/** How far the border is pulled at a place, in octaves: on lines between the handles. */
export function pullAt(pulls: readonly number[], place: number): number {
  const next = HANDLE_PLACES.findIndex((at) => at > place);
  if (next < 0) return pulls.at(-1) ?? 0;
  if (next === 0) return pulls[0] ?? 0;
  const [from, to] = [HANDLE_PLACES[next - 1]!, HANDLE_PLACES[next]!];
  const share = (place - from) / (to - from);
  return (pulls[next - 1] ?? 0) * (1 - share) + (pulls[next] ?? 0) * share;
}

/**
 * Shares of the upper layer where the border was moved: what lies between where it was and where it is now belongs to the
 * other side.
 * @param placeOfRow of each row, 0..1 of the slice's length
 */
export function pullBorder(
  upper: Float32Array,
  border: Float32Array,
  pulls: readonly number[],
  bins: number,
  placeOfRow: (row: number) => number,
): Float32Array {
  if (pulls.every((pull) => pull === 0)) return upper;
  const moved = upper.slice();
  for (const [row, from] of border.entries()) {
    const to = Math.min(bins, Math.max(1, from) * 2 ** pullAt(pulls, placeOfRow(row)));
    const [first, last] = [Math.round(Math.min(from, to)), Math.round(Math.max(from, to))];
    moved.fill(to < from ? 1 : 0, row * bins + first, row * bins + Math.min(bins, last));
  }
  return moved;
}
