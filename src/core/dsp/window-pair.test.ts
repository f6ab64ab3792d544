import FFT from 'fft.js';
import { describe, expect, it } from 'vitest';
import { noise } from '../../../tests/support/signals.ts';
import { WindowPair } from './window-pair.ts';

/** What the package fft.js makes of a Hann-windowed frame. */
function reference(frame: Float32Array): number[] {
  const { length } = frame;
  const fft = new FFT(length);
  const out = fft.createComplexArray();
  fft.realTransform(
    out,
    Array.from(frame, (one, i) => one * (0.5 - 0.5 * Math.cos((2 * Math.PI * i) / length))),
  );
  return Array.from({ length: length / 2 + 1 }, (_, bin) => out[2 * bin]! ** 2 + out[2 * bin + 1]! ** 2);
}

function expectAlike(found: Float64Array, wanted: readonly number[]): void {
  const most = Math.max(...wanted);
  for (const [bin, power] of wanted.entries()) expect(Math.abs(found[bin]! - power)).toBeLessThan(1e-12 * most + 1e-15);
}

describe('two windows in one transform', () => {
  it.each([16, 256, 512, 8192])('of %i samples are each what the package fft.js makes of them', (size) => {
    const signal = noise(3 * size, size);
    const pair = new WindowPair(size);
    pair.load(0, signal, 5);
    pair.load(1, signal, size + 3);
    pair.measure();
    expectAlike(pair.powers[0], reference(signal.slice(5, size + 5)));
    expectAlike(pair.powers[1], reference(signal.slice(size + 3, 2 * size + 3)));
  });

  it('are silent before the signal, after it and from where it is not to be heard', () => {
    const signal = noise(64, 1);
    const pair = new WindowPair(64);
    pair.load(0, signal, -20);
    pair.load(1, signal, 10, 40, 2);
    pair.measure();
    const early = new Float32Array(64);
    early.set(signal.subarray(0, 44), 20);
    expectAlike(pair.powers[0], reference(early));
    const cut = new Float32Array(64);
    cut.set(signal.subarray(10, 40).map((one) => 2 * one));
    expectAlike(pair.powers[1], reference(cut));
    pair.load(0, signal, 100);
    pair.loadNothing();
    pair.measure();
    expect(Math.max(...pair.powers[0], ...pair.powers[1])).toBe(0);
  });

  it('have a size that is a power of two, and not too large a one', () => {
    for (const size of [0, 8, 100, 16_384]) expect(() => new WindowPair(size)).toThrow(String(size));
  });
});
