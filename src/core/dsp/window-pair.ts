/**
 * Spectra of real signals, two windows in one complex transform (W. Press et al., "Numerical Recipes", 3rd edition,
 * section 12.3.2), in the kernels' memory: what was measured stands until any other pair is.
 */
import { kernels } from '../kernels/kernels.ts';
import { fillTurns } from '../kernels/turns.ts';
import { hannWindow } from './hann-window.ts';

export class WindowPair {
  /** Hann, periodic. */
  readonly window: Float64Array;
  /** `|X|^2` of the two, from 0 Hz to half of the sample rate: `size / 2 + 1` numbers each. */
  readonly powers: readonly [Float64Array, Float64Array];
  private readonly kernel = kernels();
  private readonly frames: Float32Array;

  /** @param size samples of a window: a power of two from 16 to 8192; @throws RangeError otherwise */
  constructor(readonly size: number) {
    const { kernel } = this;
    if (size < 16 || size > kernel.value('PAIR_SIZE') || (size & (size - 1)) !== 0) {
      throw new RangeError(`a window has 16 to 8192 samples, a power of two; not ${size}`);
    }
    this.window = hannWindow(size);
    fillTurns();
    kernel.doubles('pairShapes', 2 * size).set(this.window, size);
    this.frames = kernel.floats('pairFrames', size);
    const bins = size / 2 + 1;
    const powers = kernel.doubles('pairPowers', 2 * bins);
    this.powers = [powers.subarray(0, bins), powers.subarray(bins)];
  }

  /**
   * Takes the window that begins at `start`; what lies outside the signal, or from `stop` on, is silence.
   * @param place 0 or 1: which of the two
   */
  load(place: 0 | 1, signal: Float32Array, start: number, stop = Infinity, gain = 1): void {
    const { size } = this;
    const first = Math.min(size, Math.max(0, -start));
    const last = Math.max(first, Math.min(size, signal.length - start, stop - start));
    if (last > first) this.frames.set(signal.subarray(start + first, start + last));
    this.kernel.loadPair(size, first, last, gain, place);
  }

  /** The second of the two is silence. */
  loadNothing(): void {
    this.kernel.loadPair(this.size, 0, 0, 1, 1);
  }

  /** Measures the two that were loaded since the last time. */
  measure(): void {
    this.kernel.measurePair(this.size);
  }
}
