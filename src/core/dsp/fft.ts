/** Spectra of real signals, on top of the package fft.js. */
import FFT from 'fft.js';
import { hannWindow } from './hann-window.ts';

/** Power spectra of frames of one size; owns its buffers, so one instance serves one caller at a time. */
export class PowerSpectrum {
  readonly size: number;
  readonly binCount: number;
  private readonly fft: FFT;
  private readonly input: Float64Array;
  private readonly spectrum: number[];
  private readonly window: Float64Array;

  /** @param size frame length in samples, a power of two from 4 up; @throws RangeError otherwise */
  constructor(size: number) {
    if (size < 4 || (size & (size - 1)) !== 0) throw new RangeError(`FFT size ${size} is no power of two from 4 up`);
    this.size = size;
    this.binCount = size / 2 + 1;
    this.fft = new FFT(size);
    this.input = new Float64Array(size);
    this.spectrum = this.fft.createComplexArray();
    this.window = hannWindow(size);
  }

  /**
   * Hann-windowed power `|X|^2` of the frame that begins at `start`; samples outside the signal count as 0.
   * @param out receives {@link binCount} values
   */
  measure(signal: Float32Array, start: number, out: Float32Array): void {
    const { size, input, window, spectrum } = this;
    const from = Math.max(0, -start);
    const to = Math.max(from, Math.min(size, signal.length - start));
    if (from > 0 || to < size) input.fill(0);
    for (let i = from; i < to; i++) input[i] = signal[start + i]! * window[i]!;
    this.fft.realTransform(spectrum, input as unknown as number[]);
    for (let bin = 0; bin < this.binCount; bin++) {
      const re = spectrum[2 * bin]!;
      const im = spectrum[2 * bin + 1]!;
      out[bin] = re * re + im * im;
    }
  }
}
