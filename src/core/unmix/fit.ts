/**
 * How much of a mix each of several known sounds is, where each may differ from what is known of it in every band and at
 * every moment.
 *
 * The power of the mix is taken for the sum of the sounds' powers, `sum_j a_j(band) c_j(row) G_j(row, bin)`; gains are
 * sought that make it likeliest (Itakura-Saito divergence, multiplicative updates with the exponent 1/2: C. Févotte,
 * N. Bertin and J.-L. Durrieu, "Nonnegative matrix factorization with the Itakura-Saito divergence", Neural Computation
 * 21, 2009, algorithm 1). What is known stands for something: each gain is held back by a tie to 1, so that a sound is not
 * bent into what the others are.
 */

/** Rounds of which the first seek the level alone. */
const ROUNDS = 26;
const LEVEL_ROUNDS = 6;
/** How much what is known weighs beside what is there, as a share of the average evidence of a band or a row. */
const BAND_TIE = 0.5;
const ROW_TIE = 0.3;
/** No factor is smaller: what is silent stays a number. */
const LEAST = 1e-12;
/** Of a model that is divided by. */
const NOTHING = 1e-60;

export interface PowerGrid {
  rows: number;
  bins: number;
}

interface Gains {
  bands: Float64Array;
  rows: Float64Array;
}

/** Sums that say in which direction a gain is to go: above 1 where `more` is above `less`. */
interface Evidence {
  more: Float64Array;
  less: Float64Array;
}

/**
 * @param mix powers of the mix, by row and bin
 * @param known powers of each sound, as it is known; none may be 0 everywhere
 * @param still powers that sound in any case, and are not fitted; null for none
 * @param bandOfBin the band of each bin
 * @returns powers of each sound as it is in the mix
 */
export function fitPowers(
  mix: Float32Array,
  known: readonly Float32Array[],
  still: Float32Array | null,
  { rows, bins }: PowerGrid,
  bandOfBin: Uint8Array,
): Float32Array[] {
  const bands = 1 + bandOfBin[bins - 1]!;
  let loudest = 0;
  for (const power of mix) if (power > loudest) loudest = power;
  // Nothing is quieter than this, so that silence is no evidence (-100 dB).
  const floor = loudest * 1e-10 + 1e-20;
  const fitted = known.map((powers) => powers.map((power) => power + floor));
  const gains = known.map((): Gains => ({
    bands: new Float64Array(bands).fill(1),
    rows: new Float64Array(rows).fill(1),
  }));
  const model = new Float64Array(mix.length);
  sumUp(model, fitted, still, floor);
  for (let round = 0; round < ROUNDS; round++) {
    for (let one = 0; one < known.length; one++) {
      if (round < LEVEL_ROUNDS) scaleAll(fitted[one]!, mix, model);
      else if (round % 2 === 0) scaleBands(fitted[one]!, mix, model, gains[one]!, { rows, bins }, bandOfBin);
      else scaleRows(fitted[one]!, mix, model, gains[one]!, { rows, bins });
    }
  }
  return fitted;
}

function sumUp(model: Float64Array, fitted: readonly Float32Array[], still: Float32Array | null, floor: number): void {
  for (let i = 0; i < model.length; i++) {
    let sum = floor + (still ? still[i]! : 0);
    for (const powers of fitted) sum += powers[i]!;
    model[i] = sum;
  }
}

function scaleAll(powers: Float32Array, mix: Float32Array, model: Float64Array): void {
  let [more, less] = [0, 0];
  for (let i = 0; i < powers.length; i++) {
    const share = powers[i]! / model[i]!;
    more += (share * mix[i]!) / model[i]!;
    less += share;
  }
  const by = Math.max(LEAST, Math.sqrt(more / Math.max(less, LEAST)));
  for (let i = 0; i < powers.length; i++) change(powers, model, i, by);
}

/** A power in the mix's model, which goes along. */
function change(powers: Float32Array, model: Float64Array, i: number, by: number): void {
  const before = powers[i]!;
  const after = before * by;
  powers[i] = after;
  // By rounding it may come to nothing where there is next to nothing.
  model[i] = Math.max(NOTHING, after, model[i]! + (after - before));
}

function scaleBands(
  powers: Float32Array,
  mix: Float32Array,
  model: Float64Array,
  gains: Gains,
  { rows, bins }: PowerGrid,
  bandOfBin: Uint8Array,
): void {
  const evidence = noEvidence(gains.bands.length);
  for (let i = 0, row = 0; row < rows; row++) {
    for (let bin = 0; bin < bins; bin++, i++) weigh(evidence, bandOfBin[bin]!, powers[i]!, mix[i]!, model[i]!);
  }
  const by = steps(evidence, gains.bands, BAND_TIE);
  for (let i = 0, row = 0; row < rows; row++) {
    for (let bin = 0; bin < bins; bin++, i++) change(powers, model, i, by[bandOfBin[bin]!]!);
  }
}

function scaleRows(
  powers: Float32Array,
  mix: Float32Array,
  model: Float64Array,
  gains: Gains,
  { rows, bins }: PowerGrid,
): void {
  const evidence = noEvidence(rows);
  for (let i = 0, row = 0; row < rows; row++) {
    for (let bin = 0; bin < bins; bin++, i++) weigh(evidence, row, powers[i]!, mix[i]!, model[i]!);
  }
  const by = steps(evidence, gains.rows, ROW_TIE);
  for (let i = 0, row = 0; row < rows; row++) {
    for (let bin = 0; bin < bins; bin++, i++) change(powers, model, i, by[row]!);
  }
}

function noEvidence(count: number): Evidence {
  return { more: new Float64Array(count), less: new Float64Array(count) };
}

function weigh({ more, less }: Evidence, at: number, power: number, mix: number, model: number): void {
  const share = power / model;
  more[at] = more[at]! + (share * mix) / model;
  less[at] = less[at]! + share;
}

/** Factors for gains, which are changed by them. */
function steps({ more, less }: Evidence, gains: Float64Array, tie: number): Float64Array {
  const held = (tie * less.reduce((sum, value) => sum + value, 0)) / less.length;
  return gains.map((gain, at) => {
    const by = Math.sqrt((more[at]! + held / gain + LEAST) / (less[at]! + held + LEAST));
    gains[at] = gain * by;
    return by;
  });
}
