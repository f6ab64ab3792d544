import { describe, expect, it } from 'vitest';
import { SongClock } from './song-clock.ts';

const RATE = 48_000;

describe('the song clock', () => {
  it('puts beats where they are worked out by hand', () => {
    // 60 / 120 s a beat at 48 kHz: 24,000 frames; a beat is 960 ticks.
    const clock = new SongClock(RATE, 120);
    expect([0, 960, 3840].map((ticks) => clock.frameAt(ticks))).toEqual([0, 24_000, 96_000]);
    expect(clock.ticksAt(12_000)).toBe(480);
    // At 93 a beat lasts 30,967.74 frames: to the nearest, never added up.
    const odd = new SongClock(RATE, 93);
    expect([1, 2, 3, 31].map((beat) => odd.frameAt(beat * 960))).toEqual([30_968, 61_935, 92_903, 960_000]);
  });

  it('goes on from where it is when the tempo changes, and comes back to the frame', () => {
    const clock = new SongClock(RATE, 120);
    clock.setTempo(60, 24_000);
    expect(clock.ticksAt(24_000)).toBe(960);
    expect(clock.frameAt(1920)).toBe(24_000 + 48_000);
    // The same tempo again moves nothing.
    clock.setTempo(60, 50_001);
    expect(clock.frameAt(1920)).toBe(72_000);
    clock.locate(1_000, -3840);
    expect(clock.frameAt(0)).toBe(1_000 + 4 * 48_000);
  });

  it('rounds so that every position has one frame, and every frame leads back to it', () => {
    for (const tempo of [20, 70.3, 136, 171, 400]) {
      const clock = new SongClock(44_100, tempo);
      for (let ticks = 0; ticks < 20_000; ticks += 37) {
        const frame = clock.frameAt(ticks);
        expect(Math.abs(clock.ticksAt(frame) - ticks)).toBeLessThanOrEqual((0.51 * tempo * 960) / (60 * 44_100));
        expect(clock.ticksRoundingTo(frame)).toBeLessThanOrEqual(ticks + 1e-9);
      }
    }
  });
});
