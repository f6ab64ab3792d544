import { choice, type Rows } from '../row.ts';
import { amount, decibels, milliseconds, noteValue } from './common.ts';
import { SLOT_ROWS } from './slot.ts';

export const GATE_STEPS = 16;
const steps = Object.fromEntries(
  Array.from({ length: GATE_STEPS }, (_, index) => [
    `step${index + 1}`,
    amount(`step ${index + 1}`, { default: index % 2 === 0 ? 1 : 0 }),
  ]),
) satisfies Rows;

export const GATE_ROWS = {
  ...SLOT_ROWS,
  opens: choice({
    label: 'opens',
    choices: [
      { value: 'level', words: 'by level' },
      { value: 'steps', words: 'in steps' },
    ],
    default: 'level',
  }),
  thresholdDb: decibels('opens at', { min: -80, max: 0, default: -36 }),
  attackMs: milliseconds('attack', { min: 0.1, max: 100, default: 1 }),
  holdMs: milliseconds('hold', { min: 1, max: 1000, default: 20 }),
  releaseMs: milliseconds('release', { min: 1, max: 2000, default: 60 }),
  floorDb: decibels('shut', { hint: 'How much of it is still heard', min: -80, max: 0, default: -80 }),
  stepNote: noteValue('a step is', { default: '1/16' }),
  ...steps,
};
