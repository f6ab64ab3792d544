import { percent } from '../common-rows.ts';
import { noteValue } from '../effect-rows/common.ts';
import { choice, number, slotsOf, toggle } from '../row.ts';

/** How it goes through the sounds. In the order of the choices of `order`. */
export const RUN_ORDERS = ['up', 'down', 'updown', 'inwards', 'outwards', 'played', 'random', 'each', 'walk'] as const;
export type RunOrder = (typeof RUN_ORDERS)[number];

const ORDER_WORDS: Readonly<Record<RunOrder, string>> = {
  up: 'up',
  down: 'down',
  updown: 'up and down',
  inwards: 'inwards',
  outwards: 'outwards',
  played: 'as played',
  random: 'at random',
  each: 'at random, each once',
  walk: 'a walk',
};

export const RUNNER_ROWS = {
  plays: choice({
    label: 'plays',
    hint: 'What lies under the keys that are held, or from one key on all keys that play something',
    choices: [
      { value: 'held', words: 'held keys' },
      { value: 'filled', words: 'all filled keys' },
    ],
    default: 'held',
  }),
  order: choice({
    label: 'order',
    choices: RUN_ORDERS.map((value) => ({ value, words: ORDER_WORDS[value] })),
    default: 'up',
  }),
  rate: noteValue('rate', { default: '1/16' }),
  gatePercent: number({
    label: 'gate',
    hint: 'How long each hit lasts, of its step',
    unit: '%',
    min: 1,
    max: 200,
    default: 100,
    step: 5,
    movedBy: 100,
  }),
  cuts: toggle({
    label: 'gate cuts',
    hint: 'What plays whole whatever its key does is cut by the gate, too; else it rings on',
    default: true,
  }),
  swingPercent: percent('swing', {
    hint: 'Where every second step sits in its pair: 50 is straight, 66.7 a triplet',
    min: 50,
    max: 75,
    default: 50,
    digits: 1,
    step: 0.5,
    movedBy: 25,
  }),
  restPercent: percent('rests', { hint: 'How often a step stays silent, by chance', default: 0, movedBy: 100 }),
  octaves: number({
    label: 'octaves',
    hint: 'Once more an octave up: on the keys there where a sound follows them, else by its pitch',
    min: 1,
    max: 4,
    default: 1,
    isWhole: true,
  }),
  hits: number({
    label: 'hits a note',
    hint: 'Each sound so often before the next',
    min: 1,
    max: 8,
    default: 1,
    isWhole: true,
  }),
  strength: choice({
    label: 'strength',
    choices: [
      { value: 'played', words: 'as played' },
      { value: 'fixed', words: 'fixed' },
      { value: 'drawn', words: 'drawn' },
    ],
    default: 'played',
  }),
  fixedStrength: number({ label: 'strength is', scale: 127, min: 0.01, max: 1, default: 0.8, step: 1 }),
  latched: toggle({
    label: 'latched',
    hint: 'Runs on when the keys are let go, until others are pressed',
    default: false,
  }),
  starts: choice({
    label: 'starts',
    hint: 'With the key, or where the bars of the song are: then it goes on there as if it had run all the time',
    choices: [
      { value: 'key', words: 'with the key' },
      { value: 'song', words: 'with the song' },
    ],
    default: 'key',
  }),
};
export const RUNNER = slotsOf(RUNNER_ROWS);
