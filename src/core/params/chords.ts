/**
 * Named chords and scales as semitones above their root, in close position. The names and intervals are those of common
 * practice; what is above the octave stands there (9 is 14, 11 is 17, 13 is 21).
 */
/** The twelve, from C up. */
export const PITCH_CLASSES = ['C', 'C#', 'D', 'D#', 'E', 'F', 'F#', 'G', 'G#', 'A', 'A#', 'B'] as const;

export interface ChordName {
  value: string;
  words: string;
  intervals: readonly number[];
}

export const CHORDS: readonly ChordName[] = [
  { value: 'octave', words: 'octave', intervals: [0, 12] },
  { value: '5', words: 'fifth', intervals: [0, 7] },
  { value: 'major', words: 'major', intervals: [0, 4, 7] },
  { value: 'minor', words: 'minor', intervals: [0, 3, 7] },
  { value: 'dim', words: 'diminished', intervals: [0, 3, 6] },
  { value: 'aug', words: 'augmented', intervals: [0, 4, 8] },
  { value: 'sus2', words: 'sus 2', intervals: [0, 2, 7] },
  { value: 'sus4', words: 'sus 4', intervals: [0, 5, 7] },
  { value: '6', words: 'major 6th', intervals: [0, 4, 7, 9] },
  { value: 'm6', words: 'minor 6th', intervals: [0, 3, 7, 9] },
  { value: '69', words: 'six nine', intervals: [0, 4, 7, 9, 14] },
  { value: 'add9', words: 'major add 9', intervals: [0, 4, 7, 14] },
  { value: 'madd9', words: 'minor add 9', intervals: [0, 3, 7, 14] },
  { value: 'maj7', words: 'major 7th', intervals: [0, 4, 7, 11] },
  { value: '7', words: 'dominant 7th', intervals: [0, 4, 7, 10] },
  { value: 'm7', words: 'minor 7th', intervals: [0, 3, 7, 10] },
  { value: 'mMaj7', words: 'minor major 7th', intervals: [0, 3, 7, 11] },
  { value: 'm7b5', words: 'half diminished', intervals: [0, 3, 6, 10] },
  { value: 'dim7', words: 'diminished 7th', intervals: [0, 3, 6, 9] },
  { value: '7sus4', words: '7th sus 4', intervals: [0, 5, 7, 10] },
  { value: 'maj9', words: 'major 9th', intervals: [0, 4, 7, 11, 14] },
  { value: '9', words: 'dominant 9th', intervals: [0, 4, 7, 10, 14] },
  { value: 'm9', words: 'minor 9th', intervals: [0, 3, 7, 10, 14] },
  { value: '11', words: '11th', intervals: [0, 7, 10, 14, 17] },
  { value: 'm11', words: 'minor 11th', intervals: [0, 3, 7, 10, 14, 17] },
  { value: 'maj13', words: 'major 13th', intervals: [0, 4, 7, 11, 14, 21] },
  { value: '13', words: 'dominant 13th', intervals: [0, 4, 7, 10, 14, 21] },
  { value: 'm13', words: 'minor 13th', intervals: [0, 3, 7, 10, 14, 21] },
];
/** Chosen beside the named ones: the intervals that a chord keeps itself. */
export const OWN_CHORD = 'own';

export interface ScaleName {
  value: string;
  words: string;
  /** Pitch classes above the root. */
  steps: readonly number[];
}

export const SCALES: readonly ScaleName[] = [
  { value: 'major', words: 'major', steps: [0, 2, 4, 5, 7, 9, 11] },
  { value: 'minor', words: 'minor', steps: [0, 2, 3, 5, 7, 8, 10] },
  { value: 'harmonic minor', words: 'harmonic minor', steps: [0, 2, 3, 5, 7, 8, 11] },
  { value: 'melodic minor', words: 'melodic minor', steps: [0, 2, 3, 5, 7, 9, 11] },
  { value: 'dorian', words: 'dorian', steps: [0, 2, 3, 5, 7, 9, 10] },
  { value: 'phrygian', words: 'phrygian', steps: [0, 1, 3, 5, 7, 8, 10] },
  { value: 'lydian', words: 'lydian', steps: [0, 2, 4, 6, 7, 9, 11] },
  { value: 'mixolydian', words: 'mixolydian', steps: [0, 2, 4, 5, 7, 9, 10] },
  { value: 'locrian', words: 'locrian', steps: [0, 1, 3, 5, 6, 8, 10] },
  { value: 'major pentatonic', words: 'major pentatonic', steps: [0, 2, 4, 7, 9] },
  { value: 'minor pentatonic', words: 'minor pentatonic', steps: [0, 3, 5, 7, 10] },
  { value: 'minor blues', words: 'blues', steps: [0, 3, 5, 6, 7, 10] },
  { value: 'whole tone', words: 'whole tone', steps: [0, 2, 4, 6, 8, 10] },
];
