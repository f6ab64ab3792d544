/** The poles of a bank of band-pass filters, two bands in a vector: see `analysis/band-energies.ts`. */
import { sumOfLanes } from './lanes';

/** Samples a call may bring; more around them are what the zeros and the thinning look back and ahead at. */
export const BAND_SAMPLES: i32 = 8192;
export const bandInput: usize = memory.data((8192 + 32) * 4, 16);
/** Smoothed and thinned samples, after four of history. */
export const bandQuarter: usize = memory.data((2048 + 16) * 4, 16);
/** Two vectors of two bands: `a1 a1' a2 a2'`, then the states `y1 y2 z1 z2` of both, in doubles. */
export const bandSections: usize = memory.data(2 * 12 * 8, 16);
/** Hops a call may bring, and their sums of squares, four values a hop. */
export const BAND_HOPS: i32 = 512;
export const bandSums: usize = memory.data(512 * 4 * 8, 16);

/** Far below anything heard: in digital silence the poles would otherwise fade into denormal numbers, which are slow. */
const NOT_DENORMAL: f64 = 1e-18;

/** The zeros that both sections of every band share, `(1 - z^-2)^2`, for both lanes. */
function driven(at: usize): v128 {
  return f64x2.splat(<f64>load<f32>(at) - 2 * <f64>load<f32>(at - 8) + <f64>load<f32>(at - 16) + NOT_DENORMAL);
}

function pole(x: v128, a1: v128, a2: v128, y1: v128, y2: v128): v128 {
  return f64x2.sub(f64x2.sub(x, f64x2.mul(a2, y2)), f64x2.mul(a1, y1));
}

/** Runs four bands (two vectors) over `hops` hops of `hopFrames` samples. `samples` has four samples of history before it. */
export function runFourBands(samples: usize, hopFrames: i32, hops: i32): void {
  const p = bandSections;
  const a1 = v128.load(p);
  const a2 = v128.load(p, 16);
  let y1 = v128.load(p, 32);
  let y2 = v128.load(p, 48);
  let z1 = v128.load(p, 64);
  let z2 = v128.load(p, 80);
  const b1 = v128.load(p, 96);
  const b2 = v128.load(p, 112);
  let u1 = v128.load(p, 128);
  let u2 = v128.load(p, 144);
  let w1 = v128.load(p, 160);
  let w2 = v128.load(p, 176);
  let at = samples;
  for (let hop = 0; hop < hops; hop++) {
    let first = f64x2.splat(0);
    let second = f64x2.splat(0);
    const end = at + ((<usize>hopFrames) << 2);
    while (at < end) {
      const x = driven(at);
      const y = pole(x, a1, a2, y1, y2);
      const u = pole(x, b1, b2, u1, u2);
      const z = pole(y, a1, a2, z1, z2);
      const w = pole(u, b1, b2, w1, w2);
      first = f64x2.add(first, f64x2.mul(z, z));
      second = f64x2.add(second, f64x2.mul(w, w));
      y2 = y1;
      y1 = y;
      z2 = z1;
      z1 = z;
      u2 = u1;
      u1 = u;
      w2 = w1;
      w1 = w;
      at += 4;
    }
    const out = bandSums + ((<usize>hop) << 5);
    v128.store(out, first);
    v128.store(out, second, 16);
  }
  v128.store(p, y1, 32);
  v128.store(p, y2, 48);
  v128.store(p, z1, 64);
  v128.store(p, z2, 80);
  v128.store(p, u1, 128);
  v128.store(p, u2, 144);
  v128.store(p, w1, 160);
  v128.store(p, w2, 176);
}

/**
 * Every fourth value of three running means over four samples, one after the other: ten samples from three before to six
 * after weigh 1 3 6 10 12 12 10 6 3 1, of 64.
 */
export function thinToQuarter(samples: usize, out: usize, count: i32): void {
  const early = f32x4(1.0 / 64, 3.0 / 64, 6.0 / 64, 10.0 / 64);
  const middle = f32x4(12.0 / 64, 12.0 / 64, 10.0 / 64, 6.0 / 64);
  const late = f32x4(3.0 / 64, 1.0 / 64, 0, 0);
  let at = samples - 12;
  const end = out + ((<usize>count) << 2);
  for (let to = out; to < end; to += 4) {
    const sum = f32x4.add(
      f32x4.add(f32x4.mul(early, v128.load(at)), f32x4.mul(middle, v128.load(at, 16))),
      f32x4.mul(late, v128.load(at, 32)),
    );
    store<f32>(to, sumOfLanes(sum));
    at += 16;
  }
}
