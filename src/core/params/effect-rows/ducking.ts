import { bend } from '../common-rows.ts';
import { choice } from '../row.ts';
import { decibels, milliseconds } from './common.ts';
import { SLOT_ROWS } from './slot.ts';

export const DUCKING_ROWS = {
  ...SLOT_ROWS,
  by: choice({
    label: 'goes by',
    hint: 'Notes are exact to the frame; the level also knows what comes in from outside',
    choices: [
      { value: 'notes', words: 'notes' },
      { value: 'level', words: 'level' },
    ],
    default: 'notes',
  }),
  under: choice({
    label: 'under',
    hint: 'Which of its sounds it gives way to',
    choices: [
      { value: 'all', words: 'all hits' },
      { value: 'kicks', words: 'kicks' },
      { value: 'snares', words: 'snares' },
      { value: 'hats', words: 'hats' },
      { value: 'keys', words: 'keys' },
    ],
    default: 'all',
  }),
  depthDb: decibels('depth', { min: -60, max: 0, default: -9 }),
  downMs: milliseconds('down in', { min: 0.1, max: 100, default: 2 }),
  holdMs: milliseconds('hold', { min: 0.1, max: 1000, default: 30 }),
  returnMs: milliseconds('return', { min: 1, max: 3000, default: 220 }),
  bend: bend('bend', 'How it comes back: quick at first above 0, slow at first below'),
  thresholdDb: decibels('level above', { hint: 'Where it goes by level', min: -60, max: 0, default: -24 }),
};
