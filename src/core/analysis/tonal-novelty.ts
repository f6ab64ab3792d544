/**
 * How much the spectrum changes, for sounds that begin softly: chords that melt into each other, bowed and blown notes.
 * Spectral flux with a maximum filter over neighbouring bins, so that vibrato does not count as change (S. Böck and
 * G. Widmer, "Maximum filter vibrato suppression for onset detection", DAFx 2013), on a signal of about 5.5 kHz, where
 * the partials of such sounds lie. Beside it the turn of the spectrum, `1 - cos` of the angle between what sounded 70 ms
 * before and sounds 70 ms after: a change of chord at an even level.
 */
import { WindowPair } from '../dsp/window-pair.ts';

const WORKING_RATE_HZ = 5512.5;
const WINDOW = 512;
const HOP = 64;
/** Frames of the flux are compared over this many hops (46 ms, half a window). */
const FLUX_LAG = 4;
const TURN_REACH = 6;
/** Magnitudes are compressed as `log10(1 + COMPRESSION * magnitude / greatest magnitude)`. */
const COMPRESSION = 1000;
/** The greatest magnitude is looked for in every fourth window: they overlap by half. */
const GREATEST_EVERY = 4;
/** A window shows a new sound most when about two thirds of it are filled: its start lies this far before the middle. */
export const NOVELTY_LEAD_SECONDS = 0.022;

export interface TonalNovelty {
  /** Seconds from one value to the next (about 11.6 ms); value `i` belongs to the time `i * hopSeconds`. */
  hopSeconds: number;
  /** Positive spectral flux, summed over the bins. */
  flux: Float32Array;
  /** Turn of the spectrum, 0 (the same) to 1 (nothing in common). */
  turn: Float32Array;
  /** Sum of the compressed magnitudes: how much there is to hear. */
  weight: Float32Array;
}

/** A stretch of time. */
export interface TimeSpan {
  fromSeconds: number;
  toSeconds: number;
}

/**
 * @param spans where the curves are wanted; elsewhere they may be 0. Everywhere without
 * @returns empty curves for signals shorter than one window (93 ms); cost about 0.5% of real time
 */
export function measureTonalNovelty(
  signal: Float32Array,
  sampleRate: number,
  spans: readonly TimeSpan[] = [{ fromSeconds: 0, toSeconds: Infinity }],
): TonalNovelty {
  const factor = Math.max(1, Math.round(sampleRate / WORKING_RATE_HZ));
  const low = decimate(signal, factor);
  const hopSeconds = (HOP * factor) / sampleRate;
  const count = low.length < WINDOW ? 0 : Math.floor(low.length / HOP) + 1;
  const wanted = new Uint8Array(count);
  for (const { fromSeconds, toSeconds } of spans) {
    wanted.fill(
      1,
      Math.max(0, Math.floor(fromSeconds / hopSeconds)),
      Math.min(count, Math.ceil(toSeconds / hopSeconds)),
    );
  }
  const spectra = compressedSpectra(low, wanted);
  const bins = WINDOW / 2;
  const flux = new Float32Array(count);
  const turn = new Float32Array(count);
  const weight = new Float32Array(count);
  const norms = new Float64Array(count);
  for (let i = 0; i < count; i++) {
    if (!wanted[i]) continue;
    let total = 0;
    let squares = 1e-9;
    for (let at = i * bins; at < (i + 1) * bins; at++) {
      const value = spectra[at]!;
      total += value;
      squares += value * value;
    }
    weight[i] = total;
    norms[i] = squares;
    if (i >= FLUX_LAG && wanted[i - FLUX_LAG]) flux[i] = fluxBetween(spectra, (i - FLUX_LAG) * bins, i * bins, bins);
  }
  for (let i = TURN_REACH; i + TURN_REACH < count; i++) {
    if (!wanted[i - TURN_REACH] || !wanted[i + TURN_REACH]) continue;
    const before = i - TURN_REACH;
    const after = i + TURN_REACH;
    const shared = product(spectra, before * bins, after * bins, bins);
    turn[i] = 1 - shared / Math.sqrt(norms[before]! * norms[after]!);
  }
  return { hopSeconds, flux, turn, weight };
}

/** Means of `factor` samples: coarse, but what folds back does not move the curves. */
function decimate(signal: Float32Array, factor: number): Float32Array {
  const out = new Float32Array(Math.floor(signal.length / factor));
  for (let i = 0, at = 0; i < out.length; i++) {
    let sum = 0;
    for (let k = 0; k < factor; k++) sum += signal[at++]!;
    out[i] = sum / factor;
  }
  return out;
}

/** Spectra of the wanted hops; and of every fourth, which tell the greatest magnitude. */
function compressedSpectra(low: Float32Array, wanted: Uint8Array): Float32Array {
  const pair = new WindowPair(WINDOW);
  const bins = WINDOW / 2;
  const spectra = new Float32Array(wanted.length * bins);
  let greatest = 1e-12;
  const keep = (hop: number, power: Float64Array) => {
    spectra.set(power.subarray(0, bins), hop * bins);
    if (hop % GREATEST_EVERY !== 0) return;
    for (let k = 0; k < bins; k++) if (power[k]! > greatest) greatest = power[k]!;
  };
  let waiting = -1;
  for (let i = 0; i < wanted.length; i++) {
    if (!wanted[i] && i % GREATEST_EVERY !== 0) continue;
    pair.load(waiting < 0 ? 0 : 1, low, i * HOP - WINDOW / 2);
    if (waiting < 0) {
      waiting = i;
      continue;
    }
    pair.measure();
    keep(waiting, pair.powers[0]);
    keep(i, pair.powers[1]);
    waiting = -1;
  }
  if (waiting >= 0) {
    pair.loadNothing();
    pair.measure();
    keep(waiting, pair.powers[0]);
  }
  const scale = COMPRESSION / Math.sqrt(greatest);
  for (let i = 0; i < wanted.length; i++) {
    if (!wanted[i]) continue;
    for (let at = i * bins; at < (i + 1) * bins; at++) {
      spectra[at] = Math.log(1 + scale * Math.sqrt(spectra[at]!)) / Math.LN10;
    }
  }
  return spectra;
}

/** Positive flux from the spectrum at one place to the one at another. */
function fluxBetween(spectra: Float32Array, before: number, now: number, bins: number): number {
  let sum = 0;
  let a = spectra[before]!;
  let b = spectra[before + 1]!;
  for (let k = 1; k < bins - 1; k++) {
    const c = spectra[before + k + 1]!;
    const most = a > b ? (a > c ? a : c) : b > c ? b : c;
    const value = spectra[now + k]!;
    if (value > most) sum += value - most;
    a = b;
    b = c;
  }
  return sum;
}

function product(spectra: Float32Array, first: number, second: number, bins: number): number {
  let sum = 0;
  for (let k = 0; k < bins; k++) sum += spectra[first + k]! * spectra[second + k]!;
  return sum;
}
