import { describe, expect, it } from 'vitest';
import { sine } from '../../../../../../tests/support/effects.ts';
import { RunningLoudness } from './running-loudness.ts';

const RATE = 44_100;

function loudnessOf(levelDb: number, seconds: number, sides: 'both' | 'left' = 'both', hz = 1000): number {
  const meter = new RunningLoudness(RATE);
  const left = sine(hz, Math.round(seconds * RATE), 10 ** (levelDb / 20));
  const right = sides === 'both' ? left : new Float32Array(left.length);
  for (let at = 0; at + 32 <= left.length; at += 32) {
    meter.run(left.subarray(at, at + 32), right.subarray(at, at + 32), 32);
  }
  return meter.lufs;
}

describe('loudness as it runs', () => {
  // EBU Tech 3341, table 1, cases 1 and 2: a stereo sine of 1 kHz at -23 and -33 dBFS.
  it.each([-23, -33])('of a sine of 1 kHz at %s dBFS on both sides is that many LUFS, within 0.1', (levelDb) => {
    expect(loudnessOf(levelDb, 4)).toBeCloseTo(levelDb, 1);
  });

  it('of a full sine of 997 Hz on one side is -3.01 LUFS (BS.1770-4, annex 1)', () => {
    expect(loudnessOf(0, 4, 'left', 997)).toBeCloseTo(-3.01, 1);
  });

  it('of silence is none, and forgets what was more than three seconds ago', () => {
    const meter = new RunningLoudness(RATE);
    expect(meter.lufs).toBe(-Infinity);
    const loud = sine(1000, RATE, 0.5);
    const silence = new Float32Array(32);
    for (let at = 0; at + 32 <= RATE; at += 32) meter.run(loud.subarray(at, at + 32), loud.subarray(at, at + 32), 32);
    const after = meter.lufs;
    for (let at = 0; at < 2 * RATE; at += 32) meter.run(silence, silence, 32);
    // A third of the window.
    expect(meter.lufs).toBeCloseTo(after - 4.77, 0);
    for (let at = 0; at < 1.3 * RATE; at += 32) meter.run(silence, silence, 32);
    expect(meter.lufs).toBeLessThan(-100);
  });
});
