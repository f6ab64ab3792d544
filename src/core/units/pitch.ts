/** Pitch: MIDI notes, frequencies in Hz, semitones and cents, in equal temperament with A4 = 440 Hz. */

/** Names of the twelve notes, C first. */
export const NOTE_NAMES = ['C', 'C#', 'D', 'D#', 'E', 'F', 'F#', 'G', 'G#', 'A', 'A#', 'B'] as const;

/** Frequency in Hz of a MIDI note (69 = A4, fractions allowed): `440 * 2^((note-69)/12)`. */
export function midiToHz(note: number): number {
  return 440 * 2 ** ((note - 69) / 12);
}

/** MIDI note (fractional) of a frequency in Hz: the inverse of {@link midiToHz}. */
export function hzToMidi(hz: number): number {
  return 69 + 12 * Math.log2(hz / 440);
}

/**
 * Playing speed that transposes by semitones and cents: `2^((semitones + cents/100)/12)`, in single precision (within
 * 0.0001 cents): engines differ in the last bit of a power, and what a browser renders is to be what a server renders.
 */
export function transposeRatio(semitones: number, cents = 0): number {
  return Math.fround(2 ** ((semitones + cents / 100) / 12));
}

/**
 * Name of a MIDI note number.
 * @param note whole number 0..127
 * @param middleOctave the octave number that note 60 carries: 4 by default, 3 in some studios
 */
export function noteName(note: number, middleOctave = 4): string {
  const octave = Math.floor(note / 12) - 5 + middleOctave;
  return `${NOTE_NAMES[((note % 12) + 12) % 12]}${octave}`;
}

/** Is the key of this MIDI note a black one? */
export function isBlackKey(note: number): boolean {
  return [1, 3, 6, 8, 10].includes(((note % 12) + 12) % 12);
}
