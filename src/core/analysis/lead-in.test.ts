import { describe, expect, it } from 'vitest';
import { seededRandom } from '../units/random.ts';
import { leadIn } from './lead-in.ts';

const RATE = 44100;
const ms = (value: number) => Math.round((value / 1000) * RATE);
const NO_RISES = new Array<number>(18).fill(20);
/** A low note without a burst at the top. */
const LOW_RISES = [12, 12, 15, 15, 15, 15, 10, 5, 2, ...new Array<number>(9).fill(10)];

/** Noise whose level in dB follows a curve over time in milliseconds. */
function noise(levelDbAt: (timeMs: number) => number, lengthMs = 200): Float32Array {
  const random = seededRandom(3);
  return Float32Array.from(
    { length: ms(lengthMs) },
    (_, i) => 10 ** (levelDbAt((i / RATE) * 1000) / 20) * (random() * 2 - 1),
  );
}

describe('the soft part before an attack', () => {
  it('is found where a swell leaves the level before', () => {
    // A scrape that grows by 1 dB a millisecond from 100 ms on; it shows at 120 ms.
    const scrape = noise((t) => (t < 100 ? -45 : Math.min(-10, -45 + (t - 100))));
    const { softFrames } = leadIn(scrape, RATE, ms(120), NO_RISES);
    expect(Math.abs(softFrames - ms(20))).toBeLessThan(ms(4));
  });

  it('is found where the string before was damped', () => {
    const string = noise((t) => (t < 100 ? -12 : t < 118 ? -40 : -8));
    const { softFrames } = leadIn(string, RATE, ms(118), LOW_RISES);
    expect(Math.abs(softFrames - ms(18))).toBeLessThan(ms(3.5));
    // A drum after a gated sound is no damped string: it begins where it hits.
    expect(leadIn(string, RATE, ms(118), NO_RISES).softFrames).toBe(0);
  });

  it.each([
    ['an even level', noise((t) => (t < 120 ? -45 : -10))],
    ['a sound that dies away', noise((t) => (t < 120 ? -20 - t / 4 : -10))],
    ['silence', noise((t) => (t < 120 ? -200 : -10))],
    ['a soft sound that begins before', noise((t) => (t < 90 ? -45 : t < 120 ? -33 : -10))],
  ])('is none after %s', (_name, signal) => {
    expect(leadIn(signal, RATE, ms(120), NO_RISES)).toEqual({ softFrames: 0, hiddenFrames: 0 });
  });

  it('is taken to hide up to 3 ms under what rings where nothing bursts', () => {
    const gentle = [5, 6, 6, 8, 10, 9, 8, 6, 1, ...new Array<number>(9).fill(8)];
    const even = noise(() => -20);
    expect(leadIn(even, RATE, ms(120), gentle)).toEqual({ softFrames: 0, hiddenFrames: Math.round(0.003 * RATE) });
  });
});
