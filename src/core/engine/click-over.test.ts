import { describe, expect, it } from 'vitest';
import { clickOver } from './click-over.ts';
import { CLICK_SOUNDS, clickTick } from './click.ts';

const RATE = 44100;

describe('the click over a loop', () => {
  it('stands on its beats, by the tempo of the reading, and leaves the source alone', () => {
    const silence = { sampleRate: RATE, channels: [new Float32Array(100_000)] };
    const loop = { startFrame: 5_000, endFrame: 93_200, bars: 1, beatsPerBar: 4 };
    const { channels } = clickOver(silence, loop, 'tick', 0.5);
    expect(channels[0]!.length).toBe(88_200);
    for (let beat = 0; beat < 4; beat++) {
      const at = beat * 22_050;
      const peak = (from: number, to: number) => Math.max(...channels[0]!.subarray(from, to).map(Math.abs));
      expect(peak(at, at + 200)).toBeGreaterThan(0.2);
      expect(peak(at + 2_000, at + 22_050)).toBe(0);
    }
    // The first of the bar sounds unlike the others.
    expect(channels[0]!.slice(0, 500)).not.toEqual(channels[0]!.slice(22_050, 22_550));
    expect(silence.channels[0]!.every((sample) => sample === 0)).toBe(true);
  });

  it.each(CLICK_SOUNDS)(
    'as a %s begins at zero or dies away within 30 ms, and is never louder than full scale',
    (sound) => {
      for (const isBar of [false, true]) {
        const tick = clickTick(sound, isBar, RATE);
        expect(tick.length).toBe(Math.round(0.03 * RATE));
        expect(Math.max(...tick.map(Math.abs))).toBeLessThanOrEqual(1);
        expect(Math.abs(tick.at(-1)!)).toBeLessThan(0.001);
      }
    },
  );
});
