/**
 * The Fourier transform of complex numbers, one number in a vector: Stockham's self-sorting algorithm with radix 4, and a
 * last pass of radix 2 where the size is no power of four (C. Van Loan, "Computational Frameworks for the Fast Fourier
 * Transform", SIAM 1992, sections 1.7 and 2.4).
 */

/** The longest transform. */
export const SPECTRUM_SIZE: i32 = 16384;
/** `cos` and `-sin` of `2 pi k / SPECTRUM_SIZE`, in doubles: filled by the host. */
export const spectrumTurns: usize = memory.data(16384 * 16, 16);

const COMPLEX_SHIFT = 4;

function swapped(z: v128): v128 {
  return v128.shuffle<f64>(z, z, 1, 0);
}

/** `i z`. */
function quarterTurn(z: v128): v128 {
  return v128.xor(swapped(z), i64x2(0x8000000000000000, 0));
}

/** Place of the `k`-th entry of the table. */
function turnAt(k: i32): usize {
  return spectrumTurns + ((<usize>k) << COMPLEX_SHIFT);
}

/** `z` times a turn: its real part twice, and its imaginary part with both signs. */
function turned(z: v128, re: v128, im: v128): v128 {
  return f64x2.add(f64x2.mul(z, re), f64x2.mul(swapped(z), im));
}

function imaginaryAt(place: usize): v128 {
  return v128.xor(v128.load_splat<f64>(place, 8), i64x2(0x8000000000000000, 0));
}

/** One pass over `stride` interleaved transforms of length `n`. */
function passOfFour(from: usize, to: usize, n: i32, stride: i32): void {
  const quarter = n >> 2;
  const tableStep = SPECTRUM_SIZE / n;
  const quarterBytes = (<usize>(stride * quarter)) << COMPLEX_SHIFT;
  const strideBytes = (<usize>stride) << COMPLEX_SHIFT;
  let at = from;
  let out = to;
  for (let p = 0; p < quarter; p++) {
    const k = p * tableStep;
    const re = v128.load_splat<f64>(turnAt(k));
    const re2 = v128.load_splat<f64>(turnAt(2 * k));
    const re3 = v128.load_splat<f64>(turnAt(3 * k));
    const im = imaginaryAt(turnAt(k));
    const im2 = imaginaryAt(turnAt(2 * k));
    const im3 = imaginaryAt(turnAt(3 * k));
    const end = at + strideBytes;
    while (at < end) {
      const a = v128.load(at);
      const b = v128.load(at + quarterBytes);
      const c = v128.load(at + 2 * quarterBytes);
      const d = v128.load(at + 3 * quarterBytes);
      const evenSum = f64x2.add(a, c);
      const evenDifference = f64x2.sub(a, c);
      const oddSum = f64x2.add(b, d);
      const oddDifference = quarterTurn(f64x2.sub(b, d));
      v128.store(out, f64x2.add(evenSum, oddSum));
      v128.store(out + strideBytes, turned(f64x2.sub(evenDifference, oddDifference), re, im));
      v128.store(out + 2 * strideBytes, turned(f64x2.sub(evenSum, oddSum), re2, im2));
      v128.store(out + 3 * strideBytes, turned(f64x2.add(evenDifference, oddDifference), re3, im3));
      at += 16;
      out += 16;
    }
    out += 3 * strideBytes;
  }
}

function passOfTwo(from: usize, to: usize, stride: i32): void {
  const strideBytes = (<usize>stride) << COMPLEX_SHIFT;
  const end = from + strideBytes;
  let out = to;
  for (let at = from; at < end; at += 16) {
    const a = v128.load(at);
    const b = v128.load(at + strideBytes);
    v128.store(out, f64x2.add(a, b));
    v128.store(out + strideBytes, f64x2.sub(a, b));
    out += 16;
  }
}

/** `to[k] = sum over n of from[n] exp(-2 pi i k n / size)`; `from` stays as it is, `work` does not. */
export function fourierTransform(from: usize, to: usize, work: usize, size: i32): void {
  let source = from;
  // The passes alternate between the two so that the last one writes to `to`.
  let target = ((31 - clz(size) + 1) / 2) & 1 ? to : work;
  let n = size;
  let stride = 1;
  while (n > 1) {
    if (n >= 4) passOfFour(source, target, n, stride);
    else passOfTwo(source, target, stride);
    n >>= 2;
    stride <<= 2;
    source = target;
    target = target == to ? work : to;
  }
}
