import { describe, expect, it } from 'vitest';
import { seededRandom } from '../units/random.ts';
import { silenceLevelDb, soundingRange } from './silence.ts';

const RATE = 44_100;
const START = Math.round(0.3 * RATE);
const ring = (i: number, perSecond: number) =>
  i < START ? 0 : 0.8 * Math.exp((-perSecond * (i - START)) / RATE) * Math.sin((i - START) / 9);

/** One hit 0.3 s into two seconds, over noise of a level. */
function hitOver(noiseDb: number | null, perSecond = 20): { mono: Float32Array; sampleRate: number } {
  const random = seededRandom(7);
  const peak = noiseDb === null ? 0 : Math.sqrt(3) * 10 ** (noiseDb / 20);
  const mono = Float32Array.from({ length: 2 * RATE }, (_, i) => ring(i, perSecond) + peak * (2 * random() - 1));
  return { mono, sampleRate: RATE };
}
const whole = { startFrame: 0, endFrame: 2 * RATE };

describe('silence around a hit', () => {
  it.each([-70, -60, -54, -48, -40])(
    'over a floor of %i dB is found by the level that the floor suggests',
    (noiseDb) => {
      const sound = hitOver(noiseDb);
      const levelDb = silenceLevelDb(sound);
      expect(levelDb).toBeGreaterThan(noiseDb + 3);
      expect(levelDb).toBeLessThan(noiseDb + 8);
      const { startFrame, endFrame } = soundingRange(sound, whole, levelDb);
      // No later than the hit, and hardly earlier.
      expect(startFrame).toBeLessThanOrEqual(START + 2);
      expect(startFrame).toBeGreaterThan(START - 0.008 * RATE);
      // Where the tail is at the level: exp(-20 t) of -5 dB full scale.
      const tail = ((-5 - levelDb) / 8.686 / 20) * RATE;
      expect(Math.abs(endFrame - START - tail)).toBeLessThan(0.03 * RATE);
    },
  );

  it('of digital silence is all but what rings', () => {
    const sound = hitOver(null, 60);
    expect(silenceLevelDb(sound)).toBe(-96);
    const { startFrame, endFrame } = soundingRange(sound, whole, -60);
    expect(Math.abs(startFrame - START)).toBeLessThan(3);
    expect(endFrame).toBeLessThan(START + 0.2 * RATE);
  });

  it('a level that is set higher leaves out more, a lower one less', () => {
    const sound = hitOver(-60);
    const ends = [-50, -40, -30, -20].map((level) => soundingRange(sound, whole, level).endFrame);
    expect([...ends].sort((a, b) => b - a)).toEqual(ends);
    expect(soundingRange(sound, whole, -80)).toEqual(whole);
  });

  it('is nowhere in a sound without a pause, and a range in which nothing is louder stays', () => {
    const tone = { mono: Float32Array.from({ length: RATE }, (_, i) => 0.5 * Math.sin(i / 20)), sampleRate: RATE };
    expect(silenceLevelDb(tone)).toBeLessThan(-35);
    const all = { startFrame: 0, endFrame: RATE };
    expect(soundingRange(tone, all, silenceLevelDb(tone))).toEqual(all);
    expect(soundingRange(hitOver(-60), { startFrame: 0, endFrame: 5_000 }, -40)).toEqual({
      startFrame: 0,
      endFrame: 5_000,
    });
    expect(silenceLevelDb({ mono: new Float32Array(0), sampleRate: RATE })).toBe(-96);
  });
});
