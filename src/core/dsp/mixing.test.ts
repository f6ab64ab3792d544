import { describe, expect, it } from 'vitest';
import { addSamples } from './mixing.ts';

describe('adding a signal to another', () => {
  const added = (startFrame: number, gain?: number) => {
    const target = Float32Array.of(1, 1, 1, 1);
    addSamples(target, startFrame, Float32Array.of(10, 20, 30), gain);
    return [...target];
  };

  it.each([
    [0, [11, 21, 31, 1]],
    [2, [1, 1, 11, 21]],
    [-2, [31, 1, 1, 1]],
    [4, [1, 1, 1, 1]],
    [-3, [1, 1, 1, 1]],
  ])('from frame %i on leaves out what lies outside', (startFrame, result) => {
    expect(added(startFrame)).toEqual(result);
  });

  it('takes it as loud as asked', () => {
    expect(added(1, -0.5)).toEqual([1, -4, -9, -14]);
  });
});
