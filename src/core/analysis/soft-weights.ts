/** Weights of the likelihood of soft onsets, learned: see docs/analysis.md. */

/** Weight of each feature, in the order of `softFeatures`. */
// prettier-ignore
export const SOFT_WEIGHTS: readonly number[] = [2.403, -0.1205, 0.6292, 8.198, -0.7408, 0.1803, -0.06559, 1.539, -0.3435];

export const SOFT_BIAS = -17.88;
