/** Reading between samples, sixteen taps at a time: see `dsp/sinc.ts`. */
import { sumOfLanes } from './lanes';

/** Samples that fit the window of a channel, values that fit its output, and floats that the tables may take. */
export const SINC_WINDOW: i32 = 8192;
export const SINC_RUN: i32 = 512;
export const SINC_TABLES: i32 = 4_000_000;

export const sincTables: usize = memory.data(4_000_000 * 4, 16);
export const sincWindowLeft: usize = memory.data(8192 * 4, 16);
export const sincWindowRight: usize = memory.data(8192 * 4, 16);
export const sincOutLeft: usize = memory.data(512 * 4, 16);
export const sincOutRight: usize = memory.data(512 * 4, 16);

/**
 * Writes `count` values, `step` apart from `start` on, of what lies in the windows.
 * @param base position of the windows' first sample
 * @param reach samples on each side of a position, a multiple of 8
 * @param phases rows of the table from one sample to the next
 * @returns the position after the last value
 */
export function readSinc(
  table: usize,
  start: f64,
  step: f64,
  base: f64,
  from: i32,
  to: i32,
  stereo: bool,
  reach: i32,
  phases: f64,
): f64 {
  const bytes = (<usize>reach) << 3;
  const before = reach - 1;
  let position = start;
  let a = f32x4.splat(0);
  let b = f32x4.splat(0);
  let c = f32x4.splat(0);
  let d = f32x4.splat(0);
  let e = f32x4.splat(0);
  let f = f32x4.splat(0);
  let g = f32x4.splat(0);
  let h = f32x4.splat(0);
  for (let i = from; i < to; i++) {
    const inWindow = position - base;
    const whole = <i32>inWindow;
    const row = table + <usize>(<i32>((inWindow - <f64>whole) * phases + 0.5)) * bytes;
    const first = (<usize>(whole - before)) << 2;
    const out = (<usize>i) << 2;
    // Written out, not called: a call for each value costs as much as the taps themselves.
    const samples = sincWindowLeft + first;
    a = b = c = d = f32x4.splat(0);
    if (stereo) {
      // Both channels at once: what the table says is fetched once.
      const others = sincWindowRight + first;
      e = f = g = h = f32x4.splat(0);
      for (let at: usize = 0; at < bytes; at += 64) {
        const r = row + at;
        const s = samples + at;
        const o = others + at;
        let taps = v128.load(r);
        a = f32x4.add(a, f32x4.mul(taps, v128.load(s)));
        e = f32x4.add(e, f32x4.mul(taps, v128.load(o)));
        taps = v128.load(r, 16);
        b = f32x4.add(b, f32x4.mul(taps, v128.load(s, 16)));
        f = f32x4.add(f, f32x4.mul(taps, v128.load(o, 16)));
        taps = v128.load(r, 32);
        c = f32x4.add(c, f32x4.mul(taps, v128.load(s, 32)));
        g = f32x4.add(g, f32x4.mul(taps, v128.load(o, 32)));
        taps = v128.load(r, 48);
        d = f32x4.add(d, f32x4.mul(taps, v128.load(s, 48)));
        h = f32x4.add(h, f32x4.mul(taps, v128.load(o, 48)));
      }
      store<f32>(sincOutRight + out, sumOfLanes(f32x4.add(f32x4.add(e, f), f32x4.add(g, h))));
    } else {
      for (let at: usize = 0; at < bytes; at += 64) {
        const r = row + at;
        const s = samples + at;
        a = f32x4.add(a, f32x4.mul(v128.load(r), v128.load(s)));
        b = f32x4.add(b, f32x4.mul(v128.load(r, 16), v128.load(s, 16)));
        c = f32x4.add(c, f32x4.mul(v128.load(r, 32), v128.load(s, 32)));
        d = f32x4.add(d, f32x4.mul(v128.load(r, 48), v128.load(s, 48)));
      }
    }
    store<f32>(sincOutLeft + out, sumOfLanes(f32x4.add(f32x4.add(a, b), f32x4.add(c, d))));
    position += step;
  }
  return position;
}
