/**
 * A low-pass filter that costs a few sums a sample, delays nothing and sees no further than one and a half spans to either side:
 * three running means, one after another. Its response is that of one mean, `sin(pi f span) / (span sin(pi f))`, to the power
 * of three (S. W. Smith, "The Scientist and Engineer's Guide to Digital Signal Processing", chapter 15).
 */
import { kernels } from '../kernels/kernels.ts';

const kernel = kernels();
const PASSES = kernel.value('MEANS_PASSES');
const WINDOW = kernel.value('MEANS_WINDOW');
const window = kernel.floats('meansWindow', WINDOW);
export const MAX_SPAN = kernel.value('MEANS_SPAN') - 1;

/**
 * @param span frames of each mean, an odd number
 * @throws RangeError for a span beyond the longest
 */
export function runningMeans(samples: Float32Array, span: number): Float32Array {
  if (!(span <= MAX_SPAN)) throw new RangeError(`a span of ${span} frames is beyond ${MAX_SPAN}`);
  const out = new Float32Array(samples.length);
  // Each mean comes half its span late, and is whole when it has taken in a span.
  const reach = (PASSES * (span - 1)) / 2;
  const step = WINDOW - 2 * reach;
  for (let at = 0; at < out.length; at += step) {
    const from = at - reach;
    const count = 2 * reach + Math.min(step, out.length - at);
    window.fill(0);
    window.set(samples.subarray(Math.max(0, from), from + count), Math.max(0, -from));
    kernel.runMeans(count, span);
    out.set(window.subarray(2 * reach, count), at);
  }
  return out;
}
