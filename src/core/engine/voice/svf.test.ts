/**
 * The filter against published formulas: R. Bristow-Johnson, "Cookbook formulae for audio equalizer biquad filter
 * coefficients" (W3C Note of 8 June 2021), sections "LPF" to "notch".
 */
import { describe, expect, it } from 'vitest';
import {
  dampingOf,
  responseDb,
  SHAPE_BAND,
  SHAPE_HIGH,
  SHAPE_LOW,
  SHAPE_NOTCH,
  SHAPE_OFF,
  StereoFilter,
} from './svf.ts';

const RATE = 44100;

/** Magnitude of the cookbook's filter at a frequency, from its coefficients. */
function cookbook(shape: number, cutoffHz: number, q: number, hz: number): number {
  const w0 = (2 * Math.PI * cutoffHz) / RATE;
  const cos = Math.cos(w0);
  const alpha = Math.sin(w0) / (2 * q);
  const b: Record<number, [number, number, number]> = {
    [SHAPE_LOW]: [(1 - cos) / 2, 1 - cos, (1 - cos) / 2],
    [SHAPE_HIGH]: [(1 + cos) / 2, -(1 + cos), (1 + cos) / 2],
    // Constant 0 dB peak gain.
    [SHAPE_BAND]: [alpha, 0, -alpha],
    [SHAPE_NOTCH]: [1, -2 * cos, 1],
  };
  const a = [1 + alpha, -2 * cos, 1 - alpha] as const;
  const magnitude = (c: readonly [number, number, number]) => {
    const w = (2 * Math.PI * hz) / RATE;
    const re = c[0] + c[1] * Math.cos(w) + c[2] * Math.cos(2 * w);
    const im = c[1] * Math.sin(w) + c[2] * Math.sin(2 * w);
    return Math.hypot(re, im);
  };
  return magnitude(b[shape]!) / magnitude(a);
}

/** What comes out for a click. */
function clickThrough(shape: number, cutoffHz: number, resonance: number): Float32Array {
  const filter = new StereoFilter();
  filter.set(shape, cutoffHz, resonance, RATE);
  const left = new Float32Array(RATE);
  const right = new Float32Array(RATE);
  left[0] = right[0] = 1;
  filter.process(left, right, 0, RATE);
  expect(right).toEqual(left);
  return left;
}

/** Magnitude of a response at a frequency. */
function magnitudeAt(response: Float32Array, hz: number): number {
  let re = 0;
  let im = 0;
  response.forEach((value, i) => {
    re += value * Math.cos((2 * Math.PI * hz * i) / RATE);
    im += value * Math.sin((2 * Math.PI * hz * i) / RATE);
  });
  return Math.hypot(re, im);
}

const measured = (shape: number, cutoffHz: number, resonance: number, hz: number) =>
  magnitudeAt(clickThrough(shape, cutoffHz, resonance), hz);

describe('the filter', () => {
  it.each([
    ['low pass', SHAPE_LOW],
    ['high pass', SHAPE_HIGH],
    ['band pass', SHAPE_BAND],
    ['notch', SHAPE_NOTCH],
  ])('%s has the response of the cookbook, flat and resonant', (_name, shape) => {
    for (const [cutoffHz, resonance] of [
      [200, 0],
      [1000, 0.5],
      [5000, 0.9],
    ] as const) {
      const q = 1 / dampingOf(resonance);
      const response = clickThrough(shape, cutoffHz, resonance);
      for (const hz of [50, 180, 700, 1500, 4900, 12_000]) {
        expect(magnitudeAt(response, hz)).toBeCloseTo(cookbook(shape, cutoffHz, q, hz), 3);
        const drawn = 10 ** (responseDb({ shape, cutoffHz, resonance }, hz, RATE) / 20);
        expect(drawn).toBeCloseTo(cookbook(shape, cutoffHz, q, hz), 3);
      }
    }
  });

  it('at resonance 0 is a Butterworth: 3 dB down at its cutoff, 12 dB an octave beyond (general knowledge)', () => {
    expect(20 * Math.log10(measured(SHAPE_LOW, 1000, 0, 1000))).toBeCloseTo(-3.01, 1);
    const octave = measured(SHAPE_LOW, 200, 0, 3200) / measured(SHAPE_LOW, 200, 0, 1600);
    expect(20 * Math.log10(octave)).toBeCloseTo(-12, 0);
  });

  it('switched off lets everything through', () => {
    expect(responseDb({ shape: SHAPE_OFF, cutoffHz: 20, resonance: 1 }, 5000, RATE)).toBe(0);
  });

  it('stays within bounds while its cutoff jumps about, and dies away', () => {
    const filter = new StereoFilter();
    const left = new Float32Array(32);
    let loudest = 0;
    for (let step = 0; step < 2000; step++) {
      filter.set(SHAPE_LOW, step % 2 ? 40 : 18_000, 0.8, RATE);
      left.fill(step % 3 ? 1 : -1);
      filter.process(left, new Float32Array(32), 0, 32);
      for (const value of left) loudest = Math.max(loudest, Math.abs(value));
    }
    expect(loudest).toBeLessThan(20);
    for (let step = 0; step < 4000; step++) filter.process(left.fill(0), new Float32Array(32), 0, 32);
    expect(left.every((value) => value === 0)).toBe(true);
  });
});
