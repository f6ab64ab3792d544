import { amount, hertz } from './common.ts';
import { SLOT_ROWS } from './slot.ts';

export const WIDTH_ROWS = {
  ...SLOT_ROWS,
  width: amount('width', { hint: '0 is one place, 100 as it was', max: 2, default: 1.3 }),
  monoBelowHz: hertz('one place below', { hint: 'Bass below it comes from the middle', max: 1000, default: 20 }),
};
