/** How what is played on keys is recorded into a pattern. */
import { percent } from './common-rows.ts';
import { choice, number, toggle, type SparseValues, type ValuesOf } from './row.ts';

export const RECORD_ROWS = {
  manner: choice({
    label: 'what is there',
    hint: 'Stays beside what is played; or gives way, in each round from the first key on that is pressed',
    choices: [
      { value: 'overdub', words: 'stays' },
      { value: 'replace', words: 'gives way' },
    ],
    default: 'overdub',
  }),
  pullPercent: percent('draw to grid', {
    hint: 'How far what is played is moved to the grid of the pattern: 0 leaves it where it was played',
    default: 0,
  }),
  gridSwings: toggle({
    label: 'grid swings',
    hint: 'The grid goes along with the swing, groove and feel of the part; else it is straight',
    default: true,
  }),
  earlierMs: number({
    label: 'earlier by',
    hint: 'Takes back how late keys are heard, through slow headphones or a slow keyboard',
    unit: 'ms',
    min: 0,
    max: 500,
    default: 0,
  }),
};

export type RecordValues = ValuesOf<typeof RECORD_ROWS>;
export type SparseRecordValues = SparseValues<typeof RECORD_ROWS>;
