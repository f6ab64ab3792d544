import { describe, expect, it } from 'vitest';
import { sine } from '../../../tests/support/signals.ts';
import { BAND_COUNT, BAND_EDGES_HZ, measureBandEnergies } from './band-energies.ts';

const steadyDb = (band: Float32Array) => 10 * Math.log10(band[Math.round(band.length * 0.8)]! + 1e-20);

describe('band energies', () => {
  it.each([44_100, 48_000, 96_000])('hold a sine in its own band at %i Hz: the mean square is half of 1', (rate) => {
    for (let band = 0; band < BAND_COUNT - 1; band++) {
      const centre = Math.sqrt(BAND_EDGES_HZ[band]! * BAND_EDGES_HZ[band + 1]!);
      const { bands, hopFrames } = measureBandEnergies(sine(centre, 0.5, rate), rate);
      expect(hopFrames).toBe(Math.round(rate / 1000));
      // Low tones swing within a millisecond: their mean over many hops counts.
      const tail = bands[band]!.slice(-200);
      expect(10 * Math.log10(tail.reduce((sum, value) => sum + value, 0) / 200)).toBeCloseTo(-3, 0);
    }
  });

  it('keep a high sine out of the low bands, though those are read at a quarter of the rate', () => {
    // 10.9 kHz would fold to 125 Hz.
    for (const hz of [10_900, 11_400, 16_000]) {
      const { bands } = measureBandEnergies(sine(hz, 0.5), 44_100);
      for (let band = 0; band < 4; band++) expect(steadyDb(bands[band]!)).toBeLessThan(-60);
    }
  });

  it('are the same however long the file is', () => {
    const long = sine(300, 0.4);
    const whole = measureBandEnergies(long, 44_100);
    for (const frames of [1, 3, 7, 44, 101, 5_000]) {
      const part = measureBandEnergies(long.subarray(0, frames), 44_100);
      expect(part.bands[3]!.every(Number.isFinite)).toBe(true);
      const hops = Math.floor((frames - 8) / 44);
      for (let hop = 0; hop < hops; hop++) expect(part.bands[3]![hop]).toBe(whole.bands[3]![hop]);
    }
  });
});
