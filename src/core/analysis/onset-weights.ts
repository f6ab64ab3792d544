/** Weights of the onset strength, learned: see docs/analysis.md. One line a group of features. */

/** Weight of each feature, in the order of `candidateFeatures`. */
// prettier-ignore
export const ONSET_WEIGHTS: readonly number[] = [
  -0.01045, 0.01079, -0.005071, -0.008591, -0.008158, 0.02354, 0.03374, 0.02555, 0.05239, // short rise
  0.007631, 0.02837, 0.03908, 0.02252, 0.02004, 0.02116, 0.02411, 0.01758, 0.0504, // long rise
  0.002441, 0.01759, 0.01972, -0.0003514, -0.01432, 0.001252, 0.01734, 0.01422, 0.05257, // level
  0.008672, 0.01082, 0.01939, 0.01265, 0.02268, 0.01654, 0.02775, 0.02624, 0.02643, // hold
  0.002545, 0.001207, -0.01519, -0.009206, -0.01022, -0.0001435, 0.09034, // totals
];

export const ONSET_BIAS = 2.28;
