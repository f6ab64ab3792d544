import { describe, expect, it } from 'vitest';
import { seededRandom } from '../../units/random.ts';
import { sine } from '../../../../tests/support/signals.ts';
import { alignment } from './alignment.ts';

const both = (samples: Float32Array) => ({ left: samples, right: samples });
const delayed = (samples: Float32Array, frames: number) =>
  samples.map((_, i) => (i < frames ? 0 : samples[i - frames]!));

describe('alignment', () => {
  it('finds where noise that was moved goes on, to the frame, within 8 ms', () => {
    const random = seededRandom(3);
    // Noise without treble: the rough search sees every twelfth sample.
    let level = 0;
    const noise = Float32Array.from({ length: 10_000 }, () => (level += 0.1 * (random() - 0.5 - level)));
    for (const offset of [-350, -17, 0, 5, 203, 356]) {
      expect(alignment(both(noise), 3_000, both(delayed(noise, offset + 400)), 3_400, 400, 10_000)).toBe(offset);
    }
  });

  it('of a tone takes the nearest place that is in phase, half a period away at most', () => {
    const tone = sine(100, 1);
    for (const shift of [0, 90, 200, 300, 437]) {
      const offset = alignment(both(tone), 10_000, both(tone), 10_000 + shift, 0, 44_100);
      expect(Math.abs(offset)).toBeLessThanOrEqual(221);
      expect(Math.abs(Math.sin((Math.PI * 100 * (shift + offset)) / 44_100))).toBeLessThan(0.01);
    }
  });

  it('stays within the sound, and where it is when there is nothing to compare', () => {
    const tone = sine(100, 1);
    const silence = new Float32Array(44_100);
    expect(alignment(both(tone), 10_000, both(silence), 10_000, 0, 44_100)).toBe(0);
    expect(alignment(both(tone), 44_000, both(tone), 10_000, 0, 44_100)).toBe(0);
    expect(alignment(both(tone), 10_000, both(tone), 43_900, 0, 44_100)).toBe(0);
    expect(alignment(both(tone), 10_000, both(tone), 220, 200, 44_100)).toBeGreaterThanOrEqual(-20);
  });
});
