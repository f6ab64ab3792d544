/**
 * The document: everything of a project that is saved and can be undone. Plain JSON, never mutated; tables are records
 * by id, order is in arrays of ids; settings are `values` that the table of settings (core/params) gives ranges and
 * defaults to. `docs/project-file.md` describes it for other programs.
 *
 * What comes later has its place: lanes in patterns, macros and controllers as tables of their own, the running order as
 * an array beside `partOrder`.
 */
import { en } from 'zod/locales';
import * as z from 'zod/mini';
import { ROLES } from '../analysis/role-names.ts';
import { EFFECT_KINDS, EFFECT_ROWS } from '../params/effects.ts';
import { MAX_AMOUNT, MODULATION_TARGET_IDS, MODULATOR_ROWS, type ModulatorKind } from '../params/modulators.ts';
import { DEAL_ROWS } from '../params/deal-rows.ts';
import { valuesSchema } from '../params/row.ts';
import { CHANNEL_ROWS, CUT_ROWS, EVENT_ROWS, PART_ROWS, SONG_ROWS, ZONE_ROWS } from '../params/tables.ts';
import { TREATED_CHANNEL_ROWS, TREATED_PART_ROWS } from '../params/treated-rows.ts';

export const SCHEMA_VERSION = 4;

// The small form of the library has no words of its own.
z.config(en());

/** No table has such a member of its own, but every object answers to these names. */
const isNameOfEveryObject = (value: string) => value in Object.prototype;

/** Up to 80 letters, digits, `-` and `_`; no name that every object has. */
export const id = z.string().check(
  z.regex(/^[\w-]{1,80}$/),
  z.refine((value) => !isNameOfEveryObject(value), 'a name that every object has is no id'),
);
const name = z.string().check(z.maxLength(200));
const between = (min: number, max: number) => z.number().check(z.gte(min), z.lte(max));
const whole = (min: number, max: number) => z.int().check(z.gte(min), z.lte(max));
const listOf = <T extends z.ZodMiniType>(item: T, max: number, min = 0) =>
  z.array(item).check(z.minLength(min), z.maxLength(max));

/** Longest sound that a document may speak of, in frames. */
const MAX_FRAMES = 2 ** 31 - 1;
export const MAX_BARS = 512;
/** Longest pattern: 512 bars of sixteen quarters. */
export const MAX_TICKS = MAX_BARS * 16 * 960;
/** Shortest event, in ticks: copies of a home pattern may hold slivers. */
const MIN_EVENT_TICKS = 1e-3;
/** Shortest pattern, in ticks: a 1/256 note. */
const MIN_PATTERN_TICKS = 15;

const frame = whole(0, MAX_FRAMES);
const unit = between(0, 1);
const beatsPerBar = z.number().check(z.multipleOf(0.5), z.gte(1), z.lte(16));
const key = whole(0, 127);
const velocity = whole(1, 127);

export const slice = z.strictObject({
  id,
  startFrame: frame,
  /** Null: up to the next slice. */
  endFrame: z.nullable(frame),
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
  brightnessHz: between(0, 200_000),
  midi: z.nullable(key),
  cents: z.nullable(between(-50, 50)),
});
export type Slice = z.infer<typeof slice>;

/** The musical loop within a source: its tempo follows from its length, bars and beats (see loopTempoBpm). */
export const loop = z
  .strictObject({ startFrame: frame, endFrame: frame, bars: whole(1, MAX_BARS), beatsPerBar })
  .check(z.refine((value) => value.endFrame > value.startFrame, 'a loop ends after its start'));
export type Loop = z.infer<typeof loop>;

export const tempoReading = z.strictObject({
  bpm: between(1, 10_000),
  bars: whole(1, MAX_BARS),
  beatsPerBar,
  confidence: unit,
  /** Where in the source the loop lies by this reading. */
  startFrame: frame,
  endFrame: frame,
});

/** One source as a part uses it: how its loop is read, how it keeps time, and where it is cut. */
export const cut = z.strictObject({
  id,
  partId: id,
  sourceId: id,
  /** Null: a single hit or another sound that is no loop. */
  loop: z.nullable(loop),
  /** Other readings of the loop's tempo, the likeliest first. */
  tempoReadings: listOf(tempoReading, 64),
  slices: z.record(id, slice),
  values: valuesSchema(CUT_ROWS),
});
export type Cut = z.infer<typeof cut>;

export const keyRange = z
  .strictObject({ low: key, high: key, root: key })
  .check(z.refine(({ low, high }) => low <= high, 'a range of keys goes upwards'));
export type KeyRange = z.infer<typeof keyRange>;

/** How strong a press has to be, as MIDI tells it; over `fade` steps outside of it the sound comes and goes. */
export const velocityRange = z
  .strictObject({ low: velocity, high: velocity, fade: whole(0, 126) })
  .check(z.refine(({ low, high }) => low <= high, 'a range of strengths goes upwards'));
export type VelocityRange = z.infer<typeof velocityRange>;
export const ALL_VELOCITIES: VelocityRange = { low: 1, high: 127, fade: 0 };

/** What goes round inside a sound, in frames of its source. */
export const soundLoop = z
  .strictObject({ startFrame: frame, endFrame: frame, crossfadeFrames: frame })
  .check(z.refine((value) => value.endFrame > value.startFrame, 'a loop ends after its start'));
export type SoundLoop = z.infer<typeof soundLoop>;

/** What answers a key, and how. Several zones may play one slice, each in its own way. */
export const zone = z
  .strictObject({
    id,
    partId: id,
    /** A slice, or the whole loop of a cut going round in time with the song. */
    plays: z.discriminatedUnion('kind', [
      z.strictObject({ kind: z.literal('slice'), cutId: id, sliceId: id }),
      z.strictObject({ kind: z.literal('loop'), cutId: id, sliceId: z.null() }),
    ]),
    /** `itself`: on the key that follows from its slice's place; `hand`: where it was put, for good. */
    laid: z.enum(['itself', 'hand']),
    /** Of a zone laid by hand; null: it has no key. */
    keys: z.nullable(keyRange),
    velocities: velocityRange,
    /** Null: the whole of what it plays goes round, if it is to. */
    loop: z.nullable(soundLoop),
    values: valuesSchema(ZONE_ROWS),
  })
  .check(z.refine(({ laid, keys }) => laid === 'hand' || keys === null, 'a zone that lays itself keeps no keys'));
export type Zone = z.infer<typeof zone>;

const amount = between(-1, 1);
const modulatorOf = <Kind extends ModulatorKind>(kind: Kind) =>
  z.strictObject({
    id,
    ownerId: id,
    kind: z.literal(kind),
    values: valuesSchema(MODULATOR_ROWS[kind]),
    /** Of `steps`: their values. */
    ...(kind === 'steps' ? { steps: listOf(amount, 32, 2) } : {}),
    /** Of a `curve`: where it goes through, in the order of their places in the round. */
    ...(kind === 'curve' ? { points: listOf(z.strictObject({ at: unit, value: amount }), 64, 2) } : {}),
  });

/** Moves settings of zones while they sound: of one zone, or of all of a part. */
export const modulator = z.discriminatedUnion(
  'kind',
  (Object.keys(MODULATOR_ROWS) as ModulatorKind[]).map(modulatorOf) as unknown as [z.ZodMiniObject],
);
export interface Modulator {
  id: string;
  ownerId: string;
  kind: ModulatorKind;
  values: Record<string, number | string | boolean>;
  steps?: readonly number[];
  points?: readonly { at: number; value: number }[];
}

export const route = z.strictObject({
  id,
  modulatorId: id,
  paramId: z.enum(MODULATION_TARGET_IDS),
  /** 1: by the whole of what MODULATION_TARGETS says. */
  amount: between(-MAX_AMOUNT, MAX_AMOUNT),
});
export type Route = z.infer<typeof route>;

export const channel = z.strictObject({
  id,
  values: valuesSchema(CHANNEL_ROWS),
  effectOrder: listOf(id, 32),
  /** Copies of its signal into other channels, after its effects and level. */
  sends: listOf(z.strictObject({ channelId: id, gainDb: between(-60, 12) }), 16),
});
export type Channel = z.infer<typeof channel>;

export const effect = z.discriminatedUnion(
  'kind',
  EFFECT_KINDS.map((kind) =>
    z.strictObject({
      id,
      kind: z.literal(kind),
      bypassed: z.boolean(),
      /** The channel that it listens to beside its own. */
      sideChannelId: z.nullable(id),
      values: valuesSchema(EFFECT_ROWS[kind]),
    }),
  ) as unknown as [z.ZodMiniObject],
);
export interface Effect {
  id: string;
  kind: (typeof EFFECT_KINDS)[number];
  bypassed: boolean;
  sideChannelId: string | null;
  values: Record<string, number | string | boolean>;
}

export const patternEvent = z.strictObject({
  id,
  zoneId: id,
  /** From the pattern's start; fractions keep the feel of a loop. */
  positionTicks: between(0, MAX_TICKS),
  lengthTicks: between(MIN_EVENT_TICKS, MAX_TICKS),
  values: valuesSchema(EVENT_ROWS),
});
export type PatternEvent = z.infer<typeof patternEvent>;
const events = z.record(id, patternEvent);

/** One deal of a pattern: told by its seed, its settings and the hand that it was dealt from. */
export const hand = z.strictObject({
  id,
  /** 0 for what was not dealt: the pattern before the first deal, or as it was changed by hand. */
  seed: whole(0, 2 ** 31),
  reachPercent: between(0, 100),
  /** What stayed and what coloured; nothing where it is left out. */
  rules: z.optional(valuesSchema(DEAL_ROWS)),
  /** Only these events took part; all where it is left out. */
  onlyIds: z.optional(z.array(id)),
  /** Bred: the hand that it was bred with, and how much of that one it has. */
  withHandId: z.optional(id),
  name: z.optional(name),
  /** Never pushed out by newer ones. */
  starred: z.optional(z.boolean()),
  /** Version of the dealer: a later one may deal otherwise from the same seed. */
  dealer: whole(1, 1000),
  /** What it was dealt from; null when that is not kept any more, and for what was not dealt. */
  fromHandId: z.nullable(id),
  /** Changed by hand after it was dealt. */
  isEdited: z.boolean(),
  /** What differs from the pattern's ground: events by id, null for those that are not in it. */
  differs: z.record(id, z.nullable(patternEvent)),
});
export type Hand = z.infer<typeof hand>;

/** Colours that a pattern may be marked by, by their places. */
export const PATTERN_COLOURS = 8;

export const pattern = z.strictObject({
  id,
  partId: id,
  name,
  /** None where it is left out. */
  colour: z.optional(whole(0, PATTERN_COLOURS - 1)),
  lengthTicks: between(MIN_PATTERN_TICKS, MAX_TICKS),
  events,
  /** The events before the first deal, which hands are told against; null while nothing was dealt. */
  ground: z.nullable(events),
  hands: z.record(id, hand),
  handOrder: z.array(id),
  /** The hand on the table; null while nothing was dealt. */
  handId: z.nullable(id),
});
export type Pattern = z.infer<typeof pattern>;

/** Timing and accents of a loop, step by step; it goes round. */
export const groove = z.strictObject({
  name,
  stepTicks: between(15, 15_360),
  /** `shift`: how late a step is, in steps (-0.5..0.5); `accent`: its level against the others (1 is the same). */
  steps: listOf(z.strictObject({ shift: between(-0.5, 0.5), accent: between(0, 2) }), 256, 1),
});
export type Groove = z.infer<typeof groove>;

/** What a key or controller of a part does that plays no sound. */
export const SWITCH_KINDS = ['pattern', 'treatment', 'mute', 'rest', 'deal'] as const;
export const keySwitch = z
  .strictObject({
    /** Null: a controller switches. */
    key: z.nullable(key),
    /** Number of the MIDI controller, pressed from the middle of its way on; left out where a key switches. */
    control: z.optional(whole(0, 119)),
    does: z.enum(SWITCH_KINDS),
    /** Of `pattern`: which, a home pattern too; else null. */
    patternId: z.nullable(id),
    /** Of `treatment`: which. */
    treatmentId: z.optional(id),
    /** Of `mute`: which sound of the part. */
    zoneId: z.optional(id),
    /** Only as long as the key is pressed; else until something else is chosen. */
    whileHeld: z.boolean(),
  })
  .check(z.refine(({ key, control }) => (key === null) !== (control === undefined), 'a key or a controller switches'));
export type KeySwitch = z.infer<typeof keySwitch>;

const effectTables = EFFECT_KINDS.map((kind) =>
  z.strictObject({ kind: z.literal(kind), bypassed: z.boolean(), values: valuesSchema(EFFECT_ROWS[kind]) }),
);

/** How a part sounds, kept: what of it is no more is passed over, and what came since stays as it is. */
export const treatment = z.strictObject({
  id,
  name,
  /** Settings of the zones, by their ids; all but the weight in dealing. */
  zones: z.record(id, valuesSchema(ZONE_ROWS)),
  /** Of the part: those of {@link TREATED_PART_ROWS}. */
  values: valuesSchema(TREATED_PART_ROWS),
  channel: valuesSchema(TREATED_CHANNEL_ROWS),
  /** By the ids of the effects. */
  effects: z.record(id, z.discriminatedUnion('kind', effectTables as unknown as [z.ZodMiniObject])),
});
export interface Treatment extends Omit<z.infer<typeof treatment>, 'effects'> {
  effects: Record<string, Pick<Effect, 'kind' | 'bypassed' | 'values'>>;
}

/** An instrument of the song: cuts of one or more sources, zones on its keys, patterns, a channel. */
export const part = z.strictObject({
  id,
  name,
  cutOrder: listOf(id, 256, 1),
  zoneOrder: z.array(id),
  patternOrder: z.array(id),
  /** A pattern's id, or the home pattern of one of its cuts (see homeId). */
  activePatternId: id,
  channelId: id,
  groove: z.nullable(groove),
  /** One a key or controller at most; none where it is left out. */
  switches: z.optional(listOf(keySwitch, 248)),
  /** Ways to sound that were kept; none where it is left out. */
  treatments: z.optional(listOf(treatment, 64)),
  values: valuesSchema(PART_ROWS),
});
export interface Part extends Omit<z.infer<typeof part>, 'treatments'> {
  treatments?: Treatment[] | undefined;
}

export const sourceRef = z.strictObject({
  id,
  name,
  sampleRate: whole(1_000, 768_000),
  channels: whole(1, 2),
  frames: whole(1, MAX_FRAMES),
});
export type SourceRef = z.infer<typeof sourceRef>;

export const song = z.strictObject({
  values: valuesSchema(SONG_ROWS),
  /** What new zones of the project begin with. */
  zoneDefaults: valuesSchema(ZONE_ROWS),
});

/** The tables of records, with the schema of a record each. */
export const TABLES = {
  sources: sourceRef,
  parts: part,
  cuts: cut,
  zones: zone,
  modulators: modulator,
  routes: route,
  channels: channel,
  effects: effect,
  patterns: pattern,
} as const;
export type TableName = keyof typeof TABLES;

/** What stands beside the tables. */
export const HEAD = {
  schemaVersion: z.literal(SCHEMA_VERSION),
  id: z.string().check(z.regex(/^[\w-]{1,64}$/)),
  name: z.string().check(z.minLength(1), z.maxLength(200)),
  song,
  partOrder: listOf(id, 512),
} as const;

export interface ProjectDocument {
  schemaVersion: typeof SCHEMA_VERSION;
  id: string;
  name: string;
  song: z.infer<typeof song>;
  partOrder: string[];
  sources: Record<string, SourceRef>;
  parts: Record<string, Part>;
  cuts: Record<string, Cut>;
  zones: Record<string, Zone>;
  modulators: Record<string, Modulator>;
  routes: Record<string, Route>;
  channels: Record<string, Channel>;
  effects: Record<string, Effect>;
  patterns: Record<string, Pattern>;
}

export const projectDocument = z.strictObject({
  ...HEAD,
  ...(Object.fromEntries(Object.entries(TABLES).map(([table, record]) => [table, z.record(id, record)])) as {
    [Name in TableName]: z.ZodMiniRecord<typeof id, (typeof TABLES)[Name]>;
  }),
});

const HOME_PREFIX = 'home-';

/** The pattern id of a cut's home pattern, which is computed from the cut and never stored. */
export function homeId(cutId: string): string {
  return HOME_PREFIX + cutId;
}

export function isHome(patternId: string): boolean {
  return patternId.startsWith(HOME_PREFIX);
}

/** The cut whose home pattern an id names; null for other patterns. */
export function cutIdOfHome(patternId: string): string | null {
  return isHome(patternId) ? patternId.slice(HOME_PREFIX.length) : null;
}
