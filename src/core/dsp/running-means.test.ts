import { describe, expect, it } from 'vitest';
import { sine } from '../../../tests/support/signals.ts';
import { MAX_SPAN, runningMeans } from './running-means.ts';

const RATE = 44100;
const SPAN = 79;

describe('running means', () => {
  it.each([60, 200, 400])('let %f Hz pass as their closed form says, without delay', (hz) => {
    const tone = sine(hz, 0.5);
    const out = runningMeans(tone, SPAN);
    const angle = (Math.PI * hz) / RATE;
    const response = (Math.sin(SPAN * angle) / (SPAN * Math.sin(angle))) ** 3;
    const worst = out
      .subarray(2_000, 20_000)
      .reduce((most, value, i) => Math.max(most, Math.abs(value - response * tone[i + 2_000]!)), 0);
    expect(worst).toBeLessThan(1e-6);
  });

  it('see no further than their spans together', () => {
    const impulse = new Float32Array(1_000);
    impulse[500] = 1;
    const out = runningMeans(impulse, SPAN);
    const reach = (3 * (SPAN - 1)) / 2;
    expect(out.findIndex((value) => Math.abs(value) > 1e-12)).toBe(500 - reach);
    expect(out.reduce((sum, value) => sum + value, 0)).toBeCloseTo(1, 5);
    out.forEach((value, i) => expect(Math.abs(value - out[1_000 - i]!)).not.toBeGreaterThan(1e-7));
  });

  it('are the same for a sound longer than the kernel takes at once as for its pieces', () => {
    const tone = sine(110, 2);
    const [whole, late] = [runningMeans(tone, SPAN), runningMeans(tone.subarray(20_000), SPAN)];
    const reach = (3 * (SPAN - 1)) / 2;
    const worst = late.reduce(
      (most, value, i) => (i < reach ? most : Math.max(most, Math.abs(value - whole[20_000 + i]!))),
      0,
    );
    expect(worst).toBeLessThan(1e-6);
    expect(runningMeans(new Float32Array(0), SPAN)).toHaveLength(0);
    expect(runningMeans(Float32Array.of(SPAN ** 3), SPAN)[0]).toBeGreaterThan(SPAN);
  });

  it('have a longest span', () => {
    const level = runningMeans(new Float32Array(4_000).fill(1), MAX_SPAN);
    expect(level[2_000]).toBeCloseTo(1, 6);
    expect(() => runningMeans(level, MAX_SPAN + 2)).toThrow(/beyond 1023/);
  });
});
