/** One step of a network of delays, two lines at a time: see `engine/mix/effects/building/feedback-network.ts`. */

export const NETWORK_LINES: i32 = 16;
/** Frames of a step. */
export const NETWORK_RUN: i32 = 32;

/** What comes out of the lines, one after another, then what goes into them. */
export const networkCells: usize = memory.data(16 * 32 * 4, 16);
/** What goes in on both sides, then what comes out, as pairs. */
export const networkSides: usize = memory.data(32 * 16, 16);
/** Of each line: what of it has passed the damping, and how much of it goes on. */
export const networkLows: usize = memory.data(16 * 8, 16);
export const networkGains: usize = memory.data(16 * 8, 16);

/** Pairs of two lines that are neighbours, sample by sample. */
const pairs: usize = memory.data(8 * 32 * 16, 16);
/** Of a line, and of a pair of lines, in bytes. */
const LINE: usize = 32 * 4;
const LINE_PAIR: usize = 32 * 16;
/** `sqrt(1/2)` for each of the four times that lines are mixed. */
const MIX_SCALE: f64 = 0.25;
const IN_GAIN: f64 = 0.35;

function withinPair(pair: v128): v128 {
  const left = v128.shuffle<f64>(pair, pair, 0, 0);
  const right = v128.shuffle<f64>(pair, pair, 1, 1);
  return f64x2.add(left, f64x2.mul(right, f64x2.replace_lane(f64x2.splat(1), 1, -1)));
}

/**
 * Damps what has come out of the lines, mixes them all with each other, and adds what goes in.
 * @param damping share of what is new, sample by sample @param level of what comes out
 */
export function runNetwork(count: i32, damping: f64, level: f64): void {
  const share = f64x2.splat(damping);
  for (let p: usize = 0; p < 8; p++) {
    const gain = v128.load(networkGains + (p << 4));
    let low = v128.load(networkLows + (p << 4));
    let cell = networkCells + 2 * p * LINE;
    let at = pairs + p * LINE_PAIR;
    for (let i = 0; i < count; i++) {
      const pair = f64x2.replace_lane(f64x2.splat(<f64>load<f32>(cell)), 1, <f64>load<f32>(cell + LINE));
      low = f64x2.add(low, f64x2.mul(f64x2.sub(pair, low), share));
      v128.store(at, f64x2.mul(low, gain));
      cell += 4;
      at += 16;
    }
    v128.store(networkLows + (p << 4), low);
  }
  for (let i: usize = 0; i < <usize>count; i++) mixLines(pairs + (i << 4), networkSides + (i << 4), level);
  for (let p: usize = 0; p < 8; p++) {
    let cell = networkCells + 2 * p * LINE;
    let at = pairs + p * LINE_PAIR;
    for (let i = 0; i < count; i++) {
      store<f32>(cell, <f32>load<f64>(at));
      store<f32>(cell + LINE, <f32>load<f64>(at, 8));
      cell += 4;
      at += 16;
    }
  }
}

function mixLines(cell: usize, side: usize, level: f64): void {
  const zero = f64x2.splat(0);
  let out = f64x2.add(zero, v128.load(cell));
  out = f64x2.sub(out, v128.load(cell, LINE_PAIR));
  out = f64x2.add(out, v128.load(cell, 2 * LINE_PAIR));
  out = f64x2.sub(out, v128.load(cell, 3 * LINE_PAIR));
  out = f64x2.add(out, v128.load(cell, 4 * LINE_PAIR));
  out = f64x2.sub(out, v128.load(cell, 5 * LINE_PAIR));
  out = f64x2.add(out, v128.load(cell, 6 * LINE_PAIR));
  out = f64x2.sub(out, v128.load(cell, 7 * LINE_PAIR));
  // Sums and differences within a pair, of neighbours, of those two apart, of those four apart.
  const a = withinPair(v128.load(cell));
  const b = withinPair(v128.load(cell, LINE_PAIR));
  const c = withinPair(v128.load(cell, 2 * LINE_PAIR));
  const d = withinPair(v128.load(cell, 3 * LINE_PAIR));
  const e = withinPair(v128.load(cell, 4 * LINE_PAIR));
  const f = withinPair(v128.load(cell, 5 * LINE_PAIR));
  const g = withinPair(v128.load(cell, 6 * LINE_PAIR));
  const h = withinPair(v128.load(cell, 7 * LINE_PAIR));
  const ab = f64x2.add(a, b);
  const aLessB = f64x2.sub(a, b);
  const cd = f64x2.add(c, d);
  const cLessD = f64x2.sub(c, d);
  const ef = f64x2.add(e, f);
  const eLessF = f64x2.sub(e, f);
  const gh = f64x2.add(g, h);
  const gLessH = f64x2.sub(g, h);
  const inside = f64x2.mul(f64x2.splat(IN_GAIN), v128.load(side));
  v128.store(side, f64x2.mul(out, f64x2.splat(level)));
  putFour(cell, 0, f64x2.add(ab, cd), f64x2.add(ef, gh), inside);
  putFour(cell, LINE_PAIR, f64x2.add(aLessB, cLessD), f64x2.add(eLessF, gLessH), inside);
  // Every other two pairs of lines take what goes in upside down.
  const turned = f64x2.neg(inside);
  putFour(cell, 2 * LINE_PAIR, f64x2.sub(ab, cd), f64x2.sub(ef, gh), turned);
  putFour(cell, 3 * LINE_PAIR, f64x2.sub(aLessB, cLessD), f64x2.sub(eLessF, gLessH), turned);
}

/** The last mixing, and what goes into a pair of lines and the one four further. */
function putFour(cell: usize, offset: usize, near: v128, far: v128, inside: v128): void {
  const scale = f64x2.splat(MIX_SCALE);
  v128.store(cell + offset, f64x2.add(f64x2.mul(f64x2.add(near, far), scale), inside));
  v128.store(cell + offset + 4 * LINE_PAIR, f64x2.add(f64x2.mul(f64x2.sub(near, far), scale), inside));
}
