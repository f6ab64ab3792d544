import { describe, expect, it } from 'vitest';
import { truePeak } from './true-peak.ts';

const RATE = 48_000;
const sineOf = (hz: number, degrees: number, amplitude = 1) =>
  Float32Array.from({ length: RATE }, (_, i) => {
    // Comes and goes over a tenth of a second: a tone that begins at once goes higher between its first samples.
    const share = Math.min(1, i / 4_800, (RATE - 1 - i) / 4_800);
    return amplitude * share * Math.sin((2 * Math.PI * hz * i) / RATE + (degrees * Math.PI) / 180);
  });
const db = (amplitude: number) => 20 * Math.log10(amplitude);

describe('the true peak', () => {
  // Signals 15 to 18 of EBU Tech 3341 (tones of a quarter, a sixth and an eighth of the rate at such phases), from memory;
  // readings from -0.4 to +0.2 dB of the true one are allowed there.
  it.each([
    [RATE / 4, 0],
    [RATE / 4, 45],
    [RATE / 6, 60],
    [RATE / 8, 67.5],
  ])('of a tone of %d Hz at %d degrees is its amplitude', (hz, degrees) => {
    const samples = sineOf(hz, degrees, 0.5);
    expect(db(truePeak(samples)) - db(0.5)).toBeGreaterThan(-0.4);
    expect(db(truePeak(samples)) - db(0.5)).toBeLessThan(0.2);
  });

  it('of a quarter of the rate between its samples is 3 dB above what the samples say', () => {
    const samples = sineOf(RATE / 4, 45);
    const ofSamples = samples.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
    expect(db(truePeak(samples)) - db(ofSamples)).toBeCloseTo(3.01, 1);
  });

  it('of silence is nothing, of a single sample that sample', () => {
    expect(truePeak(new Float32Array(100))).toBe(0);
    expect(truePeak(Float32Array.of(0.25))).toBe(0.25);
  });
});
