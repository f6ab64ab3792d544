/** What presses, lifts and shuts: by its curve, in its time, below its ceiling. */
import { describe, expect, it } from 'vitest';
import { truePeak } from '../../../analysis/true-peak.ts';
import { seededRandom } from '../../../units/random.ts';
import { dB, RATE, rms, sine, through } from '../../../../../tests/support/effects.ts';
import { compressedDb } from './compressor.ts';

describe('the compressor', () => {
  it.each([
    [-30, 4, 0],
    [-18, 4, 0],
    [-12, 4, 0],
    [-6, 2, 6],
    [0, 20, 12],
  ])('of a tone of %f dB at %f to 1, knee %f dB, gives what its curve says', (inDb, ratio, kneeDb) => {
    const tone = sine(1000, 60_000, 10 ** (inDb / 20));
    const values = { thresholdDb: -18, ratio, kneeDb, attackMs: 1, releaseMs: 1000 };
    const { left, slot } = through('compressor', values, tone);
    const out = dB(rms(left, 40_000) * Math.SQRT2);
    // Worked example of the handbook rule "above the threshold one dB out for so many in" (common practice).
    if (kneeDb === 0) {
      const byHand = inDb < -18 ? inDb : -18 + (inDb + 18) / ratio;
      expect(compressedDb(inDb, -18, ratio, 0)).toBeCloseTo(byHand, 9);
    }
    expect(Math.abs(out - compressedDb(inDb, -18, ratio, kneeDb))).toBeLessThan(0.35);
    expect(Math.abs(slot.effect.reading! - (inDb - out))).toBeLessThan(0.35);
  });

  it('takes as long as its attack says to 63 percent of what it takes away', () => {
    const tone = sine(2000, 60_000).map((value, i) => value * (i < 20_000 ? 0.01 : 1));
    const { left } = through('compressor', { thresholdDb: -20, ratio: 50, kneeDb: 0, attackMs: 50 }, tone);
    const level = (at: number) => dB(rms(left, at - 200, at + 200) * Math.SQRT2);
    const settled = level(55_000);
    const after = level(20_000 + 0.05 * RATE);
    expect(after / settled).toBeCloseTo(0.63, 1);
  });

  it('listens to another channel, and not to its bass', () => {
    const tone = sine(1000, 40_000, 0.5);
    const bass = { left: sine(40, 40_000), right: sine(40, 40_000) };
    const pressed = through('compressor', { thresholdDb: -30, ratio: 20 }, tone, { side: bass }).left;
    const spared = through('compressor', { thresholdDb: -30, ratio: 20, sideHz: 1000 }, tone, { side: bass }).left;
    expect(dB(rms(pressed, 20_000) / rms(tone))).toBeLessThan(-20);
    expect(dB(rms(spared, 20_000) / rms(pressed, 20_000))).toBeGreaterThan(12);
  });
});

describe('attack and body', () => {
  /** Hits that die away, half a second apart, each softer than the one before. */
  const hits = Float32Array.from({ length: 5 * 22_050 }, (_, i) => {
    const hit = Math.floor(i / 22_050);
    const since = (i % 22_050) / RATE;
    return 0.9 * 10 ** (-hit / 2) * Math.exp(-since * 14) * Math.sin(2 * Math.PI * 900 * since);
  });
  const at = (samples: Float32Array, hit: number, fromMs: number, toMs: number) =>
    rms(samples, hit * 22_050 + (fromMs * RATE) / 1000, hit * 22_050 + (toMs * RATE) / 1000);

  it('lifts how hits begin, alike for loud and soft ones', () => {
    const { left } = through('hits', { attackDb: 12 }, hits);
    const lifts = [0, 1, 2, 3].map((hit) => dB(at(left, hit, 0, 6) / at(hits, hit, 0, 6)));
    expect(Math.min(...lifts)).toBeGreaterThan(4);
    expect(Math.max(...lifts) - Math.min(...lifts)).toBeLessThan(0.5);
    expect(Math.abs(dB(at(left, 1, 100, 200) / at(hits, 1, 100, 200)))).toBeLessThan(1);
  });

  it('lifts or lowers what rings after, and leaves the attack', () => {
    const more = through('hits', { attackDb: 0, bodyDb: 12 }, hits).left;
    const less = through('hits', { attackDb: 0, bodyDb: -12 }, hits).left;
    for (const hit of [0, 2]) {
      expect(dB(at(more, hit, 150, 300) / at(hits, hit, 150, 300))).toBeGreaterThan(5);
      expect(dB(at(less, hit, 150, 300) / at(hits, hit, 150, 300))).toBeLessThan(-5);
      expect(Math.abs(dB(at(more, hit, 0, 4) / at(hits, hit, 0, 4)))).toBeLessThan(2.5);
    }
  });
});

describe('the limiter', () => {
  const random = seededRandom(11);
  const squares = Float32Array.from({ length: 40_000 }, (_, i) => (Math.floor(i / 37) % 2 === 0 ? 1 : -1));
  const sounds: [string, Float32Array][] = [
    ['noise', Float32Array.from({ length: 40_000 }, () => 2 * random() - 1)],
    ['clicks', Float32Array.from({ length: 40_000 }, (_, i) => (i % 977 === 0 ? (i % 2 === 0 ? 1 : -1) : 0))],
    ['square waves', squares],
    ['treble between its samples', sine(RATE / 4, 40_000, 1).map((_, i) => Math.sin((Math.PI / 2) * i + Math.PI / 4))],
  ];
  it.each(sounds)('of %s pushed by 18 dB gives no true peak above its ceiling', (_what, samples) => {
    for (const [ceilingDb, releaseMs] of [
      [-1, 80],
      [-6, 5],
    ] as const) {
      // Its end goes through the limiter, too.
      const whole = samples.map((value, i) => (i < 39_000 ? value : 0));
      const { left } = through('limiter', { inputDb: 18, ceilingDb, releaseMs }, whole);
      // By the interpolation that measures the mix: longer than that of Recommendation ITU-R BS.1770-5, annex 2.
      expect(dB(truePeak(left))).toBeLessThanOrEqual(ceilingDb);
      expect(dB(truePeak(left))).toBeGreaterThan(ceilingDb - 3);
    }
  });

  it('leaves what is below its ceiling as it is, later by what it tells', () => {
    const tone = sine(700, 20_000, 0.5);
    const { left, slot } = through('limiter', {}, tone);
    const { latencyFrames } = slot.effect;
    for (let i = 0; i < 15_000; i++) expect(left[i + latencyFrames]).toBeCloseTo(tone[i]!, 6);
  });
});

describe('the gate', () => {
  it('opens by level, holds, and shuts to its floor', () => {
    const bursts = sine(500, 60_000).map((value, i) => value * (i % 30_000 < 6000 ? 0.5 : 0.002));
    const { left } = through('gate', { thresholdDb: -20, holdMs: 50, releaseMs: 20, floorDb: -40 }, bursts);
    expect(dB(rms(left, 1000, 6000) / rms(bursts, 1000, 6000))).toBeCloseTo(0, 0);
    expect(dB(rms(left, 20_000, 29_000) / rms(bursts, 20_000, 29_000))).toBeCloseTo(-40, 0);
  });

  it('opens in steps of the song', () => {
    const steps = Object.fromEntries(Array.from({ length: 16 }, (_, i) => [`step${i + 1}`, i % 4 === 0 ? 1 : 0]));
    const values = { opens: 'steps', stepNote: '1/16', attackMs: 0.1, releaseMs: 1, floorDb: -80, ...steps };
    const { left } = through('gate', values, sine(1000, 60_000));
    const step = (0.25 * 60 * RATE) / 120;
    for (let n = 0; n < 8; n++) {
      const level = dB(rms(left, Math.round((n + 0.4) * step), Math.round((n + 0.9) * step)) * Math.SQRT2);
      if (n % 4 === 0) expect(level).toBeCloseTo(0, 0);
      else expect(level).toBeLessThan(-60);
    }
  });
});

describe('an effect that gives no sound but no number', () => {
  it('is silent for that step, is counted, and comes back', () => {
    const tone = sine(300, 20_000, 0.5);
    const { left, slot } = through('width', {}, tone, {
      change: ({ effect }, frame) => {
        if (frame !== 3200) return;
        const process = effect.process.bind(effect);
        effect.process = (bus, count, ...rest) => {
          process(bus, count, ...rest);
          bus.left[0] = NaN;
          effect.process = process;
        };
      },
    });
    expect(left.every(Number.isFinite)).toBe(true);
    expect(left.slice(3200, 3232).every((value) => value === 0)).toBe(true);
    expect(rms(left, 4000)).toBeCloseTo(rms(tone, 4000), 2);
    expect(slot.troubleCount).toBe(1);
  });
});
