import FFT from 'fft.js';
import { describe, expect, it } from 'vitest';
import { click, dB, RATE, through } from '../../../tests/support/effects.ts';
import { EFFECT_ROWS } from '../params/effects.ts';
import { fullValues } from '../params/row.ts';
import { equaliserDb, filterDb } from './effect-curves.ts';

const SIZE = 65_536;
const FREQUENCIES = [40, 90, 200, 450, 1000, 2200, 5000, 9000, 14_000].map(
  (hz) => (Math.round((hz * SIZE) / RATE) * RATE) / SIZE,
);

function heard(kind: 'equaliser' | 'filter', sparse: object): (hz: number) => number {
  const { left } = through(kind, sparse, click(SIZE, 0.01));
  const fft = new FFT(SIZE);
  const out = fft.createComplexArray() as number[];
  fft.realTransform(out, [...left]);
  return (hz) => {
    const bin = Math.round((hz * SIZE) / RATE);
    return dB(Math.hypot(out[2 * bin]!, out[2 * bin + 1]!) / 0.01);
  };
}

describe('what is drawn is what sounds', () => {
  it.each([
    [{ bell1Db: 9, bell1Hz: 400, bell1Q: 2, bell3Db: -12 }],
    [{ lowShelfDb: 8, highShelfDb: -10 }],
    [{ lowCut: '24', lowCutHz: 120, highCut: '12', highCutHz: 7000 }],
  ])('of an equaliser %o', (sparse) => {
    const level = heard('equaliser', sparse);
    const values = fullValues(EFFECT_ROWS.equaliser, sparse as object);
    for (const hz of FREQUENCIES) expect(Math.abs(equaliserDb(values, hz, RATE) - level(hz))).toBeLessThan(0.1);
  });

  it.each([
    [{ cutoffHz: 900, resonance: 0.7 }],
    [{ cutoffHz: 900, slope: 6 }],
    [{ shape: 'high', cutoffHz: 500, slope: 48, resonance: 0.3 }],
    [{ shape: 'band', cutoffHz: 1500, slope: 24 }],
    [{ shape: 'notch', cutoffHz: 1500 }],
    [{ shape: 'peak', cutoffHz: 1500, resonance: 0.5, slope: 24 }],
    [{ circuit: 'ladder', cutoffHz: 700, slope: 24, resonance: 0.6 }],
    [{ shape: 'high', circuit: 'ladder', cutoffHz: 700, slope: 24, resonance: 0.4 }],
    [{ cutoffHz: 600, second: 'behind', apartCents: 1200 }],
  ])('of a filter %o', (sparse) => {
    const level = heard('filter', sparse);
    const values = fullValues(EFFECT_ROWS.filter, sparse as object);
    for (const hz of FREQUENCIES) {
      const drawn = filterDb(values, hz, RATE);
      if (drawn > -60) expect(Math.abs(drawn - level(hz))).toBeLessThan(0.3);
    }
  });
});
