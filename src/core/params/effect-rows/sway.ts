import { choice, number } from '../row.ts';
import { amount, noteValue } from './common.ts';
import { SLOT_ROWS } from './slot.ts';

export const SWAY_ROWS = {
  ...SLOT_ROWS,
  wet: { ...SLOT_ROWS.wet, default: 0.5 },
  way: choice({
    label: 'way',
    choices: [
      { value: 'chorus', words: 'chorus' },
      { value: 'flanger', words: 'flanger' },
      { value: 'phaser', words: 'phaser' },
    ],
    default: 'chorus',
  }),
  depth: amount('depth', { default: 0.5 }),
  rateIn: choice({
    label: 'rate in',
    choices: [
      { value: 'notes', words: 'notes' },
      { value: 'hertz', words: 'Hz' },
    ],
    default: 'hertz',
  }),
  rateHz: number({
    label: 'rate',
    unit: 'Hz',
    min: 0.01,
    max: 20,
    default: 0.6,
    digits: 2,
    step: 0.1,
    curve: 'logarithmic',
    movedBy: 4800,
  }),
  rateNote: noteValue('a round is', { default: '1/1' }),
  voices: number({ label: 'voices', min: 1, max: 6, default: 2, isWhole: true }),
  feedback: amount('feedback', { min: -0.95, max: 0.95, default: 0 }),
  spread: amount('sides apart', { hint: 'How far the sides are from each other in the round', default: 0.5 }),
};
