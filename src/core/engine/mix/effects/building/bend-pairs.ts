/** Bends what lies between samples of both sides at a time, where sound runs; the formulas are in bends.ts. */
import { kernels } from '../../../../kernels/kernels.ts';
import { ASIDE, ASIDE_TANH, bent, CLOSE, DIODE, KNEE, ONE_SIDED, SOFT, SUM_AT_KNEE } from './bends.ts';

/** What the kernels work on (see `kernels/assembly/bends.ts`): pairs of left and right. */
const kernel = kernels();
const workLast = kernel.doubles('bendLast', 4);
const workPairs = kernel.doubles('overPairs', 2 * kernel.value('OVER_RATE') * kernel.value('OVER_RUN'));

/**
 * What `ln cosh` is above its straight line, `ln(1 + e^(-2x))`, and its slope, at places so close together that cubics
 * between them are off by less than 1e-11 (Hermite's interpolation): an exponential and a logarithm a sample are spared.
 */
const TABLE_STEPS = kernel.value('BEND_STEPS');
const TABLE_LENGTH = 2 * (TABLE_STEPS * kernel.value('BEND_END') + 2);
kernel.doubles('bendTable', TABLE_LENGTH).set(
  Float64Array.from({ length: TABLE_LENGTH }, (_, place) => {
    const x = Math.floor(place / 2) / TABLE_STEPS;
    return place % 2 === 0 ? Math.log1p(Math.exp(-2 * x)) : -2 / (1 + Math.exp(2 * x)) / TABLE_STEPS;
  }),
);

/**
 * Bends what lies between samples of pairs, in place: those that an oversampler works on just now.
 * @param last the pair before, and the integral of the bend there; then those of the last pair
 */
export function bendPairs(way: number, last: Float64Array, count: number): void {
  if (way >= DIODE) {
    bendEach(way, last, count);
    return;
  }
  workLast.set(last);
  if (way === SOFT) kernel.bendSoft(count, 0, 0);
  else if (way === ONE_SIDED) kernel.bendSoft(count, ASIDE, ASIDE_TANH);
  else kernel.bendHard(count, KNEE, SUM_AT_KNEE);
  last.set(workLast);
}

function bendEach(way: number, last: Float64Array, count: number): void {
  for (let i = 0; i < 2 * count; i++) {
    const side = i & 1;
    const x = workPairs[i]!;
    // Written out where it is heard most, so that no number is boxed on the way.
    const sum =
      way === DIODE
        ? (2 * x * Math.asinh(2 * x) - Math.sqrt(1 + 4 * x * x)) / 4
        : (-2 / Math.PI) * Math.cos((Math.PI / 2) * x);
    const distance = x - last[side]!;
    if (Math.abs(distance) < CLOSE) workPairs[i] = bent(way, (last[side]! + x) / 2);
    else workPairs[i] = (sum - last[2 + side]!) / distance;
    last[side] = x;
    last[2 + side] = sum;
  }
}
