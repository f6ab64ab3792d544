import { LEVEL_SMOOTHING_MS } from '../common-rows.ts';
import { choice, number } from '../row.ts';
import { amount } from './common.ts';
import { SLOT_ROWS } from './slot.ts';

const further = (label: string, semitone: number) =>
  number({
    label,
    hint: 'Above the first; 0 is none',
    unit: 'st',
    min: -24,
    max: 24,
    default: semitone,
    isWhole: true,
    movedBy: 24,
  });

export const COMB_ROWS = {
  ...SLOT_ROWS,
  wet: { ...SLOT_ROWS.wet, default: 0.5 },
  tunedTo: choice({
    label: 'tuned to',
    hint: 'Keys: the one that was pressed last, of its own part or of the one that it listens to',
    choices: [
      { value: 'note', words: 'a note' },
      { value: 'root', words: 'the root' },
      { value: 'keys', words: 'keys' },
    ],
    default: 'note',
  }),
  note: number({
    label: 'note',
    min: 0,
    max: 127,
    default: 48,
    isWhole: true,
    isNote: true,
    movedBy: 48,
    smoothingMs: LEVEL_SMOOTHING_MS,
  }),
  glideMs: number({ label: 'glide', unit: 'ms', min: 0, max: 2000, default: 0, step: 10 }),
  decaySeconds: number({
    label: 'decay',
    hint: 'Until it is 60 dB softer',
    unit: 's',
    min: 0.02,
    max: 30,
    default: 1.5,
    digits: 2,
    step: 0.1,
    curve: 'logarithmic',
    movedBy: 4800,
    smoothingMs: LEVEL_SMOOTHING_MS,
  }),
  sign: choice({
    label: 'comes back',
    choices: [
      { value: 'up', words: 'as it is' },
      { value: 'down', words: 'turned over' },
    ],
    default: 'up',
  }),
  brightness: amount('brightness', { default: 0.7 }),
  second: further('second', 0),
  third: further('third', 0),
  fourth: further('fourth', 0),
};
