import { describe, expect, it } from 'vitest';
import { noise } from '../../../tests/support/signals.ts';
import { seededRandom } from '../units/random.ts';
import { analyseOnsets } from './detect-onsets.ts';

const RATE = 44_100;
const likely = (signal: Float32Array) =>
  analyseOnsets(signal, RATE)
    .onsets.filter(({ likelihood }) => likelihood >= 0.5)
    .map(({ frame }) => frame / RATE);

/** Notes of an electric piano, let go over so many seconds. */
function notes(starts: readonly number[], seconds: number, goneSeconds: number): Float32Array {
  const out = new Float32Array(Math.round((starts.at(-1)! + seconds + 1) * RATE));
  starts.forEach((start, place) => {
    const hz = [220, 277.2, 329.6, 246.9][place % 4]!;
    for (let i = 0; i < seconds * RATE; i++) {
      const time = i / RATE;
      const level = Math.exp(-1.6 * time) * Math.min(1, time / 0.003, (seconds - time) / goneSeconds);
      const bright = 1.2 * Math.exp(-4 * time) * Math.sin(2 * Math.PI * hz * time);
      out[Math.round(start * RATE) + i]! += 0.3 * level * Math.sin(2 * Math.PI * hz * time + bright);
    }
  });
  return out;
}

describe('what else speaks for a hit', () => {
  it('is not there in steady noise, after its start', () => {
    expect(likely(noise(8 * RATE, 5)).filter((at) => at > 0.05)).toEqual([]);
  });

  it('is not there where a note is let go before silence', () => {
    const starts = [0.1, 1.2, 2.3, 3.4];
    const found = likely(notes(starts, 0.6, 0.016));
    expect(found).toHaveLength(starts.length);
    found.forEach((at, place) => expect(Math.abs(at - starts[place]!)).toBeLessThan(0.01));
  });

  it('is not there in the crackle of a record', () => {
    const signal = notes([0.1, 0.9, 1.7, 2.5], 0.75, 0.03);
    const clean = likely(signal);
    const random = seededRandom(9);
    // 40 scratches of up to half a millisecond, as loud as a quiet note.
    for (let k = 0; k < 40; k++) {
      const at = Math.floor(random() * (signal.length - 30));
      const frames = 4 + Math.floor(random() * 18);
      for (let i = 0; i < frames; i++) signal[at + i]! += 0.06 * Math.sin((Math.PI * (i + 1)) / (frames + 1));
    }
    const found = likely(signal);
    for (const at of clean) expect(found.some((other) => Math.abs(other - at) < 0.01)).toBe(true);
    expect(found.length - clean.length).toBeLessThanOrEqual(8);
  });

  it('finds soft notes under what rings on', () => {
    const starts = [0, 0.5, 1, 1.5, 2, 2.5, 3, 3.5];
    const ringing = notes(starts, 3, 0.05);
    const found = likely(ringing);
    const missed = starts.filter((start) => !found.some((at) => Math.abs(at - start) < 0.01));
    expect(missed).toEqual([]);
  });
});
