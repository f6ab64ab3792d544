/** Settings of a zone: how what is on a key answers it, and how it sounds. */
import { bend, gainDb, LEVEL_SMOOTHING_MS, pan, semitones, share, timeMs } from './common-rows.ts';
import { choice, number, toggle } from './row.ts';

/** Letters of the choke groups; 0 is none. */
export const CHOKE_LETTERS = ['A', 'B', 'C', 'D', 'E', 'F', 'G', 'H'] as const;

const ANSWER_ROWS = {
  gainDb: gainDb(LEVEL_SMOOTHING_MS),
  pan: pan(LEVEL_SMOOTHING_MS),
  tuneCents: semitones('tune', { min: -4800, max: 4800, movedBy: 1200 }),
  answer: choice({
    label: 'play',
    hint: 'To the end whatever the key does, only while it is held, or from one press to the next',
    choices: [
      { value: 'one-shot', words: 'whole' },
      { value: 'gate', words: 'while held' },
      { value: 'toggle', words: 'on and off' },
    ],
    default: 'one-shot',
  }),
  reverse: toggle({ label: 'backwards', default: false }),
  startOffsetMs: timeMs('start', {
    hint: 'Begins so much later in the sound: past the attack, for all chosen at once; or earlier',
    min: -2000,
    max: 10_000,
    default: 0,
    step: 1,
    movedBy: 200,
  }),
  endOffsetMs: timeMs('end', {
    hint: 'Ends so much later in the sound, or earlier',
    min: -10_000,
    max: 10_000,
    default: 0,
    step: 1,
  }),
  runsOn: toggle({
    label: 'to the end',
    hint: 'Plays on to the end of the whole sound, over the markers',
    default: false,
  }),
  loopMode: choice({
    label: 'loop',
    hint: 'Goes round inside the sound while the key is held',
    choices: [
      { value: 'off', words: 'none' },
      { value: 'forwards', words: 'forwards' },
      { value: 'both', words: 'there and back' },
    ],
    default: 'off',
  }),
  loopUntil: choice({
    label: 'round',
    hint: 'Once the key is let go: on to the end of the sound, or round until it has faded',
    choices: [
      { value: 'release', words: 'until let go' },
      { value: 'end', words: 'to the last' },
    ],
    default: 'release',
  }),
};

const LOOP_ROWS = {
  startsAt: choice({
    label: 'begins',
    hint: 'A whole loop on a key: when it begins, while the song runs',
    choices: [
      { value: 'now', words: 'at once' },
      { value: 'beat', words: 'at next beat' },
      { value: 'bar', words: 'at next bar' },
    ],
    default: 'now',
  }),
};

const VOICE_ROWS = {
  voices: number({
    label: 'voices',
    hint: 'How many of this sound at once; 0 is as many as there are',
    min: 0,
    max: 64,
    default: 0,
    isWhole: true,
  }),
  sameKey: choice({
    label: 'same key again',
    hint: 'While it still sounds',
    choices: [
      { value: 'layer', words: 'adds one' },
      { value: 'restart', words: 'starts anew' },
      { value: 'ignore', words: 'is ignored' },
    ],
    default: 'layer',
  }),
  chokeGroup: choice({
    label: 'choke',
    hint: 'Sounds of one group cut each other off',
    choices: [{ value: 0, words: 'none' }, ...CHOKE_LETTERS.map((words, place) => ({ value: place + 1, words }))],
    default: 0,
  }),
  turn: choice({
    label: 'on one key',
    hint: 'Of several sounds on one key and strength: all at once, one after another, or one by chance',
    choices: [
      { value: 'all', words: 'together' },
      { value: 'turn', words: 'in turn' },
      { value: 'random', words: 'by chance' },
    ],
    default: 'all',
  }),
  muted: toggle({ label: 'mute', default: false }),
  soloed: toggle({ label: 'solo', hint: 'Hear only soloed sounds of the part', default: false }),
};

const KEY_ROWS = {
  followsKey: toggle({ label: 'follows the key', hint: 'A key away from the root is a semitone away', default: true }),
  keepsLength: toggle({
    label: 'keeps its length',
    hint: 'Other keys change its pitch and not its length; they are worked out beforehand',
    default: false,
  }),
  randomCents: semitones('random', {
    hint: 'Each hit is off by chance, up or down, at most so much',
    min: 0,
    max: 2400,
    step: 0.05,
  }),
  velocityLaw: choice({
    label: 'strength',
    hint: 'How the strength of a press becomes level',
    choices: [
      { value: 'square', words: 'natural' },
      { value: 'linear', words: 'even' },
      { value: 'soft', words: 'gentle' },
    ],
    default: 'square',
  }),
  velocityShare: share('of it', {
    hint: 'How much the strength counts for the level; 0 is always at full',
    default: 1,
  }),
  fixedVelocity: number({
    label: 'fixed',
    hint: 'Every press counts as this strong; 0 is as it was struck',
    min: 0,
    max: 127,
    default: 0,
    isWhole: true,
  }),
  velocityCutoffCents: semitones('cutoff', {
    hint: 'A soft press closes the filter by so much',
    min: -9600,
    max: 9600,
  }),
  velocityStartMs: timeMs('start', { hint: 'A soft press begins so much later in the sound', max: 500, default: 0 }),
  velocityAttackMs: timeMs('attack', { hint: 'A soft press rises so much slower', max: 500, default: 0 }),
};

const LEVEL_ROWS = {
  delayMs: timeMs('delay', { hint: 'Waits before it sounds', max: 5000, default: 0 }),
  attackMs: timeMs('attack', { max: 2000, default: 0, step: 1, movedBy: 500 }),
  holdMs: timeMs('hold', { hint: 'Stays at its loudest', max: 5000, default: 0, digits: 0 }),
  decayMs: timeMs('decay', { max: 10_000, default: 0, step: 10, digits: 0, movedBy: 2000 }),
  sustain: share('sustain', { hint: 'Level after the decay', default: 1, movedBy: 1 }),
  releaseMs: timeMs('release', { min: 1, max: 5000, default: 5, digits: 0, movedBy: 2000 }),
  attackBend: bend('attack bend', 'Straight at 0; quick at first above, slow at first below'),
  decayBend: bend('decay bend', 'Straight at 0; quick at first above, slow at first below'),
  releaseBend: bend('release bend', 'Straight at 0; quick at first above, slow at first below'),
};

const FILTER_ROWS = {
  filter: choice({
    label: 'filter',
    choices: [
      { value: 'off', words: 'off' },
      { value: 'low', words: 'low pass' },
      // With the cutoff of a low pass that is open they would let nothing through.
      { value: 'high', words: 'high pass', brings: { cutoffHz: 150 } },
      { value: 'band', words: 'band pass', brings: { cutoffHz: 1000 } },
      { value: 'notch', words: 'notch', brings: { cutoffHz: 1000 } },
    ],
    default: 'off',
  }),
  slope: choice({
    label: 'slope',
    hint: 'How steep it falls, in an octave',
    choices: [
      { value: 12, words: '12 dB' },
      { value: 24, words: '24 dB' },
    ],
    default: 12,
  }),
  cutoffHz: number({
    label: 'cutoff',
    unit: 'Hz',
    min: 20,
    max: 20_000,
    default: 20_000,
    curve: 'logarithmic',
    smoothingMs: LEVEL_SMOOTHING_MS,
    movedBy: 4800,
  }),
  resonance: share('resonance', {
    hint: '0 is flat (Butterworth)',
    default: 0,
    smoothingMs: LEVEL_SMOOTHING_MS,
    movedBy: 1,
  }),
  driveDb: number({
    label: 'drive',
    hint: 'Pushes the sound into a soft limit before the filter',
    unit: 'dB',
    min: 0,
    max: 36,
    default: 0,
    digits: 1,
    step: 0.5,
    smoothingMs: LEVEL_SMOOTHING_MS,
    movedBy: 24,
  }),
  cutoffKeyShare: share('by key', {
    hint: 'How far the cutoff goes along with the key: 100% keeps the tone alike',
    min: -1,
    max: 1,
    default: 0,
  }),
};

const DEAL_ROWS = {
  dealWeight: number({
    label: 'weight',
    hint: 'How often it comes when sounds are drawn, against others; 0 leaves it out of dealing',
    min: 0,
    max: 8,
    default: 1,
    digits: 1,
    step: 0.5,
  }),
};

/** How a sound is shaped: what Shape shows, and takes over from one to all. */
export const SHAPE_ROWS = { ...LEVEL_ROWS, ...FILTER_ROWS };

export const ZONE_ROWS = {
  ...ANSWER_ROWS,
  ...LOOP_ROWS,
  ...VOICE_ROWS,
  ...KEY_ROWS,
  ...LEVEL_ROWS,
  ...FILTER_ROWS,
  ...DEAL_ROWS,
};
