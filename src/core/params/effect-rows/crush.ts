import { LEVEL_SMOOTHING_MS } from '../common-rows.ts';
import { number, toggle } from '../row.ts';
import { hertz } from './common.ts';
import { SLOT_ROWS } from './slot.ts';

export const CRUSH_ROWS = {
  ...SLOT_ROWS,
  bits: number({
    label: 'bits',
    hint: 'Steps of level, also between whole numbers of bits',
    min: 1,
    max: 16,
    default: 8,
    digits: 1,
    step: 0.5,
    smoothingMs: LEVEL_SMOOTHING_MS,
    movedBy: 15,
  }),
  rateHz: hertz('rate', { hint: 'How often the sound is looked at', min: 200, max: 48_000, default: 12_000 }),
  isSmooth: toggle({ label: 'smooth', hint: 'Straight lines between the looks, in place of steps', default: false }),
};
