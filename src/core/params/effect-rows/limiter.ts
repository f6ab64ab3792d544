import { decibels, milliseconds } from './common.ts';
import { SLOT_ROWS } from './slot.ts';

export const LIMITER_ROWS = {
  ...SLOT_ROWS,
  inputDb: decibels('push', { hint: 'How much louder it goes in', min: 0, max: 24, default: 0 }),
  ceilingDb: decibels('ceiling', {
    hint: 'True peak: what plays it back goes no higher',
    min: -24,
    max: 0,
    default: -1,
  }),
  releaseMs: milliseconds('release', { min: 5, max: 1000, default: 80 }),
};
