/**
 * What equaliser and filter let through, as formulas: analogue prototypes with the frequency as the bilinear transform bends
 * it (R. Bristow-Johnson, "Cookbook formulae for audio EQ biquad filter coefficients", section on the BLT). What is drawn is
 * what sounds: a test holds both against each other.
 */
import type { EFFECT_ROWS } from '../params/effects.ts';
import type { ValuesOf } from '../params/row.ts';

export type EqualiserValues = ValuesOf<typeof EFFECT_ROWS.equaliser>;
export type FilterValues = ValuesOf<typeof EFFECT_ROWS.filter>;

const dB = (power: number) => 10 * Math.log10(Math.max(1e-12, power));
/** `1 / Q` of the sections of Butterworth filters of so many sections. */
const dampings = (sections: number) =>
  Array.from({ length: sections }, (_, i) => 2 * Math.sin(((2 * i + 1) * Math.PI) / (4 * sections)));

/** A frequency over another one, as the transform bends both. */
function bentRatio(hz: number, atHz: number, sampleRate: number): number {
  const tangent = (f: number) => Math.tan(Math.PI * Math.min(f / sampleRate, 0.49));
  return tangent(hz) / tangent(atHz);
}

/** Power of `(a0 - a2 s^2 + j a1 s) / (1 - s^2 + j k s)`. */
function sectionDb(s: number, k: number, a0: number, a1: number, a2: number): number {
  return dB(((a0 - a2 * s * s) ** 2 + (a1 * s) ** 2) / ((1 - s * s) ** 2 + (k * s) ** 2));
}

function bellDb(s: number, q: number, gainDb: number): number {
  const a = 10 ** (gainDb / 40);
  return sectionDb(s, 1 / (a * q), 1, a / q, 1);
}

function lowShelfDb(s: number, gainDb: number): number {
  const a = 10 ** (gainDb / 40);
  const k = Math.SQRT2 * Math.sqrt(a);
  // A (s^2 + sqrt(A) k s + A) / (A s^2 + sqrt(A) k s + 1), with k = 1 / Q.
  return dB((a ** 2 * ((a - s * s) ** 2 + (k * s) ** 2)) / ((1 - a * s * s) ** 2 + (k * s) ** 2));
}

function cutDb(s: number, sections: number, isLow: boolean): number {
  return dampings(sections).reduce((sum, k) => sum + (isLow ? sectionDb(s, k, 0, 0, 1) : sectionDb(s, k, 1, 0, 0)), 0);
}

/** Level that an equaliser lets through at a frequency, in dB. */
export function equaliserDb(values: EqualiserValues, hz: number, sampleRate: number): number {
  const ratio = (at: number) => bentRatio(hz, at, sampleRate);
  let level = lowShelfDb(ratio(values.lowShelfHz), values.lowShelfDb);
  // A high shelf is a low one turned over.
  level += lowShelfDb(1 / ratio(values.highShelfHz), values.highShelfDb);
  level += bellDb(ratio(values.bell1Hz), values.bell1Q, values.bell1Db);
  level += bellDb(ratio(values.bell2Hz), values.bell2Q, values.bell2Db);
  level += bellDb(ratio(values.bell3Hz), values.bell3Q, values.bell3Db);
  level += bellDb(ratio(values.bell4Hz), values.bell4Q, values.bell4Db);
  if (values.lowCut !== 'off') level += cutDb(ratio(values.lowCutHz), Number(values.lowCut) / 12, true);
  if (values.highCut !== 'off') level += cutDb(ratio(values.highCutHz), Number(values.highCut) / 12, false);
  return level;
}

const LEAST_DAMPING = 0.05;

function oneFilterDb({ shape, slope, circuit, resonance }: FilterValues, s: number): number {
  if (circuit === 'ladder') return ladderDb(shape, s, resonance);
  if (slope === 6 && (shape === 'low' || shape === 'high')) {
    return dB(shape === 'low' ? 1 / (1 + s * s) : (s * s) / (1 + s * s));
  }
  const sections = Math.max(1, slope / 12);
  if (shape === 'low' || shape === 'high') {
    return dampings(sections).reduce((sum, flat, i) => {
      const k = i === 0 ? flat + (LEAST_DAMPING - flat) * resonance : flat;
      return sum + (shape === 'low' ? sectionDb(s, k, 1, 0, 0) : sectionDb(s, k, 0, 0, 1));
    }, 0);
  }
  const k = Math.SQRT2 + (LEAST_DAMPING - Math.SQRT2) * resonance;
  if (shape === 'band') return sections * sectionDb(s, k, 0, k, 0);
  if (shape === 'notch') return sections * sectionDb(s, k, 1, 0, 1);
  const gainDb = (3 + 21 * resonance) / sections;
  return Array.from({ length: sections }, (_, i) => bellDb(s, 1 + i, gainDb)).reduce((sum, one) => sum + one, 0);
}

/** Four poles `1 / (1 + j s)` with feedback: the linear part of the ladder. */
function ladderDb(shape: FilterValues['shape'], s: number, resonance: number): number {
  const pole = 1 / (1 + s * s);
  // Powers of 1 / (1 + j s), as pairs.
  let [re, im] = [1, 0];
  const taps: [number, number][] = [[1, 0]];
  for (let n = 0; n < 4; n++) {
    [re, im] = [(re + im * s) * pole, (im - re * s) * pole];
    taps.push([re, im]);
  }
  const weights = {
    low: [0, 0, 0, 0, 1],
    high: [1, -4, 6, -4, 1],
    band: [0, 0, 4, -8, 4],
    notch: [1, -4, 8, -8, 4],
    peak: [1, 0, 0, 0, 1],
  }[shape];
  const sum = weights.reduce(([r, i], weight, n) => [r! + weight * taps[n]![0], i! + weight * taps[n]![1]], [0, 0]);
  const k = 3.95 * resonance;
  const loop = (1 + k * taps[4]![0]) ** 2 + (k * taps[4]![1]) ** 2;
  return dB((sum[0]! ** 2 + sum[1]! ** 2) / loop);
}

/** Level that a filter lets through at a frequency, in dB; of two beside each other the louder one's is close enough. */
export function filterDb(values: FilterValues, hz: number, sampleRate: number): number {
  const first = oneFilterDb(values, bentRatio(hz, values.cutoffHz, sampleRate));
  if (values.second === 'none') return first;
  const otherHz = Math.max(16, Math.min(20_000, values.cutoffHz * 2 ** (values.apartCents / 1200)));
  const second = oneFilterDb(values, bentRatio(hz, otherHz, sampleRate));
  return values.second === 'behind' ? first + second : dB((10 ** (first / 10) + 10 ** (second / 10)) / 2);
}
