import { number } from '../row.ts';
import { decibels, hertz, milliseconds } from './common.ts';
import { SLOT_ROWS } from './slot.ts';

export const COMPRESSOR_ROWS = {
  ...SLOT_ROWS,
  thresholdDb: decibels('threshold', { min: -60, max: 0, default: -18 }),
  ratio: number({
    label: 'ratio',
    unit: ': 1',
    min: 1,
    max: 50,
    default: 4,
    digits: 1,
    step: 0.5,
    curve: 'logarithmic',
    movedBy: 2400,
    smoothingMs: 6,
  }),
  kneeDb: decibels('knee', { hint: 'How wide the bend is', min: 0, max: 24, default: 6 }),
  attackMs: milliseconds('attack', { min: 0.05, max: 300, default: 8 }),
  releaseMs: milliseconds('release', { min: 5, max: 3000, default: 120 }),
  makeUpDb: decibels('make-up', { min: 0, max: 24, default: 0 }),
  sideHz: hertz('side low cut', { hint: 'Bass below it does not press', max: 2000, default: 20 }),
};
