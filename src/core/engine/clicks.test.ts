/**
 * No click, whatever ends or begins and when: on full-scale sines and noise no step between two samples is greater than
 * the signal itself and the set fade allow. A sine of amplitude 1 steps by `2 pi f / rate` at most; a fade over n frames
 * adds `1 / n` of what it fades.
 */
import { describe, expect, it } from 'vitest';
import { greatestStep, KeyedPart, peakOf, RATE } from '../../../tests/support/keys.ts';
import { loudestBeside } from '../../../tests/support/spectrum.ts';
import { sine } from '../../../tests/support/signals.ts';
import { seededRandom } from '../units/random.ts';
import { setZoneLoop } from '../project/commands/zones.ts';
import { countingEnv, unwrap } from '../../../tests/support/documents.ts';

const HZ = 220;
const SINE_STEP = (2 * Math.PI * HZ) / RATE;
/** The shortest fade that anything below sets: 3 ms, of a voice whose place is taken or that is choked. */
const FADE_STEP = 1 / (0.003 * RATE);
/** The start of a slice that does not begin at a zero fades in within 0.7 ms. */
const START_STEP = 1 / (0.0007 * RATE);
const tone = () => new KeyedPart([sine(HZ, 2)], [0, 30_001, 60_007]);
const moments = (count: number, seed: number) => {
  const random = seededRandom(seed);
  return Array.from({ length: count }, () => 2_000 + Math.floor(random() * 20_000)).sort((a, b) => a - b);
};

describe('no click', () => {
  it.each(moments(6, 1))('when a held key is let go at frame %i', (at) => {
    const part = tone().zones({ answer: 'gate', releaseMs: 3 });
    const { left } = part.play(30_000, [
      [0, part.press(48)],
      [at, part.letGo(48)],
    ]);
    expect(greatestStep(left)).toBeLessThan(SINE_STEP + FADE_STEP + 1e-4);
    expect(peakOf(left, at + 200)).toBe(0);
  });

  it.each(moments(6, 2))('when another of its choke group cuts it off at frame %i', (at) => {
    const part = tone().zones({ chokeGroup: 2 });
    const { left } = part.play(30_000, [
      [0, part.press(48)],
      [at, part.press(49)],
    ]);
    expect(greatestStep(left)).toBeLessThan(2 * SINE_STEP + FADE_STEP + START_STEP);
    // One of them alone is left.
    expect(peakOf(left, at + 300, at + 5_000)).toBeLessThan(1.001);
  });

  it.each(moments(6, 3))('when its place is taken at frame %i', (at) => {
    const part = tone().part({ voices: 1 });
    const { left } = part.play(30_000, [
      [0, part.press(48)],
      [at, part.press(49)],
    ]);
    expect(greatestStep(left)).toBeLessThan(2 * SINE_STEP + FADE_STEP + START_STEP);
    expect(peakOf(left, at + 300, at + 5_000)).toBeLessThan(1.001);
  });

  it.each(moments(4, 4))('when a toggled sound is stopped by its second press at frame %i', (at) => {
    const part = tone().zones({ answer: 'toggle', releaseMs: 4 });
    const { left } = part.play(30_000, [
      [0, part.press(48, 1, 1)],
      [500, part.letGo(1)],
      [at, part.press(48, 1, 2)],
      [at + 10, part.letGo(2)],
    ]);
    expect(peakOf(left, 600, at)).toBeGreaterThan(0.9);
    expect(greatestStep(left)).toBeLessThan(SINE_STEP + FADE_STEP);
    expect(peakOf(left, at + 300)).toBe(0);
  });

  it.each(moments(4, 5))('when the pitch glides from frame %i on', (at) => {
    const part = tone().part({ oneAtATime: true, glideMs: 60 }).spread(36, 72, 48);
    const { left } = part.play(30_000, [
      [0, part.press(48)],
      [at, part.press(55)],
    ]);
    const fifth = SINE_STEP * 2 ** (7 / 12);
    expect(greatestStep(left)).toBeLessThan(SINE_STEP + fifth + FADE_STEP + START_STEP);
  });

  it('when all sound is turned off, on noise', () => {
    const random = seededRandom(9);
    const noise = Float32Array.from({ length: RATE }, () => (random() * 2 - 1) * 0.1);
    const part = new KeyedPart([noise]);
    const { left } = part.play(10_000, [
      [0, part.press(48)],
      [4_321, (renderer) => renderer.allSoundOff()],
    ]);
    expect(greatestStep(left)).toBeLessThan(0.2 + 0.1 * FADE_STEP);
    expect(peakOf(left, 4_321 + 200)).toBe(0);
  });

  it.each(['forwards', 'both'] as const)('at the seam of a loop, %s', (loopMode) => {
    const part = tone().zones({ loopMode, answer: 'gate', releaseMs: 3 }, [0]);
    const { left } = part.play(120_000, [
      [0, part.press(48)],
      [100_003, part.letGo(48)],
    ]);
    expect(peakOf(left, 60_000, 100_000)).toBeGreaterThan(0.9);
    expect(greatestStep(left)).toBeLessThan(SINE_STEP + 1 / (0.005 * RATE) + 1e-3);
  });

  it('at a crossfaded seam no partial stands above -60 dB away from the tone', () => {
    // A hundred periods, to the nearest whole frame: what is left over is for the crossfade.
    const period = RATE / HZ;
    const part = tone().zones({ loopMode: 'forwards', answer: 'gate' }, [0]);
    const whole = Math.round(100 * period);
    part.document = unwrap(
      setZoneLoop(
        part.document,
        {
          zoneId: part.zoneIds[0]!,
          loop: { startFrame: 4_000, endFrame: 4_000 + whole, crossfadeFrames: 2_000 },
        },
        countingEnv(),
      ),
    );
    for (const key of [48, 51]) {
      const spread = part.spread(36, 60, 48);
      const { left } = spread.play(120_000, [[0, spread.press(key)]]);
      const hz = HZ * 2 ** ((key - 48) / 12);
      expect(loudestBeside(left, RATE, 40_000, 65_536, [hz], 12)).toBeLessThan(-60);
    }
  });
});
