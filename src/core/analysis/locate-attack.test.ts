import { describe, expect, it } from 'vitest';
import { sine } from '../../../tests/support/signals.ts';
import { seededRandom } from '../units/random.ts';
import { locateAttack, splitPoint } from './locate-attack.ts';

const RATE = 44_100;
const WINDOW = { beforeMs: 14, afterMs: 14 };
const ms = (frames: number) => (frames / RATE) * 1000;

/** Noise that begins abruptly and dies away, over what is there already. */
function withBurst(under: Float32Array, at: number, level: number, seed = 3): Float32Array {
  const random = seededRandom(seed);
  return under.map((sample, i) => {
    const age = i - at;
    return age < 0 ? sample : sample + level * Math.exp(-age / 2_000) * (2 * random() - 1);
  });
}

describe('the split of a window into before and after', () => {
  it('lies where the variance changes (the minimum of the AIC of Maeda, 1985)', () => {
    const random = seededRandom(11);
    for (const at of [100, 250, 400]) {
      const x = Float64Array.from({ length: 500 }, (_, i) => (2 * random() - 1) * (i < at ? 0.01 : 1));
      expect(Math.abs(splitPoint(x, 8) - at)).toBeLessThanOrEqual(2);
    }
  });

  it('is the same at every level, and keeps its distance from the ends', () => {
    const random = seededRandom(12);
    const x = Float64Array.from({ length: 500 }, (_, i) => (2 * random() - 1) * (i < 180 ? 0.05 : 1));
    const at = splitPoint(x, 8);
    for (const gain of [1e-3, 0.1, 10])
      expect(
        splitPoint(
          x.map((sample) => sample * gain),
          8,
        ),
      ).toBe(at);
    const loudAtOnce = Float64Array.from({ length: 200 }, (_, i) => (i < 2 ? 1 : 1e-4 * (2 * random() - 1)));
    expect(splitPoint(loudAtOnce, 20)).toBeGreaterThanOrEqual(20);
  });
});

describe('the start of an attack', () => {
  it.each([
    ['out of silence', new Float32Array(RATE / 4)],
    ['over a ringing tone as loud as itself', sine(330, 0.25)],
    ['over two tones', sine(220, 0.25).map((sample, i) => 0.5 * sample + 0.4 * Math.sin(i * 0.11))],
  ])('is found to a millisecond %s, never late', (_, under) => {
    for (const [seed, start] of [3_000, 4_321, 7_777].entries()) {
      const signal = withBurst(under, start, 0.8, seed + 1);
      // The detector knows the place to a few milliseconds only.
      for (const coarse of [start - 150, start, start + 250]) {
        const found = locateAttack(signal, RATE, coarse, WINDOW);
        expect(ms(found - start)).toBeLessThan(0.25);
        expect(ms(start - found)).toBeLessThan(1.3);
      }
    }
  });

  it('does not depend on the level of the sound', () => {
    const loud = withBurst(
      sine(330, 0.25).map((sample) => 0.3 * sample),
      5_000,
      0.6,
    );
    const found = locateAttack(loud, RATE, 5_080, WINDOW);
    expect(
      Math.abs(
        locateAttack(
          loud.map((sample) => sample * 0.02),
          RATE,
          5_080,
          WINDOW,
        ) - found,
      ),
    ).toBeLessThan(4);
  });

  it('stays inside the signal and its window at both ends', () => {
    const signal = withBurst(new Float32Array(4_000), 0, 0.8);
    expect(locateAttack(signal, RATE, 0, WINDOW)).toBeGreaterThanOrEqual(0);
    expect(locateAttack(signal, RATE, 3_999, WINDOW)).toBeLessThanOrEqual(3_999);
    expect(locateAttack(new Float32Array(10), RATE, 5, WINDOW)).toBe(5);
  });
});
