import { timeMs } from '../common-rows.ts';
import { CHORDS, OWN_CHORD, PITCH_CLASSES, SCALES } from '../chords.ts';
import { choice, slotsOf } from '../row.ts';

export const CHORD_ROWS = {
  chord: choice({
    label: 'chord',
    hint: 'Above the key that is pressed; own intervals are clicked on the keyboard of its card',
    choices: [...CHORDS.map(({ value, words }) => ({ value, words })), { value: OWN_CHORD, words: 'own intervals' }],
    default: 'minor',
  }),
  heldTo: choice({
    label: 'held to',
    hint: 'Each note goes to the nearest key that plays something, to the nearest of a scale, or stays where it is',
    choices: [
      { value: 'filled', words: 'filled keys' },
      { value: 'scale', words: 'a scale' },
      { value: 'free', words: 'free' },
    ],
    default: 'filled',
  }),
  scale: choice({
    label: 'scale',
    choices: SCALES.map(({ value, words }) => ({ value, words })),
    default: 'minor',
  }),
  scaleRoot: choice({
    label: 'scale on',
    hint: 'By the root of the song it is C where that is not said',
    choices: [{ value: -1, words: 'the song’s root' }, ...PITCH_CLASSES.map((words, value) => ({ value, words }))],
    default: -1,
  }),
  strumMs: timeMs('strum', {
    hint: 'Each note comes so much after the one before',
    max: 500,
    default: 0,
    movedBy: 100,
  }),
  strums: choice({
    label: 'strums',
    choices: [
      { value: 'up', words: 'upwards' },
      { value: 'down', words: 'downwards' },
    ],
    default: 'up',
  }),
};
export const CHORD = slotsOf(CHORD_ROWS);
