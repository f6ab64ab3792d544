import { describe, expect, it } from 'vitest';
import { findSoftOnsets, fluxPeaks, peakSeconds } from './soft-onsets.ts';
import { measureTonalNovelty } from './tonal-novelty.ts';

const RATE = 44_100;

/** Sines that fade in and out of each other: `[hz, from, to]` in seconds, each edge over 60 ms. */
function pad(notes: readonly (readonly [hz: number, from: number, to: number])[], seconds: number, vibratoHz = 0) {
  return Float32Array.from({ length: Math.round(seconds * RATE) }, (_, i) => {
    const time = i / RATE;
    return notes.reduce((sum, [hz, from, to]) => {
      const level = Math.max(0, Math.min(1, (time - from) / 0.06, (to - time) / 0.06));
      // Half a semitone either way, five times a second: a broad vibrato (common practice).
      const bend =
        vibratoHz > 0 ? (0.03 * hz * Math.sin(2 * Math.PI * vibratoHz * time)) / (2 * Math.PI * vibratoHz) : 0;
      return sum + 0.2 * level * Math.sin(2 * Math.PI * (hz * time + bend));
    }, 0);
  });
}

describe('tonal novelty', () => {
  it('is greatest where a chord gives way to another at an even level', () => {
    const change = 1.2;
    const signal = pad(
      [
        [261.6, -1, change + 0.03],
        [329.6, -1, change + 0.03],
        [293.7, change - 0.03, 3],
        [440, change - 0.03, 3],
      ],
      2.4,
    );
    const novelty = measureTonalNovelty(signal, RATE);
    // The file's own start is a change, too.
    const later = fluxPeaks(novelty).filter((peak) => peakSeconds(novelty, peak) > 0.3);
    const top = later.reduce((best, peak) => (novelty.flux[peak]! > novelty.flux[best]! ? peak : best));
    expect(Math.abs(peakSeconds(novelty, top) - change)).toBeLessThan(0.05);
    const turned = novelty.turn.indexOf(Math.max(...novelty.turn.subarray(30)));
    expect(Math.abs(turned * novelty.hopSeconds - change)).toBeLessThan(0.06);
  });

  it('takes vibrato for no change: the maximum filter of Böck and Widmer, 2013', () => {
    const greatest = (signal: Float32Array) => Math.max(...measureTonalNovelty(signal, RATE).flux.subarray(40, 150));
    const steady = greatest(pad([[440, -1, 5]], 2));
    const shaken = greatest(pad([[440, -1, 5]], 2, 5));
    const changed = greatest(
      pad(
        [
          [440, -1, 1.03],
          [554.4, 0.97, 5],
        ],
        2,
      ),
    );
    expect(steady).toBeLessThan(0.2 * changed);
    expect(shaken).toBeLessThan(0.6 * changed);
  });

  it('is empty for less than a window, and 0 for silence', () => {
    expect(measureTonalNovelty(new Float32Array(2_000), RATE).flux.length).toBe(0);
    expect(Math.max(...measureTonalNovelty(new Float32Array(RATE), RATE).flux)).toBe(0);
  });

  it('turns slowly where a chord takes a third of a second to become another', () => {
    const change = 1.5;
    const slow = (hz: number, isFirst: boolean) =>
      Float32Array.from({ length: 3 * RATE }, (_, i) => {
        const share = Math.max(0, Math.min(1, (i / RATE - change) / 0.35 + 0.5));
        return 0.2 * (isFirst ? 1 - share : share) * Math.sin((2 * Math.PI * hz * i) / RATE);
      });
    const [a, b, c] = [slow(262, true), slow(294, false), slow(440, false)];
    const novelty = measureTonalNovelty(
      a.map((one, i) => one + b[i]! + c[i]!),
      RATE,
    );
    const inside = novelty.longTurn.subarray(60, novelty.longTurn.length - 60);
    const most = inside.indexOf(Math.max(...inside)) + 60;
    expect(Math.abs(most * novelty.hopSeconds - change)).toBeLessThan(0.12);
    expect(novelty.longTurn[most]!).toBeGreaterThan(2 * novelty.turn[most]!);
  });
});

describe('soft onsets', () => {
  it('are found where notes melt into each other, in order, and not within a steady note', () => {
    const starts = [0.8, 1.6, 2.4];
    const signal = pad(
      [261.6, 349.2, 293.7, 392].map((hz, index) => {
        const from = index === 0 ? -1 : starts[index - 1]! - 0.03;
        return [hz, from, (starts[index] ?? 9) + 0.03] as const;
      }),
      3.2,
    );
    const found = findSoftOnsets(measureTonalNovelty(signal, RATE), () => 0, 0.3).filter(
      ({ seconds }) => seconds > 0.2,
    );
    expect(found).toHaveLength(3);
    found.forEach(({ seconds, likelihood }, index) => {
      expect(Math.abs(seconds - starts[index]!)).toBeLessThan(0.06);
      expect(likelihood).toBeGreaterThan(0.3);
      expect(likelihood).toBeLessThanOrEqual(1);
    });
    const held = findSoftOnsets(measureTonalNovelty(pad([[330, -1, 9]], 3), RATE), () => 0, 0.3);
    expect(held.filter(({ seconds }) => seconds > 0.2)).toEqual([]);
  });
});
