import { describe, expect, it } from 'vitest';
import {
  countedBeats,
  formatBarsBeats,
  formatSeconds,
  framesPerTick,
  loopLengthFrames,
  loopTempoBpm,
  METRES,
  metreWords,
  nearestBars,
  secondsToFrames,
} from './time.ts';

describe('frames and ticks', () => {
  // Worked by hand: a beat at T bpm lasts 60 / T seconds.
  it.each([
    [960, 120, 44100, 22050],
    [960, 60, 48000, 48000],
    [3840, 100, 44100, 105840],
    [240, 90, 44100, 7350],
    [160, 150, 48000, 3200],
  ])('%i ticks at %f bpm and %i Hz last %f frames', (ticks, bpm, rate, frames) => {
    expect(ticks * framesPerTick(bpm, rate)).toBeCloseTo(frames, 6);
  });

  it('rounds seconds to the nearest frame', () => {
    expect(secondsToFrames(0.5, 44100)).toBe(22050);
    expect(secondsToFrames(1 / 3, 48000)).toBe(16000);
  });
});

describe('loop length and tempo', () => {
  it.each([
    [1, 4, 120, 44100, 88200],
    [2, 4, 100, 44100, 211680],
    [2, 3, 90, 48000, 192000],
    [4, 4, 174, 44100, 243310.345],
  ])('%i bars of %i at %f bpm and %i Hz are %f frames', (bars, beats, bpm, rate, frames) => {
    expect(loopLengthFrames(bars, beats, bpm, rate)).toBeCloseTo(frames, 2);
    expect(loopTempoBpm(bars, beats, loopLengthFrames(bars, beats, bpm, rate), rate)).toBeCloseTo(bpm, 9);
  });

  it.each([
    [4, 120, 2],
    [4.1, 120, 2],
    [4, 240, 4],
    [4, 93, 2],
    [4, 60, 1],
    [0.2, 60, 1],
  ])('%f seconds at %f bpm are nearest to %i bars of 4/4', (seconds, bpm, bars) => {
    expect(nearestBars(seconds * 44100, 4, bpm, 44100)).toBe(bars);
  });

  it('refuses an empty loop', () => {
    expect(() => loopTempoBpm(1, 4, 0, 44100)).toThrow(RangeError);
  });
});

describe('places in words', () => {
  it('counts bars and beats from 1', () => {
    expect(formatBarsBeats(0, 4)).toBe('1.1.000');
    expect(formatBarsBeats(3840 + 48, 4)).toBe('2.1.048');
    expect(formatBarsBeats(3 * 960 * 2 + 960, 3)).toBe('3.2.000');
    expect(formatSeconds(64.25)).toBe('1:04.250');
  });

  it('counts eighths where a bar has an odd number of them (common practice)', () => {
    expect([3.5, 2.5, 3, 4, 6].map(metreWords)).toEqual(['7/8', '5/8', '3/4 6/8', '4/4', '6/4 12/8']);
    expect(countedBeats(3.5)).toBe(7);
    expect(countedBeats(4)).toBe(4);
    // The last eighth of the second bar of 7/8, and the bar line after it.
    expect(formatBarsBeats(13 * 480 + 7, 3.5)).toBe('2.7.007');
    expect(formatBarsBeats(14 * 480, 3.5)).toBe('3.1.000');
    // Two bars of 7/8 at 140 quarters a minute last 7 x 60 / 140 = 3 seconds.
    expect(loopTempoBpm(2, 3.5, 3 * 44100, 44100)).toBeCloseTo(140, 9);
    expect(new Set(METRES.map(({ words }) => words)).size).toBe(METRES.length);
  });
});
