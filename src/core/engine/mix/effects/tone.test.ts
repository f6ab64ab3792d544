/** What bends, filters and shifts, against published formulas and what they promise. */
import FFT from 'fft.js';
import { describe, expect, it } from 'vitest';
import { click, dB, RATE, rms, sine, through } from '../../../../../tests/support/effects.ts';
import { loudestBeside, partialsDb } from '../../../../../tests/support/spectrum.ts';
import type { EffectKind } from '../../../params/effects.ts';

const SIZE = 65_536;
const FREQUENCIES = [31, 62, 125, 250, 500, 1000, 2000, 4000, 8000, 12_000, 16_000];

/** Level of an effect's response to a click, by frequency. */
function response(kind: EffectKind, sparse: object, height = 0.5): (hz: number) => number {
  const { left } = through(kind, sparse, click(SIZE, height));
  const fft = new FFT(SIZE);
  const out = fft.createComplexArray() as number[];
  fft.realTransform(out, [...left]);
  return (hz) => {
    const bin = Math.round((hz * SIZE) / RATE);
    return dB(Math.hypot(out[2 * bin]!, out[2 * bin + 1]!) / height);
  };
}
const onBin = (hz: number) => (Math.round((hz * SIZE) / RATE) * RATE) / SIZE;

type Coefficients = readonly [b0: number, b1: number, b2: number, a0: number, a1: number, a2: number];

/** Level of a digital section at a frequency. */
function sectionDb([b0, b1, b2, a0, a1, a2]: Coefficients, hz: number): number {
  const w = (2 * Math.PI * hz) / RATE;
  const size = (c0: number, c1: number, c2: number) =>
    Math.hypot(c0 + c1 * Math.cos(w) + c2 * Math.cos(2 * w), c1 * Math.sin(w) + c2 * Math.sin(2 * w));
  return dB(size(b0, b1, b2) / size(a0, a1, a2));
}

/** R. Bristow-Johnson, "Cookbook formulae for audio EQ biquad filter coefficients" (W3C note, 2021), as they stand there. */
const cookbook = {
  peaking(hz: number, q: number, gainDb: number): Coefficients {
    const a = 10 ** (gainDb / 40);
    const w = (2 * Math.PI * hz) / RATE;
    const alpha = Math.sin(w) / (2 * q);
    const cos = Math.cos(w);
    return [1 + alpha * a, -2 * cos, 1 - alpha * a, 1 + alpha / a, -2 * cos, 1 - alpha / a];
  },
  lowShelf(hz: number, q: number, gainDb: number): Coefficients {
    const a = 10 ** (gainDb / 40);
    const w = (2 * Math.PI * hz) / RATE;
    const cos = Math.cos(w);
    const beta = (2 * Math.sqrt(a) * Math.sin(w)) / (2 * q);
    return [
      a * (a + 1 - (a - 1) * cos + beta),
      2 * a * (a - 1 - (a + 1) * cos),
      a * (a + 1 - (a - 1) * cos - beta),
      a + 1 + (a - 1) * cos + beta,
      -2 * (a - 1 + (a + 1) * cos),
      a + 1 + (a - 1) * cos - beta,
    ];
  },
  highShelf(hz: number, q: number, gainDb: number): Coefficients {
    const a = 10 ** (gainDb / 40);
    const w = (2 * Math.PI * hz) / RATE;
    const cos = Math.cos(w);
    const beta = (2 * Math.sqrt(a) * Math.sin(w)) / (2 * q);
    return [
      a * (a + 1 + (a - 1) * cos + beta),
      -2 * a * (a - 1 + (a + 1) * cos),
      a * (a + 1 + (a - 1) * cos - beta),
      a + 1 - (a - 1) * cos + beta,
      2 * (a - 1 - (a + 1) * cos),
      a + 1 - (a - 1) * cos - beta,
    ];
  },
};

/** Butterworth's magnitude (S. Butterworth, "On the theory of filter amplifiers", 1930), bent by the bilinear transform. */
function butterworthDb(shape: 'low' | 'high', cutoffHz: number, poles: number, hz: number): number {
  const ratio = Math.tan((Math.PI * hz) / RATE) / Math.tan((Math.PI * cutoffHz) / RATE);
  return -10 * Math.log10(1 + (shape === 'low' ? ratio : 1 / ratio) ** (2 * poles));
}

describe('the equaliser', () => {
  it.each([
    ['a bell', { bell2Hz: 900, bell2Db: 9, bell2Q: 1.4 }, cookbook.peaking(900, 1.4, 9)],
    ['a deep, narrow bell', { bell4Hz: 7000, bell4Db: -18, bell4Q: 6 }, cookbook.peaking(7000, 6, -18)],
    ['a low shelf', { lowShelfHz: 180, lowShelfDb: -12 }, cookbook.lowShelf(180, Math.SQRT1_2, -12)],
    ['a high shelf', { highShelfHz: 6000, highShelfDb: 10 }, cookbook.highShelf(6000, Math.SQRT1_2, 10)],
  ])('%s is that of the cookbook within 0.1 dB up to 16 kHz', (_what, values, coefficients) => {
    const level = response('equaliser', values);
    for (const hz of FREQUENCIES.map(onBin)) expect(level(hz) - sectionDb(coefficients, hz)).toBeCloseTo(0, 1);
  });

  it.each([
    ['low', 'highCut', 'highCutHz', 3000],
    ['high', 'lowCut', 'lowCutHz', 200],
  ] as const)('its cuts are Butterworth filters within 0.1 dB: %s', (shape, cut, at, hz) => {
    for (const slope of [12, 24]) {
      const level = response('equaliser', { [cut]: String(slope), [at]: hz });
      for (const one of FREQUENCIES.map(onBin)) {
        const wanted = butterworthDb(shape, hz, slope / 6, one);
        if (wanted > -70) expect(Math.abs(level(one) - wanted)).toBeLessThan(0.1);
      }
    }
  });
});

describe('the filter', () => {
  it.each([12, 24, 36, 48])('falls by %i dB an octave as Butterworth has it', (slope) => {
    for (const shape of ['low', 'high'] as const) {
      const level = response('filter', { shape, cutoffHz: 1000, slope });
      for (const one of FREQUENCIES.map(onBin)) {
        const wanted = butterworthDb(shape, 1000, slope / 6, one);
        if (wanted > -70) expect(Math.abs(level(one) - wanted)).toBeLessThan(0.1);
      }
    }
  });

  it('of 6 dB falls by 6 dB an octave, and is 3 dB down at its cutoff', () => {
    const level = response('filter', { cutoffHz: 500, slope: 6 });
    expect(level(onBin(500))).toBeCloseTo(-3, 0);
    expect(level(onBin(4000)) - level(onBin(2000))).toBeCloseTo(-6, 0);
  });

  it('as a ladder falls by 24 dB an octave, 12 dB down at its cutoff, and rings near it (common practice)', () => {
    const flat = response('filter', { circuit: 'ladder', cutoffHz: 500, slope: 24 }, 0.01);
    expect(flat(onBin(500))).toBeCloseTo(-12, 0);
    expect(flat(onBin(4000)) - flat(onBin(2000))).toBeLessThan(-22);
    const ringing = response('filter', { circuit: 'ladder', cutoffHz: 500, slope: 24, resonance: 0.95 }, 0.01);
    expect(ringing(onBin(500))).toBeGreaterThan(ringing(onBin(100)) + 15);
  });

  it('follows the level of what it hears, and of what it listens to', () => {
    const noise = Float32Array.from({ length: 20_000 }, (_, i) => Math.sin(i * i * 0.37) * 0.5);
    const opened = through('filter', { cutoffHz: 200, followOctaves: 5, sensitivity: 1 }, noise).left;
    const shut = through('filter', { cutoffHz: 200 }, noise).left;
    expect(dB(rms(opened, 5000) / rms(shut, 5000))).toBeGreaterThan(8);
    const side = { left: sine(100, 20_000, 0.5), right: sine(100, 20_000, 0.5) };
    const quiet = noise.map((value) => value * 0.001);
    const bySide = through('filter', { cutoffHz: 200, followOctaves: 5, sensitivity: 1 }, quiet, { side }).left;
    expect(dB(rms(bySide, 5000) / rms(quiet, 5000))).toBeGreaterThan(dB(rms(shut, 5000) / rms(noise, 5000)) + 8);
  });
});

describe('the drive', () => {
  const HZ = 5000;
  const harmonics = [0, 1, 2, 3, 4].map((n) => n * HZ);

  it.each(['soft', 'hard', 'one-sided', 'diode', 'fold'])(
    'that bends %s makes nothing of 5 kHz at +12 dB but harmonics, down to -80 dB',
    (shape) => {
      const { left } = through('drive', { shape, driveDb: 12, isMadeUp: false }, sine(HZ, 40_000, 0.5));
      expect(loudestBeside(left, RATE, 6000, 32_768, harmonics, 60)).toBeLessThan(-80);
    },
  );

  it.each(['soft', 'hard', 'one-sided', 'diode', 'fold'])(
    'that bends %s keeps the level when it is made up',
    (shape) => {
      for (const driveDb of [0, 6, 12, 24]) {
        const { left } = through('drive', { shape, driveDb }, sine(220, 20_000, 0.35));
        expect(Math.abs(dB(rms(left, 8000) / (0.35 * Math.SQRT1_2)))).toBeLessThan(1);
      }
    },
  );
});

describe('crush', () => {
  it('of so many bits has as many steps, and of a rate looks as often', () => {
    const { left } = through('crush', { bits: 4, rateHz: 48_000 }, sine(50, 8000, 0.99));
    expect(new Set(left.slice(100)).size).toBe(2 ** 4 + 1);
    const { left: held } = through('crush', { bits: 16, rateHz: RATE / 10 }, sine(50, 8000));
    let changes = 0;
    for (let i = 1; i < held.length; i++) if (held[i] !== held[i - 1]) changes++;
    expect(Math.abs(changes - 800)).toBeLessThan(20);
  });

  it('smooth goes from look to look in straight lines', () => {
    const stepped = through('crush', { bits: 16, rateHz: 2000 }, sine(50, 8000)).left;
    const smooth = through('crush', { bits: 16, rateHz: 2000, isSmooth: true }, sine(50, 8000)).left;
    const most = (samples: Float32Array) =>
      samples.reduce((step, value, i) => Math.max(step, i > 100 ? Math.abs(value - samples[i - 1]!) : 0), 0);
    expect(most(smooth)).toBeLessThan(most(stepped) / 10);
  });
});

describe('the frequency shifter', () => {
  it.each([50, 200, 1000, 5000, 12_000, 18_000])(
    'leaves nothing of the other side band of %i Hz, down to -60 dB',
    (hz) => {
      const shiftHz = 37;
      const { left } = through('shifter', { shiftHz }, sine(hz, 90_000));
      const level = partialsDb(left, RATE, 20_000, SIZE);
      expect(level(hz + shiftHz)).toBeGreaterThan(-1);
      expect(level(hz - shiftHz)).toBeLessThan(-60);
      expect(level(hz)).toBeLessThan(-60);
    },
  );

  it('shifts one side up and the other down when told', () => {
    const { left, right } = through('shifter', { shiftHz: 100, sides: 'apart' }, sine(1000, 90_000));
    expect(partialsDb(left, RATE, 20_000, SIZE)(1100)).toBeGreaterThan(-1);
    expect(partialsDb(right, RATE, 20_000, SIZE)(900)).toBeGreaterThan(-1);
    expect(partialsDb(right, RATE, 20_000, SIZE)(1100)).toBeLessThan(-60);
  });
});

describe('the width', () => {
  it('at none is one place, at 100 percent what it was', () => {
    const bus = { left: sine(300, 4000), right: sine(500, 4000) };
    const one = through('width', { width: 0 }, bus);
    expect(one.left.every((value, i) => value === one.right[i])).toBe(true);
    const same = through('width', { width: 1 }, bus);
    expect(same.left.every((value, i) => Math.abs(value - bus.left[i]!) < 1e-6)).toBe(true);
  });

  it('puts the bass in one place', () => {
    const apart = (hz: number) => {
      const left = sine(hz, 20_000);
      const out = through('width', { width: 1, monoBelowHz: 300 }, { left, right: left.map((value) => -value) });
      return dB(rms(out.left, 10_000) / rms(left, 10_000));
    };
    expect(apart(60)).toBeLessThan(-20);
    expect(apart(3000)).toBeGreaterThan(-0.5);
  });
});
