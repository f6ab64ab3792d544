/**
 * Ways to bend a wave, with their integrals: what lies between two samples is bent, not the samples alone. In the order of
 * the choices of the drive's `shape`.
 */
export const BEND_COUNT = 5;
export const [SOFT, HARD, ONE_SIDED, DIODE] = [0, 1, 2, 3] as const;

/** One side: the bend does not stand in its middle. */
export const ASIDE = 0.6;
export const ASIDE_TANH = Math.tanh(ASIDE);

/** A hard bend has a knee as short as this on both sides: a corner would make overtones without end. */
export const KNEE = 0.2;
export const SUM_AT_KNEE = (1 + KNEE) ** 2 / 2 - (2 / 3) * KNEE ** 2;

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

/** Below this distance the integrals differ by no more than rounding. */
export const CLOSE = 1e-4;

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
