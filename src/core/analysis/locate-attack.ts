/**
 * Puts a marker on the physical start of an attack.
 *
 * The start is the point that best divides a short window into "before" and "after", each a noise of its own variance:
 * the minimum over n of `AIC(n) = n log var(x[0..n)) + (N-n) log var(x[n..N))`, as used to pick arrivals in seismology
 * (N. Maeda, "A method for reading and checking phase times in autoprocessing system of seismic wave data", Zisin 38,
 * 1985). Deviation: the signal is first whitened by linear prediction from what sounded before the window (order 8),
 * so that a ringing tone does not hide the entry of the next one; as in M. Leonard and B. Kennett, "Multi-component
 * autoregressive techniques for the analysis of seismograms", Phys. Earth Planet. Inter. 113 (1999).
 */

import { predictFromLags } from '../dsp/linear-prediction.ts';

const PREDICTION_ORDER = 8;
/** Energy of a stretch, against the usual before the attack, that still belongs to the attack. */
const WALK_BACK_RISE = 4;
/** The same against the loudest stretch after: an attack begins 40 dB below its peak. */
const WALK_BACK_FLOOR = 1e-4;

/** The softest part of an attack lies under what sounds already; on average it began this much earlier. */
const HIDDEN_MS = 0.3;
const HIDDEN_SHARE_OF_RISE = 0.3;

/** How far around the coarse position the start is looked for, in milliseconds. */
export interface AttackWindow {
  beforeMs: number;
  afterMs: number;
}

/**
 * Finds the frame at which an attack begins.
 * @param signal the mean of the channels
 * @param coarseFrame where the energy rises most, to a few milliseconds
 * @returns a frame inside the window; `coarseFrame` itself when the window is too short or silent
 */
export function locateAttack(
  signal: Float32Array,
  sampleRate: number,
  coarseFrame: number,
  window: AttackWindow,
): number {
  const from = Math.max(0, coarseFrame - Math.round((window.beforeMs / 1000) * sampleRate));
  const to = Math.min(signal.length, coarseFrame + Math.round((window.afterMs / 1000) * sampleRate));
  const length = to - from;
  const margin = Math.max(8, Math.round(0.0004 * sampleRate));
  if (length < 4 * margin) return coarseFrame;
  const residual = whiten(signal, from, to, Math.round(0.02 * sampleRate));
  const stretch = Math.round(0.0003 * sampleRate);
  const split = splitPoint(residual, margin);
  const start = walkBack(residual, split, stretch, Math.round(0.007 * sampleRate));
  const hidden = Math.round(HIDDEN_SHARE_OF_RISE * riseLength(residual, start, stretch)) + hiddenFrames(sampleRate);
  return Math.max(from, from + start - hidden);
}

const hiddenFrames = (sampleRate: number) => Math.round((HIDDEN_MS / 1000) * sampleRate);

/** Samples from the start until a stretch first reaches half the amplitude of the loudest stretch. */
function riseLength(x: Float64Array, start: number, stretch: number): number {
  let loudest = 0;
  const energies: number[] = [];
  for (let at = start; at + stretch <= x.length; at += stretch) {
    let sum = 0;
    for (let i = at; i < at + stretch; i++) sum += x[i]! * x[i]!;
    energies.push(sum);
    loudest = Math.max(loudest, sum);
  }
  return energies.findIndex((energy) => energy >= loudest / 4) * stretch;
}

/**
 * An attack that swells is split where it is steep; its start lies where it leaves what was before. Goes back from
 * the split while the energy of a short stretch stays well above the quietest stretches before it.
 */
function walkBack(x: Float64Array, split: number, stretch: number, limit: number): number {
  const energyBefore = (at: number) => {
    let sum = 0;
    for (let i = Math.max(0, at - stretch); i < at; i++) sum += x[i]! * x[i]!;
    return sum / stretch;
  };
  let loudest = 0;
  for (let at = split + stretch; at <= x.length; at += stretch) loudest = Math.max(loudest, energyBefore(at));
  const before: number[] = [];
  for (let at = stretch; at <= split; at += stretch) before.push(energyBefore(at));
  before.sort((a, b) => a - b);
  const usual = before[Math.floor(before.length * 0.4)] ?? 0;
  const threshold = Math.max(usual * WALK_BACK_RISE, loudest * WALK_BACK_FLOOR);
  let at = split;
  while (at > stretch && split - at < limit && energyBefore(at) > threshold) at--;
  return at;
}

/** Index of the least AIC over the splits that leave at least `margin` samples on each side. */
export function splitPoint(x: Float64Array, margin: number): number {
  const n = x.length;
  let total = 0;
  for (let i = 0; i < n; i++) total += x[i]! * x[i]!;
  const floor = (total / n) * 1e-7 + 1e-14;
  let before = 0;
  let best = Infinity;
  let at = 0;
  for (let i = 0; i < n - margin; i++) {
    if (i >= margin) {
      const left = before / i + floor;
      const right = Math.max(0, total - before) / (n - i) + floor;
      const aic = i * Math.log(left) + (n - i) * Math.log(right);
      if (aic < best) {
        best = aic;
        at = i;
      }
    }
    before += x[i]! * x[i]!;
  }
  return at;
}

/** Prediction residual of `signal[from..to)` under coefficients learned from the `history` frames before it. */
function whiten(signal: Float32Array, from: number, to: number, history: number): Float64Array {
  const out = new Float64Array(to - from);
  const coefficients = linearPrediction(signal, Math.max(0, from - history), from);
  const [c1, c2, c3, c4, c5, c6, c7, c8] = coefficients as unknown as Coefficients;
  const x = withLead(signal, from, to, Math.min(from, PREDICTION_ORDER));
  for (let i = PREDICTION_ORDER, at = 0; at < out.length; i++, at++) {
    const far = c5 * x[i - 5]! + c6 * x[i - 6]! + c7 * x[i - 7]! + c8 * x[i - 8]!;
    out[at] = x[i]! - (c1 * x[i - 1]! + c2 * x[i - 2]! + c3 * x[i - 3]! + c4 * x[i - 4]! + far);
  }
  return out;
}

type Coefficients = [number, number, number, number, number, number, number, number];

/** `signal[from..to)` behind the {@link PREDICTION_ORDER} samples before it, of which the last `known` are taken. */
function withLead(signal: Float32Array, from: number, to: number, known: number): Float64Array {
  const out = new Float64Array(PREDICTION_ORDER + to - from);
  out.set(signal.subarray(from - known, to), PREDICTION_ORDER - known);
  return out;
}

/**
 * Autocorrelation method, see dsp/linear-prediction.ts. Where there was silence the first difference is taken instead.
 */
function linearPrediction(signal: Float32Array, from: number, to: number): Float64Array {
  const order = PREDICTION_ORDER;
  const a = new Float64Array(order);
  const r = new Float64Array(order + 1);
  const x = withLead(signal, from, to, 0);
  for (let lag = 0; lag <= order; lag += 3) {
    // Three at a time: sums that wait for each other take as long as one.
    let [first, second, third] = [0, 0, 0];
    for (let i = order; i < x.length; i++) {
      const value = x[i]!;
      first += value * x[i - lag]!;
      second += value * x[i - lag - 1]!;
      third += value * x[i - lag - 2]!;
    }
    r.set([first, second, third], lag);
  }
  if (r[0]! < 1e-9) {
    a[0] = 1;
    return a;
  }
  predictFromLags(r, r[0]! * 1.0001, a);
  return a;
}
