/** Notes and slices that are cut off: their ends are no hits, and short hits after them still are. */
import { describe, expect, it } from 'vitest';
import { noise } from '../../../tests/support/signals.ts';
import { seededRandom } from '../units/random.ts';
import { analyseOnsets } from './detect-onsets.ts';
import { endsAt } from './sound-ends.ts';

const RATE = 44_100;

/** Eight partials that fall by so many seconds, cut off after their length or let go in some ms. */
function note(hz: number, seconds: number, fallSeconds: number, releaseMs: number): Float32Array {
  const frames = Math.round(seconds * RATE);
  return Float32Array.from({ length: frames }, (_, i) => {
    const t = i / RATE;
    let sum = 0;
    for (let partial = 1; partial <= 8; partial++) sum += Math.sin(2 * Math.PI * hz * partial * t) / partial ** 1.4;
    const release = releaseMs === 0 ? 1 : Math.min(1, (frames - i) / RATE / (releaseMs / 1000));
    return 0.4 * sum * Math.exp(-t / fallSeconds) * Math.min(1, t / 0.004) * release;
  });
}

/** Three notes with pauses, and some silence at the end. */
function phrase(random: () => number) {
  const length = 0.3 + 0.7 * random();
  const root = 45 * 2 ** (random() * 3);
  const [fall, releaseMs] = [0.2 + random(), [0, 3, 20][Math.floor(random() * 3)]!];
  const pause = Math.round((0.1 + 0.3 * random()) * RATE);
  const notes = [1, 1.2, 1.5].map((ratio) => note(root * ratio, length, fall, releaseMs));
  const starts = notes.map((one, place) => place * (one.length + pause));
  const end = starts[2]! + notes[2]!.length;
  const signal = new Float32Array(end + Math.round((0.005 + 0.1 * random()) * RATE));
  for (const [place, one] of notes.entries()) signal.set(one, starts[place]!);
  return { signal, starts };
}

describe('where a sound is cut off', () => {
  it('no hit is found in any of forty phrases, and none is missed where notes begin', () => {
    const random = seededRandom(11);
    for (let n = 0; n < 40; n++) {
      const { signal, starts } = phrase(random);
      const hits = analyseOnsets(signal, RATE).onsets.filter(({ strength }) => strength >= 0.5);
      const near = hits.map(({ attackFrame }) => starts.findIndex((at) => Math.abs(at - attackFrame) < 0.03 * RATE));
      expect([...new Set(near)], `phrase ${n}`).toEqual([0, 1, 2]);
    }
  });

  it('a tick of 12 ms that comes as a note is cut off is a hit', () => {
    const long = note(110, 0.4, 2, 0);
    const tick = noise(Math.round(0.012 * RATE), 3).map((x) => 0.7 * x);
    const signal = new Float32Array(2 * RATE);
    signal.set(long, 1000);
    signal.set(tick, 1000 + long.length);
    const wanted = 1000 + long.length;
    const hits = analyseOnsets(signal, RATE).onsets.filter(({ strength }) => strength >= 0.5);
    expect(hits.some(({ attackFrame }) => Math.abs(attackFrame - wanted) < 0.005 * RATE)).toBe(true);
  });

  it('is told from silence, from what goes on, and not where the file ends while it sounds', () => {
    const tone = note(220, 0.5, 5, 0);
    const padded = new Float32Array(2 * tone.length);
    padded.set(tone);
    const peak = 0.8;
    expect(endsAt(padded, RATE, tone.length - 100, peak, false)).toBe(true);
    expect(endsAt(padded, RATE, tone.length - 1500, peak, true)).toBe(true);
    expect(endsAt(padded, RATE, tone.length - 1500, peak, false)).toBe(false);
    // In the silence after it, nothing was there before.
    expect(endsAt(padded, RATE, tone.length + 5000, peak, false)).toBe(false);
    expect(endsAt(tone, RATE, tone.length - 100, peak, false)).toBe(false);
  });
});
