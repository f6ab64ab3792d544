import { describe, expect, it } from 'vitest';
import { seededRandom } from '../units/random.ts';
import { resampleFine } from './fine-resample.ts';
import { besselI0 } from './sinc.ts';

/** The windowed sinc written out: `scale * sum x[k] h(scale (t - k))`, with Kaiser's window over 24 crossings. */
function writtenOut(signal: Float32Array, at: number, scale: number): number {
  let sum = 0;
  signal.forEach((value, k) => {
    const x = Math.abs(at - k) * scale;
    if (x >= 24) return;
    const sinc = x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
    sum += (value * scale * sinc * besselI0(9 * Math.sqrt(1 - (x / 24) ** 2))) / besselI0(9);
  });
  return sum;
}

describe('resampling', () => {
  const random = seededRandom(4);
  const noise = Float32Array.from({ length: 3_000 }, () => random() * 2 - 1);

  it.each([0.01, 0.7491, 0.9999, 1.3348, 2, 16, 300])('by %f gives the windowed sinc of the noise', (increment) => {
    const length = Math.min(2_500, Math.round(noise.length / increment));
    const out = resampleFine(noise, increment, length);
    const scale = 0.965 * Math.min(1, 1 / increment);
    for (let i = 0; i < length; i += Math.ceil(length / 50)) {
      expect(Math.abs(out[i]! - writtenOut(noise, i * increment, scale))).toBeLessThan(2e-5);
    }
  });

  it('gives silence beyond the end, the same for the same, and takes turns with other cutoffs', () => {
    const twice = () => resampleFine(noise, 1.3348, 4_000);
    const first = twice();
    resampleFine(noise, 0.5, 100, 'steep');
    expect(twice()).toEqual(first);
    expect(first.subarray(2_300).every((value) => value === 0)).toBe(true);
    expect(resampleFine(noise, 1, 3_100).subarray(0, 3_000)).toEqual(noise);
    expect(resampleFine(new Float32Array(0), 2, 3)).toEqual(new Float32Array(3));
  });

  it('refuses what it cannot do', () => {
    for (const increment of [0, -1, 401, Number.NaN]) {
      expect(() => resampleFine(noise, increment, 10)).toThrow('above 0 and at most 400');
    }
  });
});
