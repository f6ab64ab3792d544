import { percent, semitones } from '../common-rows.ts';
import { noteValue } from '../effect-rows/common.ts';
import { choice, number, slotsOf, toggle } from '../row.ts';

export const ECHOES_ROWS = {
  count: number({
    label: 'echoes',
    hint: 'How many of each note',
    unit: '×',
    min: 1,
    max: 32,
    default: 3,
    isWhole: true,
  }),
  endless: toggle({ label: 'endless', hint: 'Until they are too soft to be heard, or the song stops', default: false }),
  rate: noteValue('rate', { default: '1/8d' }),
  fallPercent: percent('fall', { hint: 'By how much each is weaker than the one before', default: 35, movedBy: 100 }),
  shiftCents: semitones('shift', {
    hint: 'By how much each is higher than the one before',
    min: -1200,
    max: 1200,
    movedBy: 1200,
  }),
  gatePercent: number({
    label: 'gate',
    hint: 'How long each lasts, of the time to the next',
    unit: '%',
    min: 1,
    max: 200,
    default: 100,
    step: 5,
    movedBy: 100,
  }),
  until: choice({
    label: 'last',
    hint: 'Whether letting the key go ends them',
    choices: [
      { value: 'over', words: 'to their end' },
      { value: 'held', words: 'while held' },
    ],
    default: 'over',
  }),
};
export const ECHOES = slotsOf(ECHOES_ROWS);
