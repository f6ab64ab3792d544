import { choice } from '../row.ts';
import { amount, decibels } from './common.ts';
import { SLOT_ROWS } from './slot.ts';

/** Most paths side by side. */
export const MOST_PATHS = 4;
/** At this level nothing of a path is heard. */
export const NOTHING_DB = -60;

const level = (path: number, defaultDb: number) =>
  decibels(`level ${path}`, {
    hint: 'At the lowest nothing of this path is heard',
    min: NOTHING_DB,
    max: 12,
    default: defaultDb,
  });

export const PATHS_ROWS = {
  ...SLOT_ROWS,
  count: choice({
    label: 'paths',
    choices: [2, 3, 4].map((value) => ({ value, words: `${value}` })),
    default: 2,
  }),
  joins: choice({
    label: 'they join',
    hint: 'All at their levels, or one that gives way to the next as “which” is turned',
    choices: [
      { value: 'together', words: 'all together' },
      { value: 'turns', words: 'one after another' },
    ],
    default: 'together',
  }),
  which: amount('which', { hint: '0 is the first path, 100 the last; between two both sound', default: 0 }),
  level1: level(1, 0),
  level2: level(2, -12),
  level3: level(3, -12),
  level4: level(4, -12),
};
