/**
 * Ways to bend a wave, with their integrals: what lies between two samples is bent, not the samples alone. In the order of
 * the choices of the drive's `shape`.
 */
import { kernels } from '../../../../kernels/kernels.ts';

export const BEND_COUNT = 5;
const [SOFT, HARD, ONE_SIDED, DIODE] = [0, 1, 2, 3];

/** One side: the bend does not stand in its middle. */
const ASIDE = 0.6;
const ASIDE_TANH = Math.tanh(ASIDE);

/** A hard bend has a knee as short as this on both sides: a corner would make overtones without end. */
const KNEE = 0.2;
const SUM_AT_KNEE = (1 + KNEE) ** 2 / 2 - (2 / 3) * KNEE ** 2;

/** `ln cosh x`, also where `cosh` is too large. */
function logCosh(x: number): number {
  const far = Math.abs(x);
  return far + Math.log1p(Math.exp(-2 * far)) - Math.LN2;
}

export function bent(way: number, x: number): number {
  if (way === SOFT) return Math.tanh(x);
  if (way === HARD) {
    const far = Math.abs(x);
    const into = Math.max(0, far - 1 + KNEE);
    return Math.sign(x) * (far < 1 + KNEE ? far - into ** 2 / (4 * KNEE) : 1);
  }
  if (way === ONE_SIDED) return Math.tanh(x + ASIDE) - ASIDE_TANH;
  // Two diodes against each other: their current rises with the exponent of the voltage.
  if (way === DIODE) return Math.asinh(2 * x) / 2;
  return Math.sin((Math.PI / 2) * x);
}

/** The integral of a bend. */
export function bentSum(way: number, x: number): number {
  if (way === SOFT) return logCosh(x);
  if (way === HARD) {
    const far = Math.abs(x);
    const into = Math.max(0, far - 1 + KNEE);
    return far < 1 + KNEE ? (far * far) / 2 - into ** 3 / (12 * KNEE) : SUM_AT_KNEE + far - 1 - KNEE;
  }
  if (way === ONE_SIDED) return logCosh(x + ASIDE) - ASIDE_TANH * x;
  if (way === DIODE) return (2 * x * Math.asinh(2 * x) - Math.sqrt(1 + 4 * x * x)) / 4;
  return (-2 / Math.PI) * Math.cos((Math.PI / 2) * x);
}

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

/** Below this distance the integrals differ by no more than rounding. */
const CLOSE = 1e-4;

/**
 * The mean of a bend between two samples.
 * @param fromSum its integral at the first @param toSum and at the second
 */
export function bentMean(way: number, from: number, to: number, fromSum: number, toSum: number): number {
  const distance = to - from;
  if (Math.abs(distance) < CLOSE) return bent(way, (from + to) / 2);
  return (toSum - fromSum) / distance;
}

/** A sine of this height is as loud after the drive as before. */
const MEAN_HEIGHT = 0.35;
const POINTS = 32;

/** How much louder a driven sine of usual height is. @param drive as a factor */
export function meanLevel(way: number, drive: number): number {
  let before = 0;
  let after = 0;
  let mean = 0;
  for (let i = 0; i < POINTS; i++) {
    const x = MEAN_HEIGHT * Math.sin((2 * Math.PI * (i + 0.5)) / POINTS);
    const y = bent(way, x * drive);
    before += x * x;
    after += y * y;
    mean += y / POINTS;
  }
  return Math.sqrt(Math.max(1e-9, after - mean * mean * POINTS) / before);
}
