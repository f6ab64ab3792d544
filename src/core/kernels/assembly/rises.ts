/** How much the energy of a band rises at each hop, four hops at a time: see `analysis/onset-features.ts`. */

/** Hops a call may bring, and hops before and after them that the windows see. */
export const RISE_HOPS: i32 = 4096;
export const RISE_BACK: i32 = 24;
export const RISE_AHEAD: i32 = 16;
export const riseEnergies: usize = memory.data((4096 + 24 + 16) * 4, 16);
export const riseShort: usize = memory.data(4096 * 4, 16);
export const riseLong: usize = memory.data(4096 * 4, 16);
export const riseTotal: usize = memory.data(4096 * 4, 16);
/** Running sums of the energies, in doubles; those of a call, so that small energies do not drown in a long file. */
const sums: usize = memory.data((4096 + 24 + 16 + 8) * 8, 16);

const CEILING_DB: f32 = 30;
const DB_AN_OCTAVE: f32 = 3.0102999566;

/**
 * Decibels of ratios above 1, up to the ceiling; 0 for others. With `r = m 2^e` and `s = (m - 1) / (m + 1)`,
 * `log2 r = e + (2 / ln 2) (s + s^3/3 + s^5/5 + s^7/7)`: exact to 5e-8 for m from 0.7 to 1.4 (series of artanh).
 */
function decibels(ratio: v128): v128 {
  const half = i32x4.splat(0x3f3504f3);
  const exponent = i32x4.shr_s(i32x4.sub(ratio, half), 23);
  const mantissa = i32x4.sub(ratio, i32x4.shl(exponent, 23));
  const one = f32x4.splat(1);
  const s = f32x4.div(f32x4.sub(mantissa, one), f32x4.add(mantissa, one));
  const q = f32x4.mul(s, s);
  let series = f32x4.add(f32x4.splat(1.0 / 5), f32x4.mul(q, f32x4.splat(1.0 / 7)));
  series = f32x4.add(f32x4.splat(1.0 / 3), f32x4.mul(q, series));
  series = f32x4.add(one, f32x4.mul(q, series));
  const octaves = f32x4.add(f32x4.convert_i32x4_s(exponent), f32x4.mul(f32x4.mul(s, f32x4.splat(2.885390082)), series));
  const rise = f32x4.pmin(f32x4.splat(CEILING_DB), f32x4.mul(octaves, f32x4.splat(DB_AN_OCTAVE)));
  return v128.and(rise, f32x4.gt(ratio, one));
}

/** Sums of `frames` energies from four hops on, `at` being the address of the running sum of the first. */
function windows(at: usize, frames: i32): v128 {
  const later = at + ((<usize>frames) << 3);
  const first = f64x2.sub(v128.load(later), v128.load(at));
  const second = f64x2.sub(v128.load(later, 16), v128.load(at, 16));
  return i32x4.shuffle(f32x4.demote_f64x2_zero(first), f32x4.demote_f64x2_zero(second), 0, 1, 4, 5);
}

function rises(at: usize, after: i32, before: i32, floor: v128): v128 {
  const energyAfter = f32x4.add(f32x4.mul(windows(at, after), f32x4.splat(1 / <f32>after)), floor);
  const start = at - ((<usize>before) << 3);
  const energyBefore = f32x4.add(f32x4.mul(windows(start, before), f32x4.splat(1 / <f32>before)), floor);
  return decibels(f32x4.div(energyAfter, energyBefore));
}

/**
 * Rises of one band over short and long windows, at `hops` hops, and their weighted sum less `leastDb` added to the
 * total where it is above 0.
 */
export function measureBandRises(
  hops: i32,
  shortAfter: i32,
  shortBefore: i32,
  longAfter: i32,
  longBefore: i32,
  floor: f32,
  shortShare: f32,
  leastDb: f32,
): void {
  let sum: f64 = 0;
  store<f64>(sums, 0);
  const count = hops + RISE_BACK + RISE_AHEAD;
  for (let i = 0; i < count; i++) {
    sum += <f64>load<f32>(riseEnergies + ((<usize>i) << 2));
    store<f64>(sums + ((<usize>(i + 1)) << 3), sum);
  }
  const floors = f32x4.splat(floor);
  const shares = f32x4.splat(shortShare);
  const others = f32x4.splat(1 - shortShare);
  const least = f32x4.splat(leastDb);
  for (let i = 0; i < hops; i += 4) {
    const at = sums + ((<usize>(i + RISE_BACK)) << 3);
    const out = (<usize>i) << 2;
    const short = rises(at, shortAfter, shortBefore, floors);
    const long = rises(at, longAfter, longBefore, floors);
    v128.store(riseShort + out, short);
    v128.store(riseLong + out, long);
    const both = f32x4.sub(f32x4.add(f32x4.mul(shares, short), f32x4.mul(others, long)), least);
    v128.store(riseTotal + out, f32x4.add(v128.load(riseTotal + out), f32x4.pmax(f32x4.splat(0), both)));
  }
}
