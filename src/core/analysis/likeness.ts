/** How alike slices sound: the distance between what the role classifier hears of them. */
import type { FrameRange, SourceAnalysis } from './analyse-source.ts';
import { roleFeatures } from './slice-features.ts';

/**
 * Root mean square difference of the level features (see slice-features.ts) of every two ranges, in units of 10 dB: below about
 * 0.35 two hits are likely the same drum at another strength.
 * @returns a symmetric matrix with 0 on its diagonal, one row a range
 */
export function likenessMatrix({ energies }: SourceAnalysis, ranges: readonly FrameRange[]): number[][] {
  const rows = ranges.map(({ startFrame, endFrame }) => {
    const startHop = Math.round(startFrame / energies.hopFrames);
    return roleFeatures(energies, startHop, Math.max(startHop + 1, Math.round(endFrame / energies.hopFrames)));
  });
  return rows.map((row) => rows.map((other) => distance(row, other)));
}

function distance(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += (a[i]! - b[i]!) ** 2;
  return Math.sqrt(sum / a.length);
}
