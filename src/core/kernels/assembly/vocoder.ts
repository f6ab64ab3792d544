/** Frames of the phase vocoder: see `stretch/phase-vocoder.ts`, which says what is computed and after whom. */
import { fourierTransform } from './spectrum';

/** The longest window, and steps a window. */
export const VOCODER_SIZE: i32 = 16384;
export const VOCODER_OVERLAP: i32 = 4;
/** Most bands. */
export const VOCODER_BANDS: i32 = 16;

/** The source, one step and a window of each channel: the window one step before begins with it, the frame's own a step later. */
export const vocoderLeft: usize = memory.data((16384 + 4096) * 4, 16);
export const vocoderRight: usize = memory.data((16384 + 4096) * 4, 16);
/** The window's weights, and for every bin the number of its band. */
export const vocoderWindow: usize = memory.data(16384 * 8, 16);
export const vocoderBandOfBin: usize = memory.data(8192 + 16, 16);
/** A factor for every band; powers of the bands. */
export const vocoderGains: usize = memory.data(16 * 8, 16);
export const vocoderPowers: usize = memory.data(16 * 8, 16);
/** The frame, windowed again. */
export const vocoderOutLeft: usize = memory.data(16384 * 4, 16);
export const vocoderOutRight: usize = memory.data(16384 * 4, 16);

/** A peak is greater than this many bins on either side. */
const PEAK_REACH = 2;

/** What goes into a transform, what comes out, and room to work in. */
export const vocoderInput: usize = memory.data(16384 * 16, 16);
export const vocoderSpectrum: usize = memory.data(16384 * 16, 16);
export const vocoderWork: usize = memory.data(16384 * 16, 16);
/** The spectra of this frame and of the last; they change places. */
let now: usize = memory.data(16384 * 16, 16);
let last: usize = memory.data(16384 * 16, 16);
/** How far each bin is turned, the power of each, and the peak it belongs to. */
const turns: usize = memory.data((8192 + 1) * 16, 16);
const powers: usize = memory.data((8192 + 1) * 8, 16);
const peaks: usize = memory.data((8192 + 1) * 4, 16);

function complexAt(start: usize, k: i32): usize {
  return start + ((<usize>k) << 4);
}

function powerAt(k: i32): f64 {
  return load<f64>(powers + ((<usize>k) << 3));
}

function setPeak(k: i32, peak: i32): void {
  store<i32>(peaks + ((<usize>k) << 2), peak);
}

/** Spectrum of the window that begins at a frame of the source: left as the real, right as the imaginary part. */
function analyse(first: i32, size: i32, to: usize): void {
  const left = vocoderLeft + ((<usize>first) << 2);
  const right = vocoderRight + ((<usize>first) << 2);
  for (let i = 0; i < size; i++) {
    const weight = load<f64>(vocoderWindow + ((<usize>i) << 3));
    const at = complexAt(vocoderInput, i);
    store<f64>(at, weight * load<f32>(left + ((<usize>i) << 2)));
    store<f64>(at, weight * load<f32>(right + ((<usize>i) << 2)), 8);
  }
  fourierTransform(vocoderInput, to, vocoderWork, size);
}

function squareSum(spectrum: usize, k: i32): f64 {
  const z = v128.load(complexAt(spectrum, k));
  const square = f64x2.mul(z, z);
  return f64x2.extract_lane(square, 0) + f64x2.extract_lane(square, 1);
}

/** Power of both channels in a bin: half of it stands in the mirrored one. */
function binPower(spectrum: usize, k: i32, size: i32): f64 {
  return squareSum(spectrum, k) + squareSum(spectrum, k == 0 ? 0 : size - k);
}

/** Powers of the bands in the window at the source's first frame. */
export function measureVocoderPowers(size: i32): void {
  analyse(0, size, vocoderSpectrum);
  memory.fill(vocoderPowers, 0, (<usize>VOCODER_BANDS) << 3);
  for (let k = 0, half = size >> 1; k <= half; k++) {
    const at = vocoderPowers + ((<usize>load<u8>(vocoderBandOfBin + <usize>k)) << 3);
    store<f64>(at, load<f64>(at) + binPower(vocoderSpectrum, k, size));
  }
}

/**
 * Makes one frame.
 * @param isFirst it comes out as it is
 * @param isStraight the source has moved one step since the last frame, as the result does: nothing turns further
 */
export function makeVocoderFrame(size: i32, isFirst: bool, isStraight: bool): void {
  const half = size >> 1;
  const step = size / VOCODER_OVERLAP;
  analyse(step, size, now);
  if (isFirst) {
    for (let k = 0; k <= half; k++) v128.store(complexAt(turns, k), f64x2(1, 0));
  } else {
    for (let k = 0; k <= half; k++) store<f64>(powers + ((<usize>k) << 3), binPower(now, k, size));
    findPeaks(half);
    if (!isStraight) {
      analyse(0, size, vocoderSpectrum);
      turnPeaks(size);
    }
    for (let k = 0; k <= half; k++) {
      v128.store(complexAt(turns, k), v128.load(complexAt(turns, load<i32>(peaks + ((<usize>k) << 2)))));
    }
  }
  writeFrame(size);
  const spare = last;
  last = now;
  now = spare;
}

/** Peaks of the power, and for every bin the peak it belongs to: regions meet at the least bin between two peaks. */
function findPeaks(half: i32): void {
  let previous = -1;
  for (let k = 0; k <= half; k++) {
    const value = powerAt(k);
    let isPeak = true;
    for (let d = 1; d <= PEAK_REACH && isPeak; d++) {
      if ((k - d >= 0 && powerAt(k - d) >= value) || (k + d <= half && powerAt(k + d) > value)) isPeak = false;
    }
    if (!isPeak) continue;
    let border = max(0, previous);
    if (previous >= 0) for (let j = previous + 1; j < k; j++) if (powerAt(j) < powerAt(border)) border = j;
    for (let j = border; j <= k; j++) setPeak(j, k);
    if (previous >= 0) for (let j = previous; j < border; j++) setPeak(j, previous);
    previous = k;
  }
  for (let j = max(0, previous); j <= half; j++) setPeak(j, max(0, previous));
}

/** `sum over channels of X(last) conj(X(now - step))` at each peak: how far the source itself has moved. */
function turnPeaks(size: i32): void {
  const half = size >> 1;
  for (let k = 0; k <= half; k++) {
    if (load<i32>(peaks + ((<usize>k) << 2)) != k) continue;
    const mirror = k == 0 ? 0 : size - k;
    const ar = load<f64>(complexAt(last, k));
    const ai = load<f64>(complexAt(last, k), 8);
    const br = load<f64>(complexAt(vocoderSpectrum, k));
    const bi = load<f64>(complexAt(vocoderSpectrum, k), 8);
    const cr = load<f64>(complexAt(last, mirror));
    const ci = load<f64>(complexAt(last, mirror), 8);
    const dr = load<f64>(complexAt(vocoderSpectrum, mirror));
    const di = load<f64>(complexAt(vocoderSpectrum, mirror), 8);
    const re = ar * br + ai * bi + (cr * dr + ci * di);
    const im = ai * br - ar * bi + (cr * di - ci * dr);
    const length = sqrt(re * re + im * im);
    if (length < 1e-20) continue;
    const turn = complexAt(turns, k);
    const tr = load<f64>(turn);
    const ti = load<f64>(turn, 8);
    store<f64>(turn, (tr * re - ti * im) / length);
    store<f64>(turn, (tr * im + ti * re) / length, 8);
  }
}

/** The turned spectrum, back in time: the forward transform does it when real and imaginary parts change places. */
function writeFrame(size: i32): void {
  const half = size >> 1;
  for (let k = 0; k <= half; k++) {
    const gain = load<f64>(vocoderGains + ((<usize>load<u8>(vocoderBandOfBin + <usize>k)) << 3));
    const re = load<f64>(complexAt(turns, k)) * gain;
    const im = load<f64>(complexAt(turns, k), 8) * gain;
    const zr = load<f64>(complexAt(now, k));
    const zi = load<f64>(complexAt(now, k), 8);
    store<f64>(complexAt(vocoderInput, k), zr * im + zi * re);
    store<f64>(complexAt(vocoderInput, k), zr * re - zi * im, 8);
    if (k == 0 || k == half) continue;
    // The mirrored bin holds the conjugate of both channels' spectra: it turns the other way.
    const mirror = size - k;
    const mr = load<f64>(complexAt(now, mirror));
    const mi = load<f64>(complexAt(now, mirror), 8);
    store<f64>(complexAt(vocoderInput, mirror), mi * re - mr * im);
    store<f64>(complexAt(vocoderInput, mirror), mr * re + mi * im, 8);
  }
  fourierTransform(vocoderInput, vocoderSpectrum, vocoderWork, size);
  // Hann windows, squared and a quarter apart, sum to 3/8 of the overlap.
  const scale = 1.0 / (0.375 * <f64>VOCODER_OVERLAP * <f64>size);
  for (let i = 0; i < size; i++) {
    const weight = scale * load<f64>(vocoderWindow + ((<usize>i) << 3));
    store<f32>(vocoderOutLeft + ((<usize>i) << 2), <f32>(weight * load<f64>(complexAt(vocoderSpectrum, i), 8)));
    store<f32>(vocoderOutRight + ((<usize>i) << 2), <f32>(weight * load<f64>(complexAt(vocoderSpectrum, i))));
  }
}
