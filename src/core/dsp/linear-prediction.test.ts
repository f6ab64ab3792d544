import { describe, expect, it } from 'vitest';
import { predictOn } from './linear-prediction.ts';

/** `sum of amplitude * exp(-decay n) * cos(turn n)`, the closed form of what rings. */
const ringing = (count: number, from: number, tones: readonly (readonly [number, number, number])[]) =>
  Float64Array.from({ length: count }, (_, i) =>
    tones.reduce(
      (sum, [amplitude, decay, turn]) => sum + amplitude * Math.exp(-decay * (i + from)) * Math.cos(turn * (i + from)),
      0,
    ),
  );

describe('linear prediction', () => {
  it.each([
    ['a tone that holds', [[1, 0, 0.26]]],
    ['a tone that dies away', [[0.7, 0.01, 0.26]]],
    [
      'two of them',
      [
        [0.5, 0.004, 0.21],
        [0.3, 0.02, 0.6],
      ],
    ],
  ] as const)('goes on with %s', (_name, tones) => {
    const next = predictOn(ringing(69, 0, tones), 8, 200)!;
    const truth = ringing(200, 69, tones);
    const error = Math.max(...truth.map((value, i) => Math.abs(value - next[i]!)));
    expect(error).toBeLessThan(1e-3 * Math.max(...truth.map(Math.abs)));
  });

  it('goes on with nothing after silence', () => {
    expect(predictOn(new Float64Array(30), 8, 50)).toEqual(new Float64Array(50));
  });

  it('refuses what would grow', () => {
    expect(predictOn(ringing(69, 0, [[0.01, -0.03, 0.3]]), 8, 200)).toBeNull();
  });
});
