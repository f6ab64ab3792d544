import { describe, expect, it } from 'vitest';
import { midiToHz } from '../units/pitch.ts';
import { measurePitch } from './pitch.ts';

const RATE = 44_100;

/** Tones of some partials each, with their levels, for half a second. */
function tones(notes: readonly number[], partials: readonly number[]): Float32Array {
  return Float32Array.from({ length: RATE / 2 }, (_, i) => {
    let sum = 0;
    for (const note of notes) {
      for (const [place, level] of partials.entries())
        sum += level * Math.sin((2 * Math.PI * midiToHz(note) * (place + 1) * i) / RATE + note);
    }
    return (0.2 * sum) / notes.length;
  });
}
const pitchOf = (signal: Float32Array) => measurePitch(signal, RATE, 0, signal.length);

describe('a chord has no pitch of its own', () => {
  // In just intonation a major triad is 4:5:6, with the seventh 4:5:6:7: its common period is two octaves below (handbooks of acoustics).
  it.each([
    ['major triad', [52, 56, 59]],
    ['dominant seventh chord', [52, 56, 59, 62]],
    ['major triad, first inversion', [56, 59, 64]],
  ])('%s', (_, notes) => {
    expect(pitchOf(tones(notes, [1, 0.2]))).toBeNull();
  });

  // An open triad is 2:3:4:5, partials of a note an octave below it; those that no tone has a part in are away.
  it('open major triad, whose tones have many partials and beat', () => {
    const partials = Array.from({ length: 12 }, (_, i) => 1 / (i + 1));
    expect(pitchOf(tones([45, 52.02, 57.03, 61], partials))).toBeNull();
  });
});

describe('a note keeps its pitch', () => {
  it.each([
    ['with a full spectrum', 40, [1, 0.5, 0.33, 0.25, 0.2, 0.17]],
    ['without its first partial', 33, [0, 1, 0.7, 0.5, 0.4, 0.3, 0.2]],
    ['with a weak first partial', 65, [0.2, 0.3, 0.1, 0.3, 0.2, 1, 0.9, 0.1]],
    ['of a sine', 69, [1]],
  ])('%s', (_, note, partials) => {
    expect(pitchOf(tones([note], partials))!.midi).toBe(note);
  });
});
