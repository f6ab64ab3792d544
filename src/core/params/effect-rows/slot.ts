/** What the place of every effect has, before the effect's own. */
import { amount } from './common.ts';

export const SLOT_ROWS = {
  wet: amount('wet', { hint: 'How much of the sound goes through it; the rest passes by', default: 1 }),
};
