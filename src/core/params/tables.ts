/**
 * THE table of settings, by who owns them. A new setting is a row here; a new kind of effect or modulator brings rows of
 * its own (see effects.ts and modulators.ts).
 */
import { gainDb, LEVEL_SMOOTHING_MS, pan, percent, semitones, share } from './common-rows.ts';
import { PITCH_CLASSES } from './chords.ts';
import { choice, number, toggle, type SparseValues, type ValuesOf } from './row.ts';
import { CLICK_SOUNDS, FEEL_STEPS, FOLLOWS, MATERIALS, TAILS } from './choices.ts';
import { ZONE_ROWS } from './zone-rows.ts';

export { ZONE_ROWS };

export const SONG_ROWS = {
  tempoBpm: number({ label: 'tempo', unit: 'bpm', min: 20, max: 400, default: 100, digits: 2 }),
  beatsPerBar: number({
    label: 'metre',
    hint: 'How many quarter notes a bar has',
    unit: 'quarters',
    min: 1,
    max: 16,
    default: 4,
    digits: 1,
    step: 0.5,
    multipleOf: 0.5,
  }),
  swingPercent: number({
    label: 'swing',
    hint: 'Where every second sixteenth sits in its pair: 50 is straight, 66.7 a triplet',
    unit: '%',
    min: 50,
    max: 75,
    default: 50,
    digits: 1,
    step: 0.5,
  }),
  rootNote: choice({
    label: 'root',
    hint: 'Parts can be fitted to it',
    choices: [
      { value: -1, words: 'not said' },
      ...PITCH_CLASSES.map((words, value) => ({ value, words: words as string })),
    ],
    default: -1,
  }),
  clickOn: toggle({ label: 'click', default: false }),
  clickGainDb: { ...gainDb(0), label: 'click level', default: -12, movedBy: 0 },
  clickSound: choice({
    label: 'click is a',
    choices: CLICK_SOUNDS.map((value) => ({ value, words: value as string })),
    default: 'tick',
  }),
  countInBars: choice({
    label: 'count-in',
    choices: [
      { value: 0, words: 'none' },
      { value: 1, words: '1 bar' },
      { value: 2, words: '2 bars' },
      { value: 3, words: '3 bars' },
      { value: 4, words: '4 bars' },
    ],
    default: 0,
  }),
  changesAt: choice({
    label: 'changes',
    hint: 'While the song runs: when another pattern, or another hand of it, takes over',
    choices: [
      { value: 'now', words: 'at once' },
      { value: 'beat', words: 'at next beat' },
      { value: 'bar', words: 'at next bar' },
      { value: 'round', words: 'at its end' },
    ],
    default: 'bar',
  }),
};

export const PART_ROWS = {
  startKey: number({
    label: 'from key',
    hint: 'Key of the first slice; the others follow on consecutive keys',
    min: 0,
    max: 127,
    default: 48,
    isWhole: true,
    isNote: true,
  }),
  oneAtATime: toggle({
    label: 'one at a time',
    hint: 'A new slice cuts the last one off, with a short fade',
    default: true,
  }),
  stopFadeMs: number({
    label: 'stop fade',
    hint: 'How long a slice that is cut off fades',
    unit: 'ms',
    min: 1,
    max: 50,
    default: 3,
    digits: 1,
  }),
  voices: number({
    label: 'voices',
    hint: 'How many sounds of the part at once, the oldest makes room; 0 is as many as there are',
    min: 0,
    max: 64,
    default: 0,
    isWhole: true,
  }),
  glideMs: number({
    label: 'glide',
    hint: 'One at a time: the pitch slides from the last note to the next; by rate, for an octave',
    unit: 'ms',
    min: 0,
    max: 5000,
    default: 0,
    step: 10,
  }),
  glideBy: choice({
    label: 'glide takes',
    choices: [
      { value: 'time', words: 'as long' },
      { value: 'rate', words: 'by distance' },
    ],
    default: 'time',
  }),
  glideWhen: choice({
    label: 'glides',
    hint: 'Always, or only while the key before is still held',
    choices: [
      { value: 'always', words: 'always' },
      { value: 'legato', words: 'if held' },
    ],
    default: 'always',
  }),
  bendCents: semitones('bend', {
    hint: 'How far the pitch wheel bends, up and down',
    min: 0,
    max: 2400,
    default: 200,
    digits: 0,
  }),
  transposeCents: semitones('transpose', {
    hint: 'It changes no timing, however the part follows',
    min: -4800,
    max: 4800,
  }),
  transposeAt: choice({
    label: 'is heard',
    hint: 'When a change of transposition is heard',
    choices: [
      { value: 'now', words: 'at once' },
      { value: 'bar', words: 'at next bar' },
    ],
    default: 'now',
  }),
  startOffsetTicks: number({
    label: 'start offset',
    hint: "Later (or earlier) than the song's first bar line",
    unit: 'beats',
    scale: 1 / 960,
    min: -61440,
    max: 61440,
    default: 0,
    digits: 2,
    step: 0.25,
  }),
  feelPercent: percent('feel', {
    hint: "100% keeps the loop's own timing, 0% sits on the grid; dashed lines in the pattern show what is heard",
    default: 100,
  }),
  feelStep: choice({
    label: 'its grid',
    hint: 'What its feel is measured on: found when the loop is read; strips snap to it until another grid is chosen',
    choices: FEEL_STEPS,
    default: 'sixteenths',
  }),
  groovePercent: percent('of it', { hint: "How far timing and accents go towards the groove's", default: 100 }),
  ringOver: toggle({
    label: 'tails ring over',
    hint: 'Tails ring into the next round of the pattern, or are cut at its end',
    default: true,
  }),
};

export const CUT_ROWS = {
  follow: choice({
    label: 'follows',
    hint: "How the part keeps the song's tempo",
    choices: FOLLOWS,
    default: 'slices',
  }),
  tail: choice({
    label: 'if slower',
    hint: 'What fills the gap after a slice when the song is slower than the loop',
    choices: TAILS,
    default: 'ring',
  }),
  material: choice({
    label: 'sound is',
    hint: 'Drums, notes and chords, or both at once: decides how long a stretch is looked at, and how much of an attack stays untouched',
    choices: MATERIALS.map((value) => ({ value, words: value === 'mixes' ? 'full mixes' : (value as string) })),
    default: 'mixes',
  }),
  method: choice({
    label: 'cut',
    hint: 'How the boundaries are found; locked and hand-made markers stay',
    choices: [
      { value: 'hits', words: 'at hits' },
      { value: 'grid', words: 'on a grid' },
      { value: 'equal', words: 'in equal parts' },
      { value: 'pitch', words: 'at notes' },
      { value: 'taps', words: 'by tapping' },
      { value: 'file', words: 'from the file' },
    ],
    default: 'hits',
  }),
  sensitivity: share('sensitivity', {
    hint: 'The higher, the more hits: the water line below',
    default: 0.5,
    step: 1,
  }),
  minGapMs: number({
    label: 'least gap',
    hint: 'Of hits nearer than this the stronger one stays',
    unit: 'ms',
    min: 0,
    max: 2000,
    default: 18,
  }),
  gridPullPercent: percent('pull to grid', { hint: 'How far hits near a grid line are moved onto it', default: 0 }),
  stepTicks: number({ label: 'step', hint: 'Step of the grid', unit: 'ticks', min: 15, max: 15360, default: 240 }),
  swingPercent: number({
    label: 'swing',
    hint: 'Place of every second line in its pair: 50 is straight, 67 a triplet',
    unit: '%',
    min: 50,
    max: 75,
    default: 50,
  }),
  count: number({ label: 'parts', hint: 'How many equal parts', min: 1, max: 4096, default: 16, isWhole: true }),
  minLengthMs: number({
    label: 'shortest note',
    hint: 'Shorter notes are joined to the one before',
    unit: 'ms',
    min: 0,
    max: 2000,
    default: 60,
    step: 5,
  }),
  tapWindowMs: number({
    label: 'back to an attack within',
    hint: '0 leaves a tap exactly where it fell',
    unit: 'ms',
    min: 0,
    max: 500,
    default: 60,
    step: 5,
  }),
};

export const CHANNEL_ROWS = {
  gainDb: gainDb(LEVEL_SMOOTHING_MS),
  pan: pan(LEVEL_SMOOTHING_MS),
  muted: toggle({ label: 'mute', default: false }),
  soloed: toggle({ label: 'solo', hint: 'Hear only soloed parts', default: false }),
  chainWet: share('whole chain', {
    hint: 'How much of the sound goes through the chain of effects; the rest passes by',
    default: 1,
    smoothingMs: LEVEL_SMOOTHING_MS,
    movedBy: 1,
  }),
  chain: choice({
    label: 'chain',
    choices: [
      { value: 'on', words: 'on' },
      { value: 'off', words: 'off' },
      { value: 'compared', words: 'off, as loud' },
    ],
    default: 'on',
  }),
};

export const EVENT_ROWS = {
  velocity: number({ label: 'velocity', scale: 127, min: 0, max: 1, default: 1 }),
  reverse: toggle({ label: 'backwards', default: false }),
  repeats: number({
    label: 'repeats',
    hint: 'How often the slice starts within the length',
    min: 1,
    max: 32,
    default: 1,
    isWhole: true,
  }),
  repeatPull: number({
    label: 'draw together',
    hint: 'How the repeats go: even at 0, faster and faster above, slower and slower below',
    unit: '%',
    scale: 100,
    min: -1,
    max: 1,
    default: 0,
    step: 10,
  }),
  repeatGainDb: number({
    label: 'rise in level',
    hint: 'How much louder the last repeat is than the first',
    unit: 'dB',
    min: -24,
    max: 24,
    default: 0,
    digits: 1,
    step: 1,
  }),
  repeatCents: semitones('rise in pitch', {
    hint: 'How much higher the last repeat is than the first',
    min: -2400,
    max: 2400,
  }),
  everyRounds: number({
    label: 'once in',
    hint: 'Heard in the last of so many rounds of the pattern, and silent in the others',
    unit: 'rounds',
    min: 1,
    max: 64,
    default: 1,
    isWhole: true,
  }),
  hold: toggle({ label: 'hold', hint: 'Stays as it is when the pattern is dealt again', default: false }),
  onKey: toggle({
    label: 'plays its key',
    hint: 'All that lies on the key of its sound answers, by strength, in turns or by chance, as when a hand presses it; else this sound alone',
    default: false,
  }),
  pastHelpers: toggle({
    label: 'past the helpers',
    hint: 'It presses its key itself, and not by way of chord, runner and echoes: so is what they played, written down',
    default: false,
  }),
  tuneCents: { ...ZONE_ROWS.tuneCents, movedBy: 0 },
  gainDb: { ...gainDb(0), movedBy: 0 },
  pan: { ...pan(0), movedBy: 0 },
  chancePercent: percent('chance', { hint: 'How often it is heard, of all rounds', default: 100 }),
};

/** A copy of a channel's signal into another one. */
export const SEND_ROWS = {
  gainDb: gainDb(LEVEL_SMOOTHING_MS),
  tap: choice({
    label: 'taken',
    hint: 'After the level of its channel, or before it: then it stays when the channel is turned down',
    choices: [
      { value: 'after', words: 'after its level' },
      { value: 'before', words: 'before its level' },
    ],
    default: 'after',
  }),
};

export type SongValues = ValuesOf<typeof SONG_ROWS>;
export type PartValues = ValuesOf<typeof PART_ROWS>;
export type CutValues = ValuesOf<typeof CUT_ROWS>;
export type ZoneValues = ValuesOf<typeof ZONE_ROWS>;
export type ChannelValues = ValuesOf<typeof CHANNEL_ROWS>;
export type EventValues = ValuesOf<typeof EVENT_ROWS>;
export type SparseEventValues = SparseValues<typeof EVENT_ROWS>;
