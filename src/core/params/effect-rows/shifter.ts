import { choice, number } from '../row.ts';
import { amount, milliseconds } from './common.ts';
import { SLOT_ROWS } from './slot.ts';

export const SHIFTER_ROWS = {
  ...SLOT_ROWS,
  shiftHz: number({
    label: 'shift',
    hint: 'All frequencies by as many Hz: below 1 Hz it drifts, far up it rings like metal',
    unit: 'Hz',
    min: -2000,
    max: 2000,
    default: 80,
    digits: 2,
    step: 1,
    smoothingMs: 6,
    movedBy: 2000,
  }),
  sides: choice({
    label: 'sides',
    choices: [
      { value: 'alike', words: 'alike' },
      { value: 'apart', words: 'one up, one down' },
    ],
    default: 'alike',
  }),
  feedback: amount('feedback', { max: 0.95, default: 0 }),
  delayMs: milliseconds('comes back after', { min: 1, max: 500, default: 20 }),
};
