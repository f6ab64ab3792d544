/** Reading between samples, four taps at a time: see `dsp/sinc.ts`. */
import { sumOfLanes } from './lanes';

const TAPS = 24;
/** Of the tables for reading faster than the source runs: they have to be steeper. */
const WIDE_TAPS = 32;
const PHASES = 1024;
/** Samples before a position that are taken in. */
const BEFORE = 11;
const WIDE_BEFORE = 15;

/** Samples that fit the window of a channel, values that fit its output, and tables that may be built. */
export const SINC_WINDOW: i32 = 4096;
export const SINC_RUN: i32 = 512;
export const SINC_TABLE_LENGTH: i32 = (PHASES + 1) * WIDE_TAPS;

export const sincTables: usize = memory.data(14 * (1024 + 1) * 32 * 4, 16);
export const sincWindowLeft: usize = memory.data(4096 * 4, 16);
export const sincWindowRight: usize = memory.data(4096 * 4, 16);
export const sincOutLeft: usize = memory.data(512 * 4, 16);
export const sincOutRight: usize = memory.data(512 * 4, 16);

function taps(row: usize, samples: usize): f32 {
  let even = f32x4.mul(v128.load(row), v128.load(samples));
  let odd = f32x4.mul(v128.load(row, 16), v128.load(samples, 16));
  even = f32x4.add(even, f32x4.mul(v128.load(row, 32), v128.load(samples, 32)));
  odd = f32x4.add(odd, f32x4.mul(v128.load(row, 48), v128.load(samples, 48)));
  even = f32x4.add(even, f32x4.mul(v128.load(row, 64), v128.load(samples, 64)));
  odd = f32x4.add(odd, f32x4.mul(v128.load(row, 80), v128.load(samples, 80)));
  return sumOfLanes(f32x4.add(even, odd));
}

function wideTaps(row: usize, samples: usize): f32 {
  const odd = f32x4.mul(v128.load(row, 96), v128.load(samples, 96));
  const even = f32x4.mul(v128.load(row, 112), v128.load(samples, 112));
  return taps(row, samples) + sumOfLanes(f32x4.add(even, odd));
}

/**
 * Writes `count` values, `step` apart from `start` on, of what lies in the windows.
 * @param base position of the windows' first sample
 * @param isWide the table is one of the wide ones
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
  isWide: bool,
): f64 {
  let position = start;
  if (isWide) {
    for (let i = from; i < to; i++) {
      const inWindow = position - base;
      const whole = <i32>inWindow;
      const row = table + ((<usize>(<i32>((inWindow - <f64>whole) * PHASES + 0.5)) * WIDE_TAPS) << 2);
      const first = (<usize>(whole - WIDE_BEFORE)) << 2;
      const out = (<usize>i) << 2;
      store<f32>(sincOutLeft + out, wideTaps(row, sincWindowLeft + first));
      if (stereo) store<f32>(sincOutRight + out, wideTaps(row, sincWindowRight + first));
      position += step;
    }
    return position;
  }
  for (let i = from; i < to; i++) {
    const inWindow = position - base;
    const whole = <i32>inWindow;
    const row = table + ((<usize>(<i32>((inWindow - <f64>whole) * PHASES + 0.5)) * TAPS) << 2);
    const first = (<usize>(whole - BEFORE)) << 2;
    const out = (<usize>i) << 2;
    store<f32>(sincOutLeft + out, taps(row, sincWindowLeft + first));
    if (stereo) store<f32>(sincOutRight + out, taps(row, sincWindowRight + first));
    position += step;
  }
  return position;
}
