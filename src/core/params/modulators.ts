/** Settings of the modulators, by kind, and of their ways to what they move. */
import { bend, LEVEL_SMOOTHING_MS, share, timeMs } from './common-rows.ts';
import { choice, number, slotsOf, toggle, type Rows } from './row.ts';

/** Note values as lengths in quarters, longest first: straight, dotted (times 1.5) and triplets (times 2/3). */
export const NOTE_RATES: readonly { value: string; words: string; quarters: number }[] = [
  // Several whole notes: bars, in common time.
  ...[16, 8, 4, 2].map((wholes) => ({ value: `${wholes}/1`, words: `${wholes}/1`, quarters: 4 * wholes })),
  ...[1, 2, 4, 8, 16, 32, 64].flatMap((divisor) => {
    const quarters = 4 / divisor;
    return [
      { value: `1/${divisor}d`, words: `1/${divisor} dotted`, quarters: quarters * 1.5 },
      { value: `1/${divisor}`, words: `1/${divisor}`, quarters },
      { value: `1/${divisor}t`, words: `1/${divisor} triplet`, quarters: (quarters * 2) / 3 },
    ];
  }),
];

const rateRows = {
  rateBy: choice({
    label: 'rate in',
    choices: [
      { value: 'hertz', words: 'Hz' },
      { value: 'notes', words: 'notes' },
    ],
    default: 'hertz',
  }),
  rateHz: number({
    label: 'rate',
    unit: 'Hz',
    min: 0.01,
    max: 50,
    default: 2,
    digits: 2,
    curve: 'logarithmic',
    movedBy: 4800,
  }),
  rateNote: choice({
    label: 'note',
    hint: 'How long one round lasts, by the tempo of the song',
    choices: NOTE_RATES.map(({ value, words }) => ({ value, words })),
    default: '1/4',
  }),
  restarts: toggle({ label: 'restarts', hint: 'With every hit; or runs freely with the song', default: true }),
};

export const LFO_ROWS = {
  wave: choice({
    label: 'wave',
    choices: [
      { value: 'sine', words: 'sine' },
      { value: 'triangle', words: 'triangle' },
      { value: 'saw', words: 'saw' },
      { value: 'square', words: 'pulse' },
      { value: 'stepped', words: 'random steps' },
      { value: 'smooth', words: 'random, smooth' },
    ],
    default: 'sine',
  }),
  ...rateRows,
  phase: number({ label: 'phase', unit: '°', scale: 360, min: 0, max: 1, default: 0, step: 15, movedBy: 1 }),
  symmetry: share('symmetry', {
    hint: 'Where in its round a saw turns: at its end, or earlier',
    default: 1,
    movedBy: 1,
  }),
  width: share('width', {
    hint: 'How much of its round a pulse is up',
    min: 0.01,
    max: 0.99,
    default: 0.5,
    movedBy: 0.5,
  }),
};

export const ENVELOPE_ROWS = {
  delayMs: timeMs('delay', { max: 5000, default: 0, digits: 0 }),
  attackMs: timeMs('attack', { max: 5000, default: 0, digits: 0, movedBy: 1000 }),
  holdMs: timeMs('hold', { max: 5000, default: 0, digits: 0 }),
  decayMs: timeMs('decay', { max: 10_000, default: 200, digits: 0, movedBy: 2000 }),
  sustain: share('sustain', { default: 0, movedBy: 1 }),
  releaseMs: timeMs('release', { max: 10_000, default: 200, digits: 0, movedBy: 2000 }),
};

/** A row of steps, and a curve through points: both go round at a rate, or once. */
const ROUND_ROWS = {
  ...rateRows,
  isOnce: toggle({ label: 'once', hint: 'Stays at its end instead of going round', default: false }),
  smooth: share('smooth', { hint: 'How much of each step slides to the next', default: 0, movedBy: 1 }),
};

const CONTROLLER_ROWS = {
  controller: number({
    label: 'controller',
    hint: 'Its number; 1 is the modulation wheel',
    min: 0,
    max: 127,
    default: 1,
    isWhole: true,
  }),
};

/** A dial of the project that moves whatever is put on it. */
const MACRO_ROWS = {
  position: share('position', { default: 0, smoothingMs: 20, movedBy: 1 }),
};

/** A course over a pattern. */
const LANE_ROWS = {
  isOn: toggle({ label: 'on', default: true }),
};

export const MODULATOR_ROWS = {
  lfo: LFO_ROWS,
  envelope: ENVELOPE_ROWS,
  steps: ROUND_ROWS,
  curve: ROUND_ROWS,
  velocity: {},
  key: {},
  random: {},
  controller: CONTROLLER_ROWS,
  bend: {},
  pressure: {},
  macro: MACRO_ROWS,
  lane: LANE_ROWS,
} as const satisfies Record<string, Rows>;
/** Places of the values, as the engine has them. */
export const LFO = slotsOf(LFO_ROWS);
export const ENVELOPE = slotsOf(ENVELOPE_ROWS);
export const ROUND = slotsOf(ROUND_ROWS);
export const CONTROLLER_SLOT = slotsOf(CONTROLLER_ROWS).controller;
export const MACRO_POSITION = slotsOf(MACRO_ROWS).position;
export const LANE_ON = slotsOf(LANE_ROWS).isOn;
export type ModulatorKind = keyof typeof MODULATOR_ROWS;
export const MODULATOR_KINDS = Object.keys(MODULATOR_ROWS) as ModulatorKind[];

/** What is worked out once for all sounds: a macro belongs to the song, a lane to a pattern. */
export type SharedKind = 'macro' | 'lane';
export function isShared(kind: ModulatorKind): kind is SharedKind {
  return kind === 'macro' || kind === 'lane';
}
/** What a zone or a part may have of its own. */
export const OWN_KINDS = MODULATOR_KINDS.filter((kind) => !isShared(kind));
/** Whom macros belong to. */
export const SONG_OWNER = 'song';

/** What a modulator is called. */
export const MODULATOR_WORDS: Readonly<Record<ModulatorKind, string>> = {
  lfo: 'wave',
  envelope: 'envelope',
  steps: 'steps',
  curve: 'curve',
  velocity: 'strength',
  key: 'key',
  random: 'chance',
  controller: 'controller',
  bend: 'pitch wheel',
  pressure: 'pressure',
  macro: 'macro',
  lane: 'lane',
};

/** Amounts go up to so many times the whole of what a row is moved by. */
export const MAX_AMOUNT = 4;

/** So many times what a setting is moved by. */
const way = (label: string, hint: string) =>
  number({
    label,
    hint,
    min: -MAX_AMOUNT,
    max: MAX_AMOUNT,
    default: 0,
    digits: 2,
    step: 0.05,
    smoothingMs: LEVEL_SMOOTHING_MS,
    movedBy: 1,
  });

/** How a source moves a setting. */
export const ROUTE_ROWS = {
  amount: way('amount', 'At 1 by the whole of what the setting is moved by; below 0 the other way'),
  bend: bend('bend', 'Even at 0; the beginning of its way counts for more above, the end of it below'),
  offset: way('begins', 'By so much where its source is at 0'),
  least: share('not below', { hint: 'Further down than this it does not go', min: -1, max: 1, default: -1 }),
  most: share('not above', { hint: 'Further up than this it does not go', min: -1, max: 1, default: 1 }),
};
export const ROUTE = slotsOf(ROUTE_ROWS);

/**
 * Whose settings can be moved beside those of the sounds that a modulator belongs to. `zone` without an id: those sounds;
 * with one: a single sound; `sounds`: all sounds of the part of an id.
 */
export const TARGET_KINDS = [
  'zone',
  'sounds',
  'modulator',
  'route',
  'channel',
  'effect',
  'send',
  'double',
  'helper',
] as const;
export type TargetKind = (typeof TARGET_KINDS)[number];
