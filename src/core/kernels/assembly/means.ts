/** Running means, one after another: see `dsp/running-means.ts`. */

/** Samples a call may take, and the longest span; every call has three means. */
export const MEANS_WINDOW: i32 = 32768;
export const MEANS_SPAN: i32 = 1024;
export const MEANS_PASSES: i32 = 3;

/** The samples, and in their place the means, each half a span late. */
export const meansWindow: usize = memory.data(32768 * 4, 16);
/** For each of the means what it has taken in, a span long. */
const first: usize = memory.data(1024 * 8, 16);
const second: usize = memory.data(1024 * 8, 16);
const third: usize = memory.data(1024 * 8, 16);

/** Before the first sample lies silence. */
export function runMeans(count: i32, span: i32): void {
  const bytes = (<usize>span) << 3;
  memory.fill(first, 0, bytes);
  memory.fill(second, 0, bytes);
  memory.fill(third, 0, bytes);
  const share = 1 / <f64>span;
  let a = 0.0;
  let b = 0.0;
  let c = 0.0;
  let slot: usize = 0;
  for (let i = 0; i < count; i++) {
    const at = meansWindow + ((<usize>i) << 2);
    const sample = <f64>load<f32>(at);
    a += sample - load<f64>(first + slot);
    store<f64>(first + slot, sample);
    const once = a * share;
    b += once - load<f64>(second + slot);
    store<f64>(second + slot, once);
    const twice = b * share;
    c += twice - load<f64>(third + slot);
    store<f64>(third + slot, twice);
    store<f32>(at, <f32>(c * share));
    slot += 8;
    if (slot == bytes) slot = 0;
  }
}
