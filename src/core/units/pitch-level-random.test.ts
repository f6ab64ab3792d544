import { describe, expect, it } from 'vitest';
import { dbToGain, gainToDb, panLeftGain, panRightGain, velocityToGain } from './level.ts';
import { hzToMidi, isBlackKey, midiToHz, noteName, transposeRatio } from './pitch.ts';
import { seededRandom, shuffled } from './random.ts';

describe('pitch', () => {
  // Equal temperament, A4 = 440 Hz (ISO 16): the table as printed in handbooks, to a hundredth of a hertz.
  it.each([
    [21, 27.5],
    [36, 65.41],
    [48, 130.81],
    [57, 220],
    [60, 261.63],
    [61, 277.18],
    [64, 329.63],
    [69, 440],
    [72, 523.25],
    [81, 880],
    [108, 4186.01],
  ])('note %i sounds at %f Hz', (note, hz) => {
    expect(midiToHz(note)).toBeCloseTo(hz, 2);
    expect(hzToMidi(hz)).toBeCloseTo(note, 2);
  });

  it('transposes by the same numbers in every engine: single precision, a ten thousandth of a cent at most away', () => {
    for (let cents = -4800; cents <= 4800; cents += 37) {
      const ratio = transposeRatio(0, cents);
      expect(Math.fround(ratio)).toBe(ratio);
      expect(Math.abs(1200 * Math.log2(ratio) - cents)).toBeLessThan(1.1e-4);
    }
  });

  it('names note 60 middle C (MIDI 1.0), as C4 by default and C3 where the studio wants it', () => {
    expect(noteName(60)).toBe('C4');
    expect(noteName(60, 3)).toBe('C3');
    expect(noteName(69)).toBe('A4');
    expect(noteName(0)).toBe('C-1');
    expect([60, 61, 62, 63, 64, 65, 66, 67, 68, 69, 70, 71].filter(isBlackKey)).toEqual([61, 63, 66, 68, 70]);
  });

  // General MIDI Level 1, percussion key map (MIDI Manufacturers Association, 1991), with note 60 as C4.
  it.each([
    ['bass drum 1', 36, 'C2'],
    ['acoustic snare', 38, 'D2'],
    ['closed hi-hat', 42, 'F#2'],
    ['open hi-hat', 46, 'A#2'],
    ['crash cymbal 1', 49, 'C#3'],
    ['ride cymbal 1', 51, 'D#3'],
  ])('%s, note %i, is named %s', (_sound, note, name) => {
    expect(noteName(note)).toBe(name);
  });

  it('transposes by the semitone table', () => {
    expect(transposeRatio(12)).toBe(2);
    expect(transposeRatio(-12)).toBe(0.5);
    expect(transposeRatio(7)).toBeCloseTo(1.498307, 6);
    expect(transposeRatio(0, 100)).toBeCloseTo(1.059463, 6);
  });
});

describe('level', () => {
  it('turns decibels into amplitude', () => {
    expect(dbToGain(-6.0206)).toBeCloseTo(0.5, 5);
    expect(dbToGain(20)).toBeCloseTo(10, 9);
    expect(gainToDb(0)).toBe(-Infinity);
  });

  it('leaves the centre alone and silences the far side', () => {
    const panGains = (pan: number) => [panLeftGain(pan), panRightGain(pan)] as const;
    expect(panGains(0)).toEqual([1, 1]);
    expect(panGains(-1)).toEqual([1, 0]);
    expect(panGains(1)).toEqual([0, 1]);
    expect(panGains(0.5)[0]).toBeCloseTo(Math.SQRT1_2, 9);
  });

  it('squares velocities by default', () => {
    expect(velocityToGain(0.5)).toBe(0.25);
    expect(velocityToGain(0.5, 'linear')).toBe(0.5);
    expect(velocityToGain(0.1, 'none')).toBe(1);
  });
});

describe('seeded random numbers', () => {
  it('repeat for a seed, differ between seeds and fill the unit evenly', () => {
    const draw = (seed: number, count: number) => {
      const random = seededRandom(seed);
      return Array.from({ length: count }, random);
    };
    expect(draw(5, 4)).toEqual(draw(5, 4));
    expect(draw(5, 4)).not.toEqual(draw(6, 4));
    const many = draw(1, 20_000);
    expect(many.every((value) => value >= 0 && value < 1)).toBe(true);
    expect(many.reduce((sum, value) => sum + value, 0) / many.length).toBeCloseTo(0.5, 2);
  });

  it('shuffle without losing or doubling anything, every order about as often', () => {
    const counts = new Map<string, number>();
    for (let seed = 0; seed < 6000; seed++) {
      const order = shuffled(['a', 'b', 'c'], seededRandom(seed)).join('');
      counts.set(order, (counts.get(order) ?? 0) + 1);
    }
    expect(counts.size).toBe(6);
    for (const count of counts.values()) expect(Math.abs(count - 1000)).toBeLessThan(150);
  });
});
