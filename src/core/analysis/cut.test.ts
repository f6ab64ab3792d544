import { describe, expect, it } from 'vitest';
import { burstLoop, sine } from '../../../tests/support/signals.ts';
import { analyseSource } from './analyse-source.ts';
import { cutAtCues, cutAtHits, cutByPitch, cutEqually, cutOnGrid, pullToGrid } from './cut.ts';
import { ALIKE_WITHIN } from './alike.ts';
import { likenessMatrix } from './likeness.ts';
import { readRootNote } from './root-note.ts';
import { DEFAULT_SELECTION } from './select-onsets.ts';
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
    const markers = cutEqually(analysis, 16);
    expect(markers).toHaveLength(16);
    markers.forEach(({ frame }, index) => expect(Math.abs(frame - (index * 88_200) / 16)).toBeLessThan(0.001 * RATE));
    expect(() => cutEqually(analysis, 0)).toThrow(/count is 0/);
    expect(() => cutEqually(analysis, 10_000)).toThrow(RangeError);
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

describe('grids with swing, pulls and places from the file', () => {
  const analysis = analyseSource({ sampleRate: RATE, channels: [sine(3000, 2)] });
  const grid = { stepTicks: 240, tempoBpm: 120, startFrame: 0, endFrame: 88_200 };

  it('put every second line at the swing’s share of its pair', () => {
    // At 120 bpm a sixteenth is 5512.5 frames; two thirds of a pair are 7350 (common practice: triplet swing).
    const swung = cutOnGrid(analysis, { ...grid, swingPercent: 66.667 }).map(({ frame }) => frame);
    expect(Math.abs(swung[1]! - 7350)).toBeLessThan(50);
    expect(Math.abs(swung[2]! - 11_025)).toBeLessThan(50);
  });

  it('pull hits that lie near a line, by as much as asked, and leave the others', () => {
    const markers = [0, 5812, 8300, 11_025].map((frame) => ({ frame, strength: 1 }));
    const frames = (percent: number) => pullToGrid(markers, grid, RATE, percent).map(({ frame }) => frame);
    expect(frames(0)).toEqual([0, 5812, 8300, 11_025]);
    expect(frames(50)).toEqual([0, 5662, 8300, 11_025]);
    expect(frames(100)).toEqual([0, 5513, 8300, 11_025]);
  });

  it('take what the file names, in order and inside the sound', () => {
    expect(cutAtCues([500, 100, 100, 99_999], 1000).map(({ frame }) => frame)).toEqual([0, 100, 500]);
    expect(cutAtCues([], 1000)).toHaveLength(1);
  });
});

describe('soft onsets', () => {
  it('are found where chords melt into each other without a hit', () => {
    const chords = [
      [57, 60, 64],
      [53, 57, 60],
      [55, 59, 62],
      [50, 57, 65],
    ];
    const each = Math.round(1.2 * RATE);
    const out = new Float32Array(each * chords.length);
    chords.forEach((chord, index) => {
      for (let i = 0; i < each * 1.15 && index * each + i < out.length; i++) {
        const level = Math.min(1, i / (0.06 * RATE)) * Math.min(1, Math.max(0, (each * 1.15 - i) / (0.15 * each)));
        for (const note of chord) {
          for (const harmonic of [1, 2, 3, 4]) {
            out[index * each + i]! +=
              ((0.12 * level) / harmonic) * Math.sin((2 * Math.PI * midiToHz(note) * harmonic * i) / RATE);
          }
        }
      }
    });
    const markers = cutAtHits(analyseSource({ sampleRate: RATE, channels: [out] }), DEFAULT_SELECTION).map(
      ({ frame }) => frame,
    );
    for (let index = 0; index < chords.length; index++) {
      expect(markers.some((frame) => Math.abs(frame - index * each) < 0.09 * RATE)).toBe(true);
    }
    expect(markers.length).toBeLessThanOrEqual(chords.length + 1);
  });
});

describe('likeness', () => {
  it('brings the same sound together at any level and keeps others apart', () => {
    const loop = burstLoop(88_200, [0, 22_050], RATE, 1);
    const quiet = loop.channels[0]!;
    for (let i = 22_050; i < 44_100; i++) quiet[i]! *= 0.3;
    quiet.set(
      sine(80, 0.4).map((sample, i) => 0.5 * sample * Math.exp(-i / 4000)),
      44_100,
    );
    const ranges = [0, 22_050, 44_100].map((startFrame) => ({ startFrame, endFrame: startFrame + 20_000 }));
    const rows = likenessMatrix(analyseSource(loop), ranges);
    expect(rows[0]![0]).toBe(0);
    expect(rows[0]![1]).toBeLessThan(ALIKE_WITHIN);
    expect(rows[0]![2]).toBeGreaterThan(2 * ALIKE_WITHIN);
    expect(rows[1]![2]).toBe(rows[2]![1]);
  });
});

describe('root notes', () => {
  it('are read from whole sounds, silence around them left out, and absent in noise', () => {
    const note = new Float32Array(RATE);
    note.set(
      sine(midiToHz(57), 0.6).map((sample, i) => sample * Math.exp(-i / 20_000)),
      8000,
    );
    expect(readRootNote(note, RATE)).toMatchObject({ midi: 57 });
    expect(Math.abs(readRootNote(note, RATE)!.cents)).toBeLessThan(3);
    expect(readRootNote(burstLoop(RATE, [0], RATE, 1).channels[0]!, RATE)).toBeNull();
    expect(readRootNote(new Float32Array(1000), RATE)).toBeNull();
  });
});
