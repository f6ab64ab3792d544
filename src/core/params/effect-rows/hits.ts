import { decibels, milliseconds } from './common.ts';
import { SLOT_ROWS } from './slot.ts';

export const HITS_ROWS = {
  ...SLOT_ROWS,
  attackDb: decibels('attack', {
    hint: 'More or less of how hits begin, however loud they are',
    min: -24,
    max: 24,
    default: 6,
  }),
  bodyDb: decibels('body', { hint: 'More or less of what rings after', min: -24, max: 24, default: 0 }),
  attackMs: milliseconds('attack lasts', { min: 1, max: 100, default: 15 }),
  gainDb: decibels('level', { min: -24, max: 12, default: 0 }),
};
