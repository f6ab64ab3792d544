/**
 * Half-band filters of allpasses, both sides of a signal at a time: see `dsp/oversample.ts`. A pair is a sample of the left
 * and one of the right side.
 */

/** Frames that are worked on at once, and how often each comes at the highest rate. */
export const OVER_RUN: i32 = 128;
export const OVER_RATE: i32 = 4;
/** Allpasses of the steep filter and of the easy one, even numbers; of all stages, up and down again. */
export const OVER_STEEP: i32 = 10;
export const OVER_EASY: i32 = 4;

export const overLeft: usize = memory.data(128 * 4, 16);
export const overRight: usize = memory.data(128 * 4, 16);
/** Pairs at four times the rate. */
export const overPairs: usize = memory.data(4 * 128 * 16, 16);
/** The last sample that went into each allpass and the last that came out, as pairs, stage after stage. */
export const overState: usize = memory.data(28 * 2 * 16, 16);
/** Coefficients, each twice: of the steep filter, then of the easy one. */
export const overCoefficients: usize = memory.data(14 * 16, 16);

const twice: usize = memory.data(2 * 128 * 16, 16);
const EASY_COEFFICIENTS: usize = 10 * 16;
const FIRST_UP: usize = 0;
const SECOND_UP: usize = 10 * 32;
const FIRST_DOWN: usize = 14 * 32;
const SECOND_DOWN: usize = 18 * 32;

/** Through every second allpass `y = c (x - y1) + x1`, from `state` and `coefficient` on, up to `end`. */
function branch(pair: v128, state: usize, coefficient: usize, end: usize): v128 {
  while (coefficient < end) {
    const out = f64x2.add(f64x2.mul(v128.load(coefficient), f64x2.sub(pair, v128.load(state, 16))), v128.load(state));
    v128.store(state, pair);
    v128.store(state, out, 16);
    pair = out;
    state += 64;
    coefficient += 32;
  }
  return pair;
}

/** Two pairs for each. */
function up(input: usize, output: usize, count: i32, state: usize, coefficients: usize, end: usize): void {
  for (let i = 0; i < count; i++) {
    const pair = v128.load(input);
    v128.store(output, branch(pair, state, coefficients, end));
    v128.store(output, branch(pair, state + 32, coefficients + 16, end), 16);
    input += 16;
    output += 32;
  }
}

/** One pair for two. */
function down(input: usize, output: usize, count: i32, state: usize, coefficients: usize, end: usize): void {
  const half = f64x2.splat(0.5);
  for (let i = 0; i < count; i++) {
    const odd = branch(v128.load(input, 16), state, coefficients, end);
    const even = branch(v128.load(input), state + 32, coefficients + 16, end);
    v128.store(output, f64x2.mul(half, f64x2.add(odd, even)));
    input += 32;
    output += 16;
  }
}

/** Of `count` frames of both sides pairs at four times the rate. */
export function oversample(count: i32): void {
  const steepEnd = overCoefficients + EASY_COEFFICIENTS;
  for (let i: usize = 0; i < <usize>count; i++) {
    const left = f64x2.splat(<f64>load<f32>(overLeft + (i << 2)));
    v128.store(overPairs + (i << 4), f64x2.replace_lane(left, 1, <f64>load<f32>(overRight + (i << 2))));
  }
  up(overPairs, twice, count, overState + FIRST_UP, overCoefficients, steepEnd);
  up(twice, overPairs, 2 * count, overState + SECOND_UP, steepEnd, steepEnd + 64);
}

/** Back to `count` frames. */
export function undersample(count: i32): void {
  const steepEnd = overCoefficients + EASY_COEFFICIENTS;
  down(overPairs, twice, 2 * count, overState + FIRST_DOWN, steepEnd, steepEnd + 64);
  down(twice, twice, count, overState + SECOND_DOWN, overCoefficients, steepEnd);
  for (let i: usize = 0; i < <usize>count; i++) {
    const pair = v128.load(twice + (i << 4));
    store<f32>(overLeft + (i << 2), <f32>f64x2.extract_lane(pair, 0));
    store<f32>(overRight + (i << 2), <f32>f64x2.extract_lane(pair, 1));
  }
}
