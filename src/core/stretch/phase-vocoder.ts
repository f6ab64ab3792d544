/**
 * A phase vocoder that reads a sound at any moments, in any order, and writes it at even steps: what holds, holds on at
 * the same pitch.
 *
 * Each output frame takes the spectrum at its source moment and turns it so that every partial goes on where it was one
 * step before: the turn grows by the phase that the source itself moves in one step (M. Puckette, "Phase-locked
 * vocoder", WASPAA 1995: two analyses one synthesis step apart, so nothing has to be unwrapped and a steady sine comes
 * out steady). All bins around a peak turn with it (identity phase locking: J. Laroche and M. Dolson, "Improved phase
 * vocoder time-scale modification of audio", IEEE Trans. Speech and Audio Proc. 7, 1999). Both channels turn alike, so
 * left and right keep their phase and with it their width.
 */
import FFT from 'fft.js';
import { hannWindow } from '../dsp/fft.ts';

/** Steps a window: from 4 on the squared Hann windows sum to a constant. */
const OVERLAP = 4;
/** A peak is greater than this many bins on either side. */
const PEAK_REACH = 2;

/** Left and right; the same array twice for a sound of one channel. */
type Stereo = readonly [left: Float32Array, right: Float32Array];

const bandTables = new Map<number, Uint8Array>();

/** The band of each bin; bands are as wide as their place: equal steps of the logarithm of the bin. */
export function bandTable(bins: number, bands: number): Uint8Array {
  let table = bandTables.get(bins);
  if (!table) {
    table = Uint8Array.from({ length: bins }, (_, bin) =>
      Math.min(bands - 1, Math.floor((Math.log2(1 + bin) / Math.log2(1 + bins)) * bands)),
    );
    bandTables.set(bins, table);
  }
  return table;
}

export class PhaseVocoder {
  readonly size: number;
  /** Frames from one output frame to the next. */
  readonly step: number;
  private readonly fft: FFT;
  private readonly window: Float64Array;
  private readonly input: number[];
  private now: number[];
  private readonly before: number[];
  /** The spectrum that was written last, as analysed, and how far each bin of it was turned. */
  private last: number[];
  private readonly turnRe: Float64Array;
  private readonly turnIm: Float64Array;
  private readonly power: Float64Array;
  private readonly peakOf: Int32Array;
  private readonly output: number[];
  private isFirst = true;

  /** @param size window length in frames, a power of two */
  constructor(size: number) {
    this.size = size;
    this.step = size / OVERLAP;
    this.fft = new FFT(size);
    this.window = hannWindow(size);
    this.input = this.fft.createComplexArray();
    this.now = this.fft.createComplexArray();
    this.before = this.fft.createComplexArray();
    this.last = this.fft.createComplexArray();
    this.output = this.fft.createComplexArray();
    const bins = size / 2 + 1;
    this.turnRe = new Float64Array(bins);
    this.turnIm = new Float64Array(bins);
    this.power = new Float64Array(bins);
    this.peakOf = new Int32Array(bins);
  }

  /** Forgets what was written: the next frame comes out as it is in the source. */
  restart(): void {
    this.isFirst = true;
  }

  /**
   * Adds one frame, windowed, to the outputs.
   * @param source read around `centre`; frames outside it count as 0
   * @param centre source frame in the middle of the window
   * @param outAt output frame of the window's start; what lies outside the outputs is left out
   * @param gains factor of each bin, or null
   */
  add(source: Stereo, centre: number, [outLeft, outRight]: Stereo, outAt: number, gains: Float64Array | null): void {
    const { size, turnRe, turnIm } = this;
    this.analyse(source, centre, this.now);
    if (this.isFirst) {
      turnRe.fill(1);
      turnIm.fill(0);
      this.isFirst = false;
    } else {
      this.analyse(source, centre - this.step, this.before);
      this.advance();
    }
    this.write(gains);
    const { output, window } = this;
    const scale = 1 / ((3 / 8) * OVERLAP);
    const from = Math.max(0, -outAt);
    const to = Math.min(size, outLeft.length - outAt);
    for (let i = from; i < to; i++) {
      const weight = window[i]! * scale;
      outLeft[outAt + i]! += output[2 * i]! * weight;
      outRight[outAt + i]! += output[2 * i + 1]! * weight;
    }
    const spare = this.last;
    this.last = this.now;
    this.now = spare;
  }

  /** Power of both channels around a source frame in `bands` bands; see bandOfBin. */
  bandPowers(source: Stereo, centre: number, bands: number): Float64Array {
    const { size, before } = this;
    this.analyse(source, centre, before);
    const out = new Float64Array(bands);
    const half = size / 2;
    const table = bandTable(half + 1, bands);
    for (let k = 0; k <= half; k++) {
      const m = k === 0 ? 0 : size - k;
      const power = before[2 * k]! ** 2 + before[2 * k + 1]! ** 2 + before[2 * m]! ** 2 + before[2 * m + 1]! ** 2;
      out[table[k]!]! += power;
    }
    return out;
  }

  /** Spectrum of both channels at once: left as the real, right as the imaginary part. */
  private analyse([left, right]: Stereo, centre: number, out: number[]): void {
    const { size, input, window } = this;
    const start = centre - size / 2;
    const from = Math.max(0, -start);
    const to = Math.max(from, Math.min(size, left.length - start));
    if (from > 0 || to < size) input.fill(0);
    for (let i = from; i < to; i++) {
      input[2 * i] = left[start + i]! * window[i]!;
      input[2 * i + 1] = right[start + i]! * window[i]!;
    }
    this.fft.transform(out, input);
  }

  /**
   * Turns on by what the source moves in one step, `X(last) * conj(X(now - step))`, at each peak of the new spectrum; the
   * bins around take their peak's turn. With `Z = L + iR`: `L(k) = (Z(k) + conj Z(-k)) / 2`, `R(k) = (Z(k) - conj Z(-k)) / 2i`,
   * so `sum over channels of A conj(B) = (ZA(k) conj ZB(k) + conj ZA(-k) ZB(-k)) / 2`.
   */
  private advance(): void {
    const { size, now, before, last, turnRe, turnIm, power, peakOf } = this;
    const half = size / 2;
    for (let k = 0; k <= half; k++) {
      const mirror = k === 0 ? 0 : size - k;
      power[k] = now[2 * k]! ** 2 + now[2 * k + 1]! ** 2 + now[2 * mirror]! ** 2 + now[2 * mirror + 1]! ** 2;
    }
    this.findPeaks();
    for (let k = 0; k <= half; k++) {
      if (peakOf[k] !== k) continue;
      const m = k === 0 ? 0 : size - k;
      const ar = last[2 * k]!;
      const ai = last[2 * k + 1]!;
      const br = before[2 * k]!;
      const bi = before[2 * k + 1]!;
      const cr = last[2 * m]!;
      const ci = last[2 * m + 1]!;
      const dr = before[2 * m]!;
      const di = before[2 * m + 1]!;
      const re = ar * br + ai * bi + (cr * dr + ci * di);
      const im = ai * br - ar * bi + (cr * di - ci * dr);
      const length = Math.hypot(re, im);
      if (length < 1e-20) continue;
      const tr = turnRe[k]!;
      const ti = turnIm[k]!;
      turnRe[k] = (tr * re - ti * im) / length;
      turnIm[k] = (tr * im + ti * re) / length;
    }
    for (let k = 0; k <= half; k++) {
      turnRe[k] = turnRe[peakOf[k]!]!;
      turnIm[k] = turnIm[peakOf[k]!]!;
    }
  }

  /** Peaks of the power, and for every bin the peak it belongs to: regions meet at the least bin between two peaks. */
  private findPeaks(): void {
    const { power, peakOf } = this;
    const last = power.length - 1;
    let previous = -1;
    for (let k = 0; k <= last; k++) {
      const value = power[k]!;
      let isPeak = true;
      for (let d = 1; d <= PEAK_REACH && isPeak; d++) {
        if ((k - d >= 0 && power[k - d]! >= value) || (k + d <= last && power[k + d]! > value)) isPeak = false;
      }
      if (!isPeak) continue;
      let border = 0;
      if (previous >= 0) {
        border = previous;
        for (let j = previous + 1; j < k; j++) if (power[j]! < power[border]!) border = j;
      }
      for (let j = previous < 0 ? 0 : border; j <= k; j++) peakOf[j] = k;
      if (previous >= 0) for (let j = previous; j < border; j++) peakOf[j] = previous;
      previous = k;
    }
    for (let j = Math.max(0, previous); j <= last; j++) peakOf[j] = Math.max(0, previous);
  }

  /** The turned spectrum, back in time. */
  private write(gains: Float64Array | null): void {
    const { size, now, input, turnRe, turnIm } = this;
    const half = size / 2;
    for (let k = 0; k <= half; k++) {
      const gain = gains ? gains[k]! : 1;
      const re = turnRe[k]! * gain;
      const im = turnIm[k]! * gain;
      const zr = now[2 * k]!;
      const zi = now[2 * k + 1]!;
      input[2 * k] = zr * re - zi * im;
      input[2 * k + 1] = zr * im + zi * re;
      if (k === 0 || k === half) continue;
      // The mirrored bin holds the conjugate of both channels' spectra: it turns the other way.
      const m = size - k;
      const mr = now[2 * m]!;
      const mi = now[2 * m + 1]!;
      input[2 * m] = mr * re + mi * im;
      input[2 * m + 1] = mi * re - mr * im;
    }
    this.fft.inverseTransform(this.output, input);
  }
}
