/** What steers a deal beside its reach: what stays, and how much chance may colour. */
import { percent } from './common-rows.ts';
import { choice, number, toggle, type SparseValues, type ValuesOf } from './row.ts';

/** Intervals that a strip may be put up or down by, in semitones; besides `free`, which is anything up to an octave. */
export const DEAL_INTERVALS = {
  octaves: [-12, 12],
  fifths: [-12, -7, -5, 5, 7, 12],
  pentatonic: [-12, -9, -7, -5, -2, 3, 5, 7, 10, 12],
  minor: [-12, -10, -9, -7, -5, -4, -2, 2, 3, 5, 7, 8, 10, 12],
  major: [-12, -10, -8, -7, -5, -3, -1, 2, 4, 5, 7, 9, 11, 12],
  any: [-12, -11, -10, -9, -8, -7, -6, -5, -4, -3, -2, -1, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12],
} as const;

/** Lengths of the stretches that may be exchanged, in ticks. */
export const DEAL_UNITS: Record<
  'sixteenth' | 'eighth' | 'beat' | 'half' | 'bar',
  (metre: { barTicks: number; beatTicks: number }) => number
> = {
  sixteenth: () => 240,
  eighth: () => 480,
  beat: ({ beatTicks }) => beatTicks,
  half: ({ barTicks }) => barTicks / 2,
  bar: ({ barTicks }) => barTicks,
};

export const DEAL_ROWS = {
  unit: choice({
    label: 'unit',
    hint: 'What changes places: the sounds of strips, in their rhythm; or whole stretches of time with all that is in them',
    choices: [
      { value: 'strip', words: 'strip by strip' },
      { value: 'sixteenth', words: 'sixteenths' },
      { value: 'eighth', words: 'eighths' },
      { value: 'beat', words: 'beats' },
      { value: 'half', words: 'half bars' },
      { value: 'bar', words: 'bars' },
    ],
    default: 'strip',
  }),
  sounds: choice({
    label: 'sounds',
    hint: 'Exchanged among the strips, or drawn anew: from all of the part by their weights, or by what tends to follow what',
    choices: [
      { value: 'exchanged', words: 'exchanged' },
      { value: 'any', words: 'any of the part' },
      { value: 'home', words: 'as the loop goes' },
      { value: 'starred', words: 'as starred hands go' },
    ],
    default: 'exchanged',
  }),
  admitsOthers: toggle({
    label: 'of other parts, too',
    hint: 'Where sounds are drawn: those of the other parts come in, each as a sound of this part on a key of its own',
    default: false,
  }),
  busyPercent: percent('busy', {
    hint: 'Above 0 so many of the free steps are divided in two, below so many give their time to the one before',
    min: -100,
    default: 0,
  }),
  keepsRoles: toggle({
    label: 'roles stay',
    hint: 'A snare is exchanged for a snare, a kick for a kick',
    default: false,
  }),
  keepsFirstBeats: toggle({
    label: 'first beats stay',
    hint: 'What is played on the first beat of each bar stays as it is',
    default: false,
  }),
  keepsFirstBar: toggle({ label: 'first bar stays', hint: 'The first bar stays as it is', default: false }),
  keepsLastBar: toggle({ label: 'last bar stays', hint: 'The last bar stays as it is', default: false }),
  keepsFeel: toggle({
    label: 'feel stays',
    hint: 'What moves to another place is early or late there as what was there before; else as it was itself',
    default: true,
  }),
  keepsKicks: toggle({ label: 'kicks stay', hint: 'Steps that play a kick stay as they are', default: false }),
  keepsSnares: toggle({ label: 'snares stay', hint: 'Steps that play a snare stay as they are', default: false }),
  silencePercent: percent('silence', { hint: 'How many of the free steps are silent', default: 0 }),
  backwardsPercent: percent('backwards', { hint: 'How many of the free steps are turned round', default: 0 }),
  repeatsPercent: percent('repeats', { hint: 'How many of the free steps are repeated', default: 0 }),
  mostRepeats: number({
    label: 'up to',
    hint: 'Repeats of a step: from two to so many',
    unit: 'times',
    min: 2,
    max: 16,
    default: 4,
    isWhole: true,
  }),
  repeatRates: choice({
    label: 'they go',
    hint: 'How the repeats of a step follow each other',
    choices: [
      { value: 'even', words: 'evenly' },
      { value: 'faster', words: 'faster and faster' },
      { value: 'slower', words: 'slower and slower' },
      { value: 'any', words: 'any of these' },
    ],
    default: 'even',
  }),
  pitchPercent: percent('pitch', { hint: 'How many of the free steps are put up or down', default: 0 }),
  intervals: choice({
    label: 'by',
    hint: 'What a step may be put up or down by',
    choices: [
      { value: 'octaves', words: 'octaves' },
      { value: 'fifths', words: 'fourths, fifths, octaves' },
      { value: 'pentatonic', words: 'steps of five' },
      { value: 'minor', words: 'steps of minor' },
      { value: 'major', words: 'steps of major' },
      { value: 'any', words: 'any semitones' },
      { value: 'free', words: 'any cents' },
    ],
    default: 'fifths',
  }),
  shortPercent: percent('cut short', { hint: 'How many of the free steps last half as long', default: 0 }),
  levelSpreadDb: number({
    label: 'level',
    hint: 'Each free step is louder or softer by so much at most',
    unit: 'dB',
    min: 0,
    max: 24,
    default: 0,
    digits: 1,
    step: 1,
  }),
  panSpread: percent('pan', {
    hint: 'Each free step lies to the left or right by so much at most',
    max: 1,
    scale: 100,
    default: 0,
  }),
};

export type DealValues = ValuesOf<typeof DEAL_ROWS>;
export type SparseDealValues = SparseValues<typeof DEAL_ROWS>;
