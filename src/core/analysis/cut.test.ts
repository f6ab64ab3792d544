import { describe, expect, it } from 'vitest';
import { burstLoop, sine } from '../../../tests/support/signals.ts';
import { analyseSource } from './analyse-source.ts';
import { cutAtHits, cutByPitch, cutInParts, cutOnGrid } from './cut.ts';
import { DEFAULT_SELECTION } from './detect-onsets.ts';
import { measurePitch } from './pitch.ts';
import { nearestZeroCrossing, zeroCrossingBefore } from './snap.ts';
import { midiToHz } from '../units/pitch.ts';

const RATE = 44100;

describe('zero crossings', () => {
  const wave = sine(441, 0.1);
  it('lie before the frame, rising if there is a choice', () => {
    const at = zeroCrossingBefore(wave, 250, 110);
    expect(at).toBeLessThanOrEqual(250);
    expect(wave[at - 1]! < 0 && wave[at]! >= -1e-6).toBe(true);
  });
  it('are the nearest on either side', () => {
    expect(Math.abs(nearestZeroCrossing(wave, 148, 30) - 150)).toBeLessThanOrEqual(1);
    expect(nearestZeroCrossing(wave, 0, 30)).toBe(0);
  });
  it('are the quietest place where nothing crosses', () => {
    const slope = Float32Array.from({ length: 100 }, (_, i) => 0.5 - i * 0.001);
    expect(nearestZeroCrossing(slope, 50, 10)).toBe(60);
  });
});

describe('equal parts and grids', () => {
  const analysis = analyseSource({ sampleRate: RATE, channels: [sine(3000, 2)] });

  it('divide the loop to within a millisecond', () => {
    const markers = cutInParts(analysis, 16);
    expect(markers).toHaveLength(16);
    markers.forEach(({ frame }, index) => expect(Math.abs(frame - (index * 88_200) / 16)).toBeLessThan(0.001 * RATE));
    expect(() => cutInParts(analysis, 0)).toThrow(/count is 0/);
    expect(() => cutInParts(analysis, 10_000)).toThrow(RangeError);
  });

  it('follow the tempo, from the first bar line on', () => {
    const grid = { stepTicks: 240, tempoBpm: 120, startFrame: 1000, endFrame: 88_200 };
    const markers = cutOnGrid(analysis, grid);
    expect(markers).toHaveLength(16);
    markers.forEach(({ frame }, index) => expect(Math.abs(frame - 1000 - index * 5512.5)).toBeLessThan(50));
    expect(() => cutOnGrid(analysis, { ...grid, stepTicks: 0 })).toThrow(RangeError);
  });
});

describe('cutting at hits', () => {
  it('keeps what sounds before the first hit as a slice of its own', () => {
    const loop = burstLoop(88_200, [30_000, 60_000]);
    const hum = sine(110, 2).map((sample) => sample * 0.1);
    for (const channel of loop.channels) for (let i = 0; i < 30_000; i++) channel[i]! += hum[i]!;
    expect(cutAtHits(analyseSource(loop), DEFAULT_SELECTION)[0]!.frame).toBe(0);
    const silent = cutAtHits(analyseSource(burstLoop(88_200, [30_000, 60_000])), DEFAULT_SELECTION);
    expect(Math.abs(silent[0]!.frame - 30_000)).toBeLessThan(50);
  });
});

describe('cutting by pitch', () => {
  it('finds every note of a chromatic run that never stops sounding', () => {
    const notes = Array.from({ length: 13 }, (_, i) => 57 + i);
    const each = Math.round(0.25 * RATE);
    const run = new Float32Array(each * notes.length);
    let phase = 0;
    notes.forEach((note, index) => {
      for (let i = 0; i < each; i++) {
        phase += (2 * Math.PI * midiToHz(note)) / RATE;
        run[index * each + i] = 0.4 * Math.sin(phase) + 0.2 * Math.sin(2 * phase);
      }
    });
    const markers = cutByPitch(analyseSource({ sampleRate: RATE, channels: [run] }), { minLengthMs: 60 });
    expect(markers).toHaveLength(notes.length);
    markers.forEach(({ frame }, index) => expect(Math.abs(frame - index * each)).toBeLessThan(0.03 * RATE));
  });
});

describe('pitch', () => {
  it.each([40, 52, 60, 69, 76, 84])('of note %i is right to 3 cents', (note) => {
    const pitch = measurePitch(sine(midiToHz(note + 0.2), 0.5), RATE, 0, RATE / 2)!;
    expect(pitch.midi).toBe(note);
    expect(Math.abs(pitch.cents - 20)).toBeLessThan(3);
  });

  it('is none for noise', () => {
    const noise = burstLoop(22_050, [0]).channels[0]!;
    expect(measurePitch(noise, RATE, 0, 8000)).toBeNull();
  });
});
