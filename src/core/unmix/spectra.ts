/**
 * Spectra over time of a short sound, and the sound back from them: windows of the square root of Hann going in and
 * coming out, a quarter of a window apart, so that what is not changed comes back as it was (J. B. Allen and
 * L. R. Rabiner, "A unified approach to short-time Fourier analysis and synthesis", Proc. IEEE 65, 1977).
 */
import FFT from 'fft.js';
import { hannWindow } from '../dsp/hann-window.ts';

const OVERLAP = 4;
const WINDOW_SECONDS = 0.0116;

/** Complex numbers by row (moment) and bin: bin `k` of row `t` at `t * bins + k`. */
export interface Spectra {
  rows: number;
  bins: number;
  re: Float32Array;
  im: Float32Array;
}

export class Spectrograph {
  readonly size: number;
  readonly bins: number;
  readonly hop: number;
  private readonly fft: FFT;
  private readonly window: Float64Array;
  private readonly frame: Float64Array;
  private readonly spectrum: Float64Array;

  /** Windows of about 12 ms, a power of two long: short enough for an attack, long enough for the tone of a drum. */
  constructor(readonly sampleRate: number) {
    const size = 2 ** Math.round(Math.log2(sampleRate * WINDOW_SECONDS));
    this.size = size;
    this.fft = new FFT(size);
    this.bins = size / 2 + 1;
    this.hop = size / OVERLAP;
    this.window = hannWindow(size).map(Math.sqrt);
    this.frame = new Float64Array(size);
    this.spectrum = new Float64Array(2 * size);
  }

  /** Rows that a sound of so many frames has: all whose windows reach into it. */
  rowsOf(frames: number): number {
    return Math.ceil(frames / this.hop) + OVERLAP - 1;
  }

  /** The frame around which a row stands; that of the first lies before the sound. */
  frameOf(row: number): number {
    return (row - OVERLAP / 2 + 1) * this.hop;
  }

  secondsOf(row: number): number {
    return this.frameOf(row) / this.sampleRate;
  }

  /** Share of a row's window that lies in a sound of so many frames, by power. */
  coverage(row: number, frames: number): number {
    const at = this.frameOf(row) - this.size / 2;
    if (at >= 0 && at + this.size <= frames) return 1;
    let [inside, all] = [0, 0];
    for (let i = 0; i < this.size; i++) {
      const power = this.window[i]! ** 2;
      all += power;
      if (at + i >= 0 && at + i < frames) inside += power;
    }
    return inside / all;
  }

  /** @param start frame of the signal that counts as 0: what lies outside the signal is silence */
  analyse(signal: Float32Array, start = 0, frames = signal.length): Spectra {
    const { size, bins, window, frame, spectrum } = this;
    const rows = this.rowsOf(frames);
    const re = new Float32Array(rows * bins);
    const im = new Float32Array(rows * bins);
    for (let row = 0; row < rows; row++) {
      const at = start + this.frameOf(row) - size / 2;
      const last = start + frames;
      for (let i = 0; i < size; i++) {
        const inside = at + i >= start && at + i < last;
        frame[i] = (inside ? (signal[at + i] ?? 0) : 0) * window[i]!;
      }
      this.fft.realTransform(spectrum, frame);
      for (let bin = 0; bin < bins; bin++) {
        re[row * bins + bin] = spectrum[2 * bin]!;
        im[row * bins + bin] = spectrum[2 * bin + 1]!;
      }
    }
    return { rows, bins, re, im };
  }

  /** The sound of spectra: what {@link analyse} was given, where nothing was changed. */
  sound({ rows, bins, re, im }: Spectra, frames: number): Float32Array {
    const { size, window, spectrum } = this;
    const out = new Float32Array(frames);
    const back = new Float64Array(2 * size);
    const level = 2 / OVERLAP;
    for (let row = 0; row < rows; row++) {
      for (let bin = 0; bin < bins; bin++) {
        spectrum[2 * bin] = re[row * bins + bin]!;
        spectrum[2 * bin + 1] = im[row * bins + bin]!;
      }
      this.fft.completeSpectrum(spectrum);
      this.fft.inverseTransform(back, spectrum);
      const at = this.frameOf(row) - size / 2;
      const first = Math.max(0, -at);
      const last = Math.min(size, frames - at);
      for (let i = first; i < last; i++) out[at + i] = out[at + i]! + back[2 * i]! * window[i]! * level;
    }
    return out;
  }
}

/** `|X|^2` of every number. */
export function powersOf({ re, im }: Spectra): Float32Array {
  return re.map((value, i) => value * value + im[i]! * im[i]!);
}
