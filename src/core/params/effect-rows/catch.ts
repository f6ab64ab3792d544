import { decibels, noteValue, amount } from './common.ts';
import { choice, number } from '../row.ts';
import { SLOT_ROWS } from './slot.ts';

export const CATCH_ROWS = {
  ...SLOT_ROWS,
  caught: amount('catch', {
    hint: 'From half on, what sounded last comes again and again',
    default: 0,
    smoothingMs: 0,
    step: 100,
  }),
  length: noteValue('length', { default: '1/8' }),
  runs: choice({
    label: 'runs',
    choices: [
      { value: 'on', words: 'forwards' },
      { value: 'backwards', words: 'backwards' },
    ],
    default: 'on',
  }),
  speed: number({
    label: 'speed',
    unit: '%',
    scale: 100,
    min: 0.25,
    max: 1,
    default: 1,
    step: 5,
    movedBy: 0.75,
    smoothingMs: 6,
  }),
  fallDb: decibels('falls by', { hint: 'Each time round', min: 0, max: 12, default: 0 }),
};
