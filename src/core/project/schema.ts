/**
 * The document: everything of a project that is saved and can be undone. Plain JSON, never mutated; tables are records
 * by id, order is in arrays of ids. `docs/project-file.md` describes it for other programs.
 */
import { z } from 'zod';
import { ROLES } from '../analysis/roles.ts';
import { CLICK_SOUNDS } from '../engine/click.ts';
import { MATERIALS } from '../stretch/materials.ts';
import { MAX_TEMPO_BPM, MIN_TEMPO_BPM, MOST_BEATS_A_BAR } from '../units/time.ts';

export const SCHEMA_VERSION = 2;

/** The pattern id that stands for the home pattern, which is computed from the cut and never stored. */
export const HOME = 'home';

const id = z.string().regex(/^[\w-]{1,64}$/);
const name = z.string().max(200);
/** Quarter notes a bar; a half where it has an odd number of eighths. */
const beatsPerBar = z.number().multipleOf(0.5).min(1).max(MOST_BEATS_A_BAR);
const frame = z.number().int().min(0);
const unit = z.number().min(0).max(1);
const gainDb = z.number().min(-60).max(12);
const pan = z.number().min(-1).max(1);

/** How a slice sounds when it is played. */
export const sliceSound = z.strictObject({
  gainDb,
  pan,
  tuneCents: z.number().min(-4800).max(4800),
  /** `whole` plays to the slice's end whatever the key does; `held` stops when the key is let go. */
  play: z.enum(['whole', 'held']),
  reverse: z.boolean(),
  attackMs: z.number().min(0).max(2000),
  decayMs: z.number().min(0).max(10000),
  sustain: unit,
  releaseMs: z.number().min(1).max(5000),
});
export type SliceSound = z.infer<typeof sliceSound>;

export const slice = z.strictObject({
  id,
  startFrame: frame,
  /** Null: up to the next slice. */
  endFrame: frame.nullable(),
  /** Empty: named after its role. */
  name,
  role: z.enum(ROLES),
  roleConfidence: unit,
  roleByHand: z.boolean(),
  /** Strength of the hit at its start, 0..1. */
  strength: unit,
  /** `hand` for markers that were set or moved by hand: finding again keeps them. */
  origin: z.enum(['found', 'hand']),
  locked: z.boolean(),
  brightnessHz: z.number().min(0),
  midi: z.number().int().min(0).max(127).nullable(),
  cents: z.number().min(-50).max(50).nullable(),
  sound: sliceSound,
});
export type Slice = z.infer<typeof slice>;

export const cut = z.strictObject({
  method: z.enum(['hits', 'grid', 'parts', 'pitch', 'taps', 'file']),
  sensitivity: unit,
  minGapMs: z.number().min(0).max(2000),
  /** How far hits near a grid line are pulled onto it: 0 leaves them where they are. */
  gridPullPercent: z.number().min(0).max(100),
  /** Step of a grid cut, and of the grid that hits are pulled to. */
  stepTicks: z.number().positive(),
  /** Place of every second grid line in its pair; 50 is straight. */
  swingPercent: z.number().min(50).max(75),
  /** Parts of an equal cut. */
  count: z.number().int().min(1).max(512),
  /** Notes shorter than this are joined to the one before. */
  minLengthMs: z.number().min(0).max(2000),
  /** A tap is moved back to an attack within this; 0 leaves it where it fell. */
  tapWindowMs: z.number().min(0).max(500),
  slices: z.record(id, slice),
});
export type Cut = z.infer<typeof cut>;
/** How a cut is found: all of it but the slices. */
export type CutSettings = Omit<Cut, 'slices'>;

/** The musical loop within a source: its tempo follows from its length, bars and beats (see loopTempoBpm). */
export const loop = z
  .strictObject({
    startFrame: frame,
    endFrame: frame,
    bars: z.number().int().min(1).max(512),
    beatsPerBar,
  })
  .refine((value) => value.endFrame > value.startFrame, 'a loop ends after its start');
export type Loop = z.infer<typeof loop>;

export const tempoReading = z.strictObject({
  bpm: z.number().positive(),
  bars: z.number().int().min(1),
  beatsPerBar,
  confidence: unit,
  /** Where in the source the loop lies by this reading. */
  startFrame: frame,
  endFrame: frame,
});

export const patternEvent = z.strictObject({
  id,
  sliceId: id,
  /** From the pattern's start; fractions keep the feel of a loop. */
  positionTicks: z.number().min(0),
  lengthTicks: z.number().positive(),
  velocity: unit,
  reverse: z.boolean(),
  /** How often the slice starts within the event's length. */
  repeats: z.number().int().min(1).max(32),
  /** A held event stays when the pattern is dealt again. */
  held: z.boolean(),
});
export type PatternEvent = z.infer<typeof patternEvent>;

/** One deal of a pattern: reproducible from seed and reach, kept with its events as they stood. */
export const hand = z.strictObject({
  id,
  seed: z.number().int().min(0),
  reachPercent: z.number().min(0).max(100),
  events: z.record(id, patternEvent),
});
export type Hand = z.infer<typeof hand>;

export const pattern = z.strictObject({
  id,
  partId: id,
  name,
  lengthTicks: z.number().positive(),
  events: z.record(id, patternEvent),
  hands: z.record(id, hand),
  handOrder: z.array(id),
  /** The hand on the table; null while the pattern was not dealt. */
  handId: id.nullable(),
});
export type Pattern = z.infer<typeof pattern>;

/** How a part keeps the song's tempo; see docs/timing.md. */
export const FOLLOW_WAYS = ['slices', 'stretch', 'speed', 'none'] as const;
/** What fills the gap after a slice when the song is slower. */
export const TAIL_WAYS = ['leave', 'fade', 'ring'] as const;

/** Timing and accents of a loop, step by step; it goes round. */
export const groove = z.strictObject({
  name,
  stepTicks: z.number().positive(),
  /** `shift`: how late a step is, in steps (-0.5..0.5); `accent`: its level against the others (1 is the same). */
  steps: z
    .array(z.strictObject({ shift: z.number().min(-0.5).max(0.5), accent: z.number().min(0).max(2) }))
    .min(1)
    .max(256),
});
export type Groove = z.infer<typeof groove>;

export const part = z.strictObject({
  id,
  name,
  sourceId: id,
  loop,
  /** Other readings of the loop's tempo, the likeliest first. */
  tempoReadings: z.array(tempoReading),
  gainDb,
  pan,
  muted: z.boolean(),
  soloed: z.boolean(),
  /** MIDI note of the first slice; the others follow on consecutive keys. */
  startKey: z.number().int().min(0).max(127),
  /** A new slice of the part cuts the last one off. */
  oneAtATime: z.boolean(),
  /** How long a cut-off slice fades, in milliseconds. */
  stopFadeMs: z.number().min(1).max(50),
  follow: z.enum(FOLLOW_WAYS),
  tail: z.enum(TAIL_WAYS),
  /** What is stretched, when it follows by stretching. */
  material: z.enum(MATERIALS),
  /** In cents; it changes no timing. */
  transposeCents: z.number().min(-4800).max(4800),
  /** A change of transposition is heard at once, or from the next bar on. */
  transposeAt: z.enum(['now', 'bar']),
  /** The part comes in later (or earlier) than the song's first bar line, and goes round from there. */
  startOffsetTicks: z.number().min(-61440).max(61440),
  /** How much of the loop's own timing is kept: 100 all, 0 sits on the grid. */
  feelPercent: z.number().min(0).max(100),
  groove: groove.nullable(),
  groovePercent: z.number().min(0).max(100),
  /** Tails ring into the next round; otherwise they are cut at its end. */
  ringOver: z.boolean(),
  patternOrder: z.array(id),
  /** A pattern's id, or `home`. */
  activePatternId: id,
});
export type Part = z.infer<typeof part>;

export const sourceRef = z.strictObject({
  id,
  name,
  sampleRate: z.number().int().positive(),
  channels: z.number().int().min(1).max(2),
  frames: z.number().int().positive(),
});
export type SourceRef = z.infer<typeof sourceRef>;

export const projectDocument = z.strictObject({
  schemaVersion: z.literal(SCHEMA_VERSION),
  id,
  name: z.string().min(1).max(200),
  tempoBpm: z.number().min(MIN_TEMPO_BPM).max(MAX_TEMPO_BPM),
  beatsPerBar,
  /** Place of every second sixteenth in its pair, for all that follows the song; 50 is straight. */
  swingPercent: z.number().min(50).max(75),
  /** Root of the song, 0 (C) to 11; null while nobody has said. */
  rootNote: z.number().int().min(0).max(11).nullable(),
  click: z.strictObject({
    enabled: z.boolean(),
    gainDb,
    sound: z.enum(CLICK_SOUNDS),
    /** Bars of click before the song starts. */
    countInBars: z.number().int().min(0).max(4),
  }),
  sources: z.record(id, sourceRef),
  parts: z.record(id, part),
  partOrder: z.array(id),
  /** By part id. */
  cuts: z.record(id, cut),
  patterns: z.record(id, pattern),
});
export type ProjectDocument = z.infer<typeof projectDocument>;
