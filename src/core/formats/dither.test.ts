import { describe, expect, it } from 'vitest';
import { sine } from '../../../tests/support/signals.ts';
import { dithered16 } from './dither.ts';
import { readWav } from './wav-read.ts';
import { writeWav } from './wav-write.ts';

const RATE = 44_100;
/** Power of one frequency, in dB of a full sine. */
function levelAt(samples: Float32Array, hz: number): number {
  let re = 0;
  let im = 0;
  samples.forEach((x, i) => {
    re += x * Math.cos((2 * Math.PI * hz * i) / RATE);
    im += x * Math.sin((2 * Math.PI * hz * i) / RATE);
  });
  return 20 * Math.log10((2 * Math.hypot(re, im)) / samples.length + 1e-12);
}

describe('rounding to 16 bit', () => {
  // A tone of less than two steps: rounded alone it is a square with overtones nearly as loud as itself.
  const quiet = sine(441, 4).map((x) => (x * 1.4) / 32_768);
  const rounded = quiet.map((x) => Math.round(x * 32_768) / 32_768);
  const { channels } = readWav(writeWav({ sampleRate: RATE, channels: [quiet] }, { encoding: 'pcm16' })).audio;

  it('has noise in place of overtones', () => {
    const fundamental = levelAt(quiet, 441);
    expect(levelAt(rounded, 3 * 441) - fundamental).toBeGreaterThan(-25);
    expect(levelAt(channels[0]!, 3 * 441) - fundamental).toBeLessThan(-40);
    expect(levelAt(channels[0]!, 441) - fundamental).toBeCloseTo(0, 0);
  });

  it('adds noise of half a step squared in all, three times that of rounding alone', () => {
    const noise = channels[0]!.map((x, i) => (x - quiet[i]!) * 32_768);
    const power = noise.reduce((sum, x) => sum + x * x, 0) / noise.length;
    expect(power).toBeCloseTo(3 / 12, 1);
  });

  it('leaves what lies on its steps, and silence, as it is; and gives the same each time', () => {
    const exact = { sampleRate: RATE, channels: [rounded] };
    expect(dithered16(exact)).toBe(exact);
    const half = new Float32Array(quiet.length);
    half.set(quiet.subarray(0, 1_000));
    expect(
      dithered16({ sampleRate: RATE, channels: [half] })
        .channels[0]!.subarray(1_000)
        .every((x) => x === 0),
    ).toBe(true);
    expect(dithered16({ sampleRate: RATE, channels: [quiet] })).toEqual(
      dithered16({ sampleRate: RATE, channels: [quiet] }),
    );
  });
});
