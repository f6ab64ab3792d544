/** Weights of the onset strength, learned: see docs/analysis.md. One line a group of features. */

/** Weight of each feature, in the order of `candidateFeatures`. */
// prettier-ignore
export const ONSET_WEIGHTS: readonly number[] = [
  -0.0002467, -0.0195, -0.02429, 0.01981, 0.04335, 0.08438, 0.1019, 0.01391, 0.2193, // short rise
  0.06474, 0.105, 0.09868, 0.02782, 0.09041, 0.04464, 0.1319, 0.0178, 0.1538, // long rise
  0.009848, 0.02044, 0.04343, 0.008012, -0.1007, 0.01538, 0.04966, 0.003918, 0.04828, // level
  0.01007, 0.05657, 0.007601, 0.116, 0.003835, -0.06037, 0.06259, 0.03168, 0.006571, // hold
  0.016, -0.0237, -0.04528, -0.04117, -0.02836, -0.005365, 0.1064, // totals
];

export const ONSET_BIAS = 0.445;
