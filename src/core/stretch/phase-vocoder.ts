/**
 * A phase vocoder that reads a sound at any moments, in any order, and writes it at even steps: what holds, holds on at
 * the same pitch.
 *
 * Each output frame takes the spectrum at its source moment and turns it so that every partial goes on where it was one
 * step before: the turn grows by the phase that the source itself moves in one step (M. Puckette, "Phase-locked
 * vocoder", WASPAA 1995: two analyses one synthesis step apart, so nothing has to be unwrapped and a steady sine comes
 * out steady). All bins around a peak turn with it (identity phase locking: J. Laroche and M. Dolson, "Improved phase
 * vocoder time-scale modification of audio", IEEE Trans. Speech and Audio Proc. 7, 1999). Both channels turn alike, so
 * left and right keep their phase and with it their width: with `Z = L + iR` the spectra are `L(k) = (Z(k) + conj Z(-k)) / 2`
 * and `R(k) = (Z(k) - conj Z(-k)) / 2i`, so `sum over channels of A conj(B) = (ZA(k) conj ZB(k) + conj ZA(-k) ZB(-k)) / 2`.
 *
 * The frames are made by a kernel (`kernels/assembly/vocoder.ts`), whose memory one vocoder uses at a time.
 */
import { hannWindow } from '../dsp/hann-window.ts';
import { addSamples } from '../dsp/mixing.ts';
import { kernels } from '../kernels/kernels.ts';
import { fillTurns } from '../kernels/turns.ts';

/** Left and right; the same array twice for a sound of one channel. */
type Stereo = readonly [left: Float32Array, right: Float32Array];

const MIN_SIZE = 16;

const kernel = kernels();
/** The longest window, in frames. */
export const MAX_WINDOW = kernel.value('VOCODER_SIZE');
const overlap = kernel.value('VOCODER_OVERLAP');
const places = {
  source: ['vocoderLeft', 'vocoderRight'].map((name) => kernel.floats(name, MAX_WINDOW + MAX_WINDOW / overlap)),
  out: ['vocoderOutLeft', 'vocoderOutRight'].map((name) => kernel.floats(name, MAX_WINDOW)),
  window: kernel.doubles('vocoderWindow', MAX_WINDOW),
  bandOfBin: kernel.bytes('vocoderBandOfBin', MAX_WINDOW / 2 + 1),
  gains: kernel.doubles('vocoderGains', kernel.value('VOCODER_BANDS')),
  powers: kernel.doubles('vocoderPowers', kernel.value('VOCODER_BANDS')),
};
/** The window of the vocoder whose bands and frames the kernel's memory holds. */
let laidOut: Float64Array | undefined;

/** The band of a bin; bands are as wide as their place: equal steps of the logarithm of the bin. */
function bandOfBin(bin: number, bins: number, bands: number): number {
  return Math.min(bands - 1, Math.floor((Math.log2(1 + bin) / Math.log2(1 + bins)) * bands));
}

export class PhaseVocoder {
  readonly size: number;
  /** Frames from one output frame to the next: a quarter of the size. */
  readonly step: number;
  readonly bands: number;
  private readonly window: Float64Array;
  private readonly bandOfBin: Uint8Array;
  /** Source frame in the middle of the last frame's window; null before the first. */
  private lastCentre: number | null = null;

  /**
   * @param size window length in frames, a power of two from 16 to 16384
   * @param bands bands that levels are measured and set in, 1..16
   * @throws RangeError for another size or number of bands
   */
  constructor(size: number, bands: number) {
    if (!(size >= MIN_SIZE && size <= MAX_WINDOW && (size & (size - 1)) === 0)) {
      throw new RangeError(`a window of ${size} frames: it must be a power of two from ${MIN_SIZE} to ${MAX_WINDOW}`);
    }
    if (!(bands >= 1 && bands <= places.gains.length)) {
      throw new RangeError(`${bands} bands: there are 1 to ${places.gains.length}`);
    }
    this.size = size;
    this.step = size / overlap;
    this.bands = bands;
    this.window = hannWindow(size);
    const bins = size / 2 + 1;
    this.bandOfBin = Uint8Array.from({ length: bins }, (_, bin) => bandOfBin(bin, bins, bands));
  }

  /** Forgets what was written: the next frame comes out as it is in the source. */
  restart(): void {
    this.lastCentre = null;
  }

  /**
   * Adds one frame, windowed, to the outputs.
   * @param source read around `centre`; frames outside it count as 0
   * @param centre source frame in the middle of the window
   * @param outAt output frame of the window's start; what lies outside the outputs is left out
   * @param gains factor of each band
   * @throws Error when another vocoder has made frames since this one's last: {@link restart} first
   */
  add(source: Stereo, centre: number, out: Stereo, outAt: number, gains: Float64Array): void {
    const { size, step, lastCentre } = this;
    if (lastCentre !== null && laidOut !== this.window)
      throw new Error('another phase vocoder was at work in between: restart');
    this.takeOver();
    this.read(source, centre - step - size / 2, size + step);
    places.gains.set(gains);
    kernel.makeVocoderFrame(size, lastCentre === null, lastCentre === centre - step);
    this.lastCentre = centre;
    for (const [side, channel] of out.entries()) addSamples(channel, outAt, places.out[side]!.subarray(0, size));
  }

  /** Power of both channels around a source frame, band by band. */
  bandPowers(source: Stereo, centre: number): Float64Array {
    this.takeOver();
    this.read(source, centre - this.size / 2, this.size);
    kernel.measureVocoderPowers(this.size);
    return places.powers.slice(0, this.bands);
  }

  private takeOver(): void {
    if (laidOut === this.window) return;
    fillTurns();
    places.window.set(this.window);
    places.bandOfBin.set(this.bandOfBin);
    laidOut = this.window;
  }

  /** Brings `length` frames of the source from `start` on into the kernel's memory. */
  private read(source: Stereo, start: number, length: number): void {
    const from = Math.max(0, start);
    for (const [side, channel] of source.entries()) {
      const to = Math.max(from, Math.min(channel.length, start + length));
      const window = places.source[side]!;
      if (from > start || to < start + length) window.fill(0, 0, length);
      if (to > from) window.set(channel.subarray(from, to), from - start);
    }
  }
}
