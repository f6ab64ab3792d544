/** How a slice is taken apart: no settings of a document, but of the work at hand. */
import { gainDb, percent, timeMs } from './common-rows.ts';
import { choice, toggle, type ValuesOf } from './row.ts';

export const APART_ROWS = {
  softEdgePercent: percent('soft edge', {
    hint: 'At 0 each place belongs to one layer alone; further up both share what lies near the border',
    default: 30,
  }),
  attacks: choice({
    label: 'attacks',
    hint: 'Where both begin: each as loud as it is, of what both have there; or what one has of it is missing in the other',
    choices: [
      { value: 'both', words: 'to both' },
      { value: 'shared', words: 'shared' },
    ],
    default: 'both',
  }),
  ringPercent: percent('take out', { hint: 'How much of the ring of the hit before goes', default: 0 }),
  ringFromMs: timeMs('from', { hint: 'The ring stays before this', default: 0, max: 2000 }),
  ringUntilMs: timeMs('until', { hint: 'The ring stays after this', default: 8000, max: 8000, step: 10 }),
  leavesLow: toggle({ label: 'leave low notes', hint: 'What lies below 150 Hz stays', default: false }),
};
export type ApartValues = ValuesOf<typeof APART_ROWS>;

/** Of a layer. */
export const LAYER_ROWS = { gainDb: gainDb(0) };
