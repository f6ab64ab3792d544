/** What lies between two samples, bent: see `engine/mix/effects/building/bend-pairs.ts`. Of pairs, as in `oversample.ts`. */
import { overPairs } from './oversample';

/** Steps of the table from one whole number to the next, and where it ends. */
export const BEND_STEPS: i32 = 256;
export const BEND_END: i32 = 18;

/** The table: a value and its slope at each place. */
export const bendTable: usize = memory.data((18 * 256 + 2) * 16, 16);
/** The last pair, and the integral of the bend there. */
export const bendLast: usize = memory.data(2 * 16, 16);

/** Up to here in the table from where there is one more place. */
const LAST_PLACE: f64 = 4607;
const LN2: f64 = 0.6931471805599453;
/** Below this distance the integrals differ by no more than rounding. */
const CLOSE: f64 = 1e-4;

/**
 * Bends `count` pairs by a hyperbolic tangent that stands aside of its middle: its integral is a straight line and what the
 * table says, the tangent itself 1 and the slope of that.
 * @param slope the tangent at `aside`
 */
export function bendSoft(count: i32, aside: f64, slope: f64): void {
  const asides = f64x2.splat(aside);
  const slopes = f64x2.splat(slope);
  let last = v128.load(bendLast);
  let lastSum = v128.load(bendLast, 16);
  let at = overPairs;
  for (let i = 0; i < count; i++) {
    const x = v128.load(at);
    const sum = softSum(f64x2.add(x, asides), f64x2.mul(slopes, x));
    const distance = f64x2.sub(x, last);
    const near = f64x2.lt(f64x2.abs(distance), f64x2.splat(CLOSE));
    let mean = f64x2.div(f64x2.sub(sum, lastSum), distance);
    if (v128.any_true(near)) {
      const middle = f64x2.mul(f64x2.add(last, x), f64x2.splat(0.5));
      mean = v128.bitselect(f64x2.sub(softBend(f64x2.add(middle, asides)), slopes), mean, near);
    }
    v128.store(at, mean);
    last = x;
    lastSum = sum;
    at += 16;
  }
  v128.store(bendLast, last);
  v128.store(bendLast, lastSum, 16);
}

/** `ln cosh` of each, less a line. */
function softSum(x: v128, line: v128): v128 {
  const far = f64x2.abs(x);
  const straight = f64x2.sub(f64x2.sub(far, f64x2.splat(LN2)), line);
  const place = f64x2.mul(far, f64x2.splat(<f64>BEND_STEPS));
  const inside = f64x2.min(place, f64x2.splat(LAST_PLACE));
  const whole = i32x4.trunc_sat_f64x2_s_zero(inside);
  const t = f64x2.sub(place, f64x2.convert_low_i32x4_s(whole));
  const first = bendTable + ((<usize>i32x4.extract_lane(whole, 0)) << 4);
  const second = bendTable + ((<usize>i32x4.extract_lane(whole, 1)) << 4);
  const value = pairOf(load<f64>(first), load<f64>(second));
  const slope = pairOf(load<f64>(first, 8), load<f64>(second, 8));
  const away = f64x2.sub(pairOf(load<f64>(first, 16), load<f64>(second, 16)), value);
  const slopes = f64x2.add(pairOf(load<f64>(first, 24), load<f64>(second, 24)), slope);
  const bow = f64x2.sub(slopes, f64x2.mul(f64x2.splat(2), away));
  const curve = f64x2.add(f64x2.sub(away, slope), f64x2.mul(f64x2.sub(t, f64x2.splat(1)), bow));
  const beyond = f64x2.add(value, f64x2.mul(t, f64x2.add(slope, f64x2.mul(t, curve))));
  const isNear = f64x2.lt(far, f64x2.splat(<f64>BEND_END));
  return f64x2.add(straight, v128.and(isNear, beyond));
}

/** The tangent of each: the slope of what the table says, and 1, on its side of 0. */
function softBend(x: v128): v128 {
  return pairOf(softBendOf(f64x2.extract_lane(x, 0)), softBendOf(f64x2.extract_lane(x, 1)));
}

function softBendOf(x: f64): f64 {
  const far = Math.abs(x);
  if (far >= <f64>BEND_END) return x < 0 ? -1 : 1;
  const place = far * <f64>BEND_STEPS;
  const whole = <i32>min(place, LAST_PLACE);
  const t = place - <f64>whole;
  const at = bendTable + ((<usize>whole) << 4);
  const slope = load<f64>(at, 8);
  const away = load<f64>(at, 16) - load<f64>(at);
  const bow = load<f64>(at, 24) + slope - 2 * away;
  const steepness = slope + 2 * t * (away - slope) + t * (3 * t - 2) * bow;
  const bent = 1 + steepness * <f64>BEND_STEPS;
  return x < 0 ? -bent : bent;
}

/**
 * Bends `count` pairs straight up to a limit, with a short knee.
 * @param knee its width on either side of 1 @param sumAtKnee the integral where it ends
 */
export function bendHard(count: i32, knee: f64, sumAtKnee: f64): void {
  for (let lane: usize = 0; lane < 16; lane += 8) {
    let last = load<f64>(bendLast + lane);
    let lastSum = load<f64>(bendLast + lane, 16);
    let at = overPairs + lane;
    for (let i = 0; i < count; i++) {
      const x = load<f64>(at);
      const far = Math.abs(x);
      const into = max(0.0, far - 1 + knee);
      const isOver = far >= 1 + knee;
      const sum = isOver ? sumAtKnee + far - 1 - knee : (far * far) / 2 - (into * into * into) / (12 * knee);
      const distance = x - last;
      if (Math.abs(distance) < CLOSE) {
        const middle = (last + x) / 2;
        const reach = Math.abs(middle);
        const over = max(0.0, reach - 1 + knee);
        const bent = reach < 1 + knee ? reach - (over * over) / (4 * knee) : 1;
        store<f64>(at, middle < 0 ? -bent : bent);
      } else store<f64>(at, (sum - lastSum) / distance);
      last = x;
      lastSum = sum;
      at += 16;
    }
    store<f64>(bendLast + lane, last);
    store<f64>(bendLast + lane, lastSum, 16);
  }
}

function pairOf(left: f64, right: f64): v128 {
  return f64x2.replace_lane(f64x2.splat(left), 1, right);
}
