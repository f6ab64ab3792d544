/**
 * How far before the visible start of an attack its true start lies. The first part of an attack hides under what
 * sounds already; how long it hides shows in how the attack goes on. Learned with gradient boosting (J. Friedman,
 * "Greedy function approximation: a gradient boosting machine", Annals of Statistics 29, 2001): small regression trees
 * with the quantile loss, so that a marker is rather early than late.
 */
import { CORRECTION_BASE_MS, CORRECTION_TREES } from './attack-trees.ts';
import { shareOf } from './evidence-tree.ts';

const STRETCH_SECONDS = 0.0005;
const STRETCHES_BEFORE = 24;
const STRETCHES_AFTER = 16;
const QUIET_STRETCHES = 12;
const FIRST_SHOWN = 8;
/** Height of the attack in the signal itself, and the height from which on its start is in plain sight. */
const HEIGHT_FEATURE = 1;
const OUT_OF_SILENCE_DB = 50;
/** As far as a marker is moved. */
export const MAX_EARLIER_MS = 6;
export const MAX_LATER_MS = 0.5;

/**
 * Describes an attack: how far the coarse position lies behind its visible start in ms, then for the signal and for its
 * first difference the height of the attack in dB and the energy of half-millisecond stretches from 8 ms before to 8 ms
 * after, against the quiet before, as a share of that height; then the rises of the nine bands (short, long).
 */
export function attackFeatures(
  signal: Float32Array,
  sampleRate: number,
  startFrame: number,
  coarseFrame: number,
  risesDb: readonly number[],
): Float64Array {
  const out = [((coarseFrame - startFrame) / sampleRate) * 1000];
  const stretch = sampleRate * STRETCH_SECONDS;
  for (const difference of [false, true]) {
    const energies: number[] = [];
    for (let k = -STRETCHES_BEFORE; k < STRETCHES_AFTER; k++) {
      energies.push(stretchDb(signal, startFrame + k * stretch, stretch, difference));
    }
    const quiet = energies.slice(0, QUIET_STRETCHES).sort((a, b) => a - b)[QUIET_STRETCHES / 2]!;
    const height = Math.max(...energies.slice(STRETCHES_BEFORE - 4)) - quiet;
    out.push(height);
    for (let k = FIRST_SHOWN; k < energies.length; k++) {
      out.push(Math.max(-6, Math.min(60, energies[k]! - quiet)) / Math.max(6, height));
    }
  }
  return Float64Array.of(...out, ...risesDb);
}

function stretchDb(signal: Float32Array, from: number, length: number, difference: boolean): number {
  const start = Math.max(1, Math.round(from));
  const end = Math.min(signal.length, Math.round(from + length));
  let sum = 0;
  for (let i = start; i < end; i++) {
    const value = difference ? signal[i]! - signal[i - 1]! : signal[i]!;
    sum += value * value;
  }
  return 10 * Math.log10(sum / Math.max(1, end - start) + 1e-11);
}

/** Milliseconds to move a start by: below 0 is earlier. An attack out of silence hides nothing. */
export function attackCorrectionMs(features: Float64Array): number {
  let sum = CORRECTION_BASE_MS;
  for (let i = 0; i < CORRECTION_TREES.length; i++) sum += shareOf(CORRECTION_TREES[i]!, features);
  const hides = features[HEIGHT_FEATURE]! <= OUT_OF_SILENCE_DB;
  return Math.max(hides ? -MAX_EARLIER_MS : 0, Math.min(MAX_LATER_MS, sum));
}
