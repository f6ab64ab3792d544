/** Resampling with a table of rows of taps, one row a phase: see `dsp/fine-resample.ts`. */
import { sumOfLanes } from './lanes';

/** Values the table may hold, samples of the signal in the window, and values of a run. */
export const RESAMPLE_TABLE: i32 = 131072;
export const RESAMPLE_WINDOW: i32 = 32768;
export const RESAMPLE_RUN: i32 = 1024;

export const resampleTable: usize = memory.data(131072 * 4, 16);
export const resampleWindow: usize = memory.data(32768 * 4, 16);
export const resampleOut: usize = memory.data(1024 * 4, 16);

/**
 * Writes `count` values of what lies in the window.
 * @param first number of the first value: value `i` lies at `(first + i) * increment`
 * @param base position of the window's first sample
 * @param rows steps from one sample to the next; the table has one row more
 * @param taps samples that a value takes in, a multiple of four, of which `before` lie before its position
 */
export function resampleRun(
  first: f64,
  increment: f64,
  count: i32,
  base: f64,
  rows: i32,
  taps: i32,
  before: i32,
): void {
  const rowBytes = (<usize>taps) << 2;
  for (let i = 0; i < count; i++) {
    const inWindow = (first + <f64>i) * increment - base;
    const whole = Math.floor(inWindow);
    const phase = (inWindow - whole) * <f64>rows;
    const row = <i32>phase;
    const share = f32x4.splat(<f32>(phase - <f64>row));
    let low = resampleTable + <usize>row * rowBytes;
    let sample = resampleWindow + ((<usize>(<i32>whole - before)) << 2);
    const end = low + rowBytes;
    let sum = f32x4.splat(0);
    while (low < end) {
      const from = v128.load(low);
      const weight = f32x4.add(from, f32x4.mul(share, f32x4.sub(v128.load(low + rowBytes), from)));
      sum = f32x4.add(sum, f32x4.mul(weight, v128.load(sample)));
      low += 16;
      sample += 16;
    }
    store<f32>(resampleOut + ((<usize>i) << 2), sumOfLanes(sum));
  }
}
