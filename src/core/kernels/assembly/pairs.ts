/** Powers of two windows of real signals from one complex transform: see `dsp/window-pair.ts`. */
import { fourierTransform } from './spectrum';
import { vocoderInput, vocoderSpectrum, vocoderWork } from './vocoder';

/** The longest window. */
export const PAIR_SIZE: i32 = 8192;
/** Windows of all sizes, each as far from the beginning as it is long; samples of a window; powers of two of them. */
export const pairShapes: usize = memory.data(2 * 8192 * 8, 16);
export const pairFrames: usize = memory.data(8192 * 4, 16);
export const pairPowers: usize = memory.data(2 * (4096 + 1) * 8, 16);

/**
 * Shapes the samples `first` to `last` of a window, which are in `pairFrames`, and puts them among the numbers to transform;
 * the rest of the window is silence.
 * @param lane 0: real parts, 1: imaginary ones
 */
export function loadPair(size: i32, first: i32, last: i32, gain: f64, lane: i32): void {
  let out = vocoderInput + ((<usize>lane) << 3);
  for (let i = 0; i < first; i++, out += 16) store<f64>(out, 0);
  let shape = pairShapes + ((<usize>(size + first)) << 3);
  let from = pairFrames;
  for (let i = first; i < last; i++, out += 16) {
    store<f64>(out, <f64>load<f32>(from) * load<f64>(shape) * gain);
    from += 4;
    shape += 8;
  }
  for (let i = last; i < size; i++, out += 16) store<f64>(out, 0);
}

/** The powers of both windows up to half of the sample rate, one after the other: `size / 2 + 1` each. */
export function measurePair(size: i32): void {
  fourierTransform(vocoderInput, vocoderSpectrum, vocoderWork, size);
  const half = size >> 1;
  let one = pairPowers;
  let other = pairPowers + ((<usize>(half + 1)) << 3);
  let at = vocoderSpectrum;
  let mirror = vocoderSpectrum;
  const quarter = f64x2.splat(0.25);
  for (let bin = 0; bin <= half; bin++) {
    const z = v128.load(at);
    const conjugate = v128.xor(v128.load(mirror), i64x2(0, 0x8000000000000000));
    // Even parts are the first signal's, odd ones the second's.
    const even = f64x2.add(z, conjugate);
    const odd = f64x2.sub(z, conjugate);
    const evens = f64x2.mul(f64x2.mul(even, even), quarter);
    const odds = f64x2.mul(f64x2.mul(odd, odd), quarter);
    store<f64>(one, f64x2.extract_lane(evens, 0) + f64x2.extract_lane(evens, 1));
    store<f64>(other, f64x2.extract_lane(odds, 0) + f64x2.extract_lane(odds, 1));
    one += 8;
    other += 8;
    at += 16;
    mirror = bin == 0 ? vocoderSpectrum + ((<usize>(size - 1)) << 4) : mirror - 16;
  }
}
