import { describe, expect, it } from 'vitest';
import { sine } from '../../../tests/support/signals.ts';
import { seededRandom } from '../units/random.ts';
import { Oversampler } from './oversample.ts';

const nothing = (): void => undefined;
const noise = (frames: number, seed: number) => {
  const random = seededRandom(seed);
  return Float32Array.from({ length: frames }, () => random() - 0.5);
};

describe('four times the rate and back', () => {
  it('does not depend on how many samples come at once', () => {
    const [left, right] = [noise(3000, 1), noise(3000, 2)];
    const whole = [left.slice(), right.slice()] as const;
    new Oversampler().process(...whole, 0, 3000, nothing);
    const pieces = [left.slice(), right.slice()] as const;
    const over = new Oversampler();
    const random = seededRandom(5);
    for (let at = 0; at < 3000;) {
      const count = Math.min(3000 - at, 1 + Math.floor(random() * 300));
      over.process(...pieces, at, count, nothing);
      at += count;
    }
    expect(pieces).toEqual(whole);
  });

  it('keeps the sides apart, and each effect’s past its own', () => {
    const alone = [noise(500, 3), new Float32Array(500)] as const;
    const swapped = [new Float32Array(500), noise(500, 3)] as const;
    const [one, other] = [new Oversampler(), new Oversampler()];
    for (let at = 0; at < 500; at += 100) {
      one.process(...alone, at, 100, nothing);
      other.process(...swapped, at, 100, nothing);
    }
    expect(alone[1].every((sample) => sample === 0)).toBe(true);
    expect(swapped[1]).toEqual(alone[0]);
  });

  it('goes on from another one’s past', () => {
    const [left, right] = [noise(400, 7), noise(400, 8)];
    const whole = [left.slice(), right.slice()] as const;
    new Oversampler().process(...whole, 0, 400, nothing);
    const taken = [left.slice(), right.slice()] as const;
    const [first, second] = [new Oversampler(), new Oversampler()];
    first.process(...taken, 0, 200, nothing);
    second.follow(first);
    second.process(...taken, 200, 200, nothing);
    expect(taken).toEqual(whole);
  });

  it('what is audible passes as loud as it was, and the pairs between are those of the wave', () => {
    for (const hz of [50, 1000, 10_000, 19_000]) {
      const left = sine(hz, 8000 / 44_100).map((sample) => sample / 2);
      const right = left.slice();
      let most = 0;
      new Oversampler().process(left, right, 0, 8000, (pairs, count) => {
        for (let i = 0; i < 2 * count; i++) most = Math.max(most, Math.abs(pairs[i]!));
      });
      const peak = left.subarray(2000).reduce((loudest, sample) => Math.max(loudest, Math.abs(sample)), 0);
      expect(peak, `${hz} Hz`).toBeGreaterThan(0.48);
      expect(peak, `${hz} Hz`).toBeLessThan(0.501);
      // Where it begins the filters ring; a wave between its samples is no higher than itself by more than that.
      expect(most, `${hz} Hz`).toBeGreaterThan(0.495);
      expect(most, `${hz} Hz`).toBeLessThan(0.65);
    }
  });
});
