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
/** Slow pads take this long to be another chord: 0.29 s. */
const LONG_TURN_REACH = 25;
/** Magnitudes are compressed as `log10(1 + COMPRESSION * magnitude / greatest magnitude)`. */
const COMPRESSION = 1000;
/** A window shows a new sound most when about two thirds of it are filled: its start lies this far before the middle. */
export const NOVELTY_LEAD_SECONDS = 0.022;

export interface TonalNovelty {
  /** Seconds from one value to the next (about 11.6 ms); value `i` belongs to the time `i * hopSeconds`. */
  hopSeconds: number;
  /** Positive spectral flux, summed over the bins. */
  flux: Float32Array;
  /** Turn of the spectrum, 0 (the same) to 1 (nothing in common). */
  turn: Float32Array;
  /** The same between 0.29 s before and after. */
  longTurn: Float32Array;
  /** Sum of the compressed magnitudes: how much there is to hear. */
  weight: Float32Array;
}

/**
 * @returns empty curves for signals shorter than one window (93 ms); cost about 0.5% of real time
 */
export function measureTonalNovelty(signal: Float32Array, sampleRate: number): TonalNovelty {
  const factor = Math.max(1, Math.round(sampleRate / WORKING_RATE_HZ));
  const low = decimate(signal, factor);
  const hopSeconds = (HOP * factor) / sampleRate;
  const count = low.length < WINDOW ? 0 : Math.floor(low.length / HOP) + 1;
  const spectra = compressedSpectra(low, count);
  const bins = WINDOW / 2;
  const flux = new Float32Array(count);
  const weight = new Float32Array(count);
  const norms = new Float64Array(count);
  for (let i = 0; i < count; i++) {
    let total = 0;
    let squares = 1e-9;
    for (let at = i * bins; at < (i + 1) * bins; at++) {
      const value = spectra[at]!;
      total += value;
      squares += value * value;
    }
    weight[i] = total;
    norms[i] = squares;
    if (i >= FLUX_LAG) flux[i] = fluxBetween(spectra, (i - FLUX_LAG) * bins, i * bins, bins);
  }
  const turnOver = (reach: number) => {
    const out = new Float32Array(count);
    for (let i = reach; i + reach < count; i++) {
      const [before, after] = [i - reach, i + reach];
      const shared = product(spectra, before * bins, after * bins, bins);
      out[i] = 1 - shared / Math.sqrt(norms[before]! * norms[after]!);
    }
    return out;
  };
  return { hopSeconds, flux, turn: turnOver(TURN_REACH), longTurn: turnOver(LONG_TURN_REACH), weight };
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

/** Compressed spectra of so many hops, against the greatest magnitude of all. */
function compressedSpectra(low: Float32Array, count: number): Float32Array {
  const pair = new WindowPair(WINDOW);
  const bins = WINDOW / 2;
  const spectra = new Float32Array(count * bins);
  for (let i = 0; i < count; i += 2) {
    pair.load(0, low, i * HOP - WINDOW / 2);
    if (i + 1 < count) pair.load(1, low, (i + 1) * HOP - WINDOW / 2);
    else pair.loadNothing();
    pair.measure();
    spectra.set(pair.powers[0].subarray(0, bins), i * bins);
    if (i + 1 < count) spectra.set(pair.powers[1].subarray(0, bins), (i + 1) * bins);
  }
  let greatest = 1e-12;
  for (let at = 0; at < spectra.length; at++) if (spectra[at]! > greatest) greatest = spectra[at]!;
  const scale = COMPRESSION / Math.sqrt(greatest);
  for (let at = 0; at < spectra.length; at++) spectra[at] = Math.log(1 + scale * Math.sqrt(spectra[at]!)) / Math.LN10;
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
