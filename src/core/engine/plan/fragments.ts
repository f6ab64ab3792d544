/**
 * What the renderer plays, in fragments: one a part, zone, modulator, pattern and channel, each known by its id. The page compiles a
 * fragment when what it comes from has changed, and posts only that; a value that is dragged is a {@link ValueChange}.
 * Plain data and typed arrays, nothing of the document.
 */
import type { ModulatorKind, TargetKind } from '../../params/modulators.ts';
import type { EffectKind } from '../../params/effects.ts';
import type { HelperKind } from '../../params/helpers.ts';
import type { Follow, Tail } from '../../params/choices.ts';
import type { OrderFragment } from './order-fragment.ts';

/** Samples of a source, shared and never changed. */
export interface PlanSource {
  id: string;
  sampleRate: number;
  channels: Float32Array[];
}

/** Timing and accents of a loop; see the document's schema. */
export interface PlanGroove {
  stepTicks: number;
  steps: readonly { shift: number; accent: number }[];
}

export interface PartFragment {
  id: string;
  channelId: string;
  activePatternId: string;
  groove: PlanGroove | null;
  /** The part's own tempo when it does not follow the song's; null when it does. */
  ownTempoBpm: number | null;
  doubles: readonly DoubleFragment[];
  helpers: readonly HelperFragment[];
  /** Where its patterns put treatments on, by their ids; '' for as it sounds by itself. */
  changes: Readonly<Record<string, readonly { at: number; treatmentId: string }[]>>;
  /** In the order of PART_ROWS. */
  values: Float64Array;
}

/** Another sound of the part under hits of it. */
export interface DoubleFragment {
  id: string;
  soundId: string;
  zoneIds: readonly string[];
  /** How loud each hit is by itself against the loudest of them, 0..1. */
  levels: Float64Array;
  /** A channel that it is heard through by itself, as long as its part is heard; null: with its part. */
  channelId: string | null;
  isHeard: boolean;
  /** In the order of DOUBLE_ROWS. */
  values: Float64Array;
}

/** What stands on the way to the keys of a part. */
export interface HelperFragment {
  id: string;
  kind: HelperKind;
  isOn: boolean;
  /** Of a chord: semitones above the key that is pressed. */
  intervals: readonly number[];
  /** Of a runner's steps, or of a chord's notes; empty: all the same. */
  strengths: readonly number[];
  /** What its chances are drawn from. */
  seed: number;
  /** In the order of the kind's rows. */
  values: Float64Array;
}

/** A loop inside a zone's samples: see dsp/sound-loop.ts. Frames of the samples that the zone plays. */
export interface PlanLoop {
  /** Names the samples with the loop laid. */
  sourceId: string;
  baseFrame: number;
  startFrame: number;
  periodFrames: number;
  wrapFrame: number;
  plainEndFrame: number;
}

/** The samples that a zone plays: the slice in its source, or a rendering of it (stretched, or with its tail rung on). */
export interface ZoneSound {
  /** Null while the audio is not there. */
  sourceId: string | null;
  isRendering: boolean;
  /** The part's transposition is in the samples already. */
  isTransposed: boolean;
  /** Range in the samples, half-open. */
  startFrame: number;
  endFrame: number;
  /** Where the slice itself ends; from there to `endFrame` its tail rings on, if an event is longer than the slice. */
  naturalEndFrame: number;
  /** What comes after `naturalEndFrame` fills no gap: it sounds on under the next event. */
  hasRemainder: boolean;
  /** What the samples lack of the wanted pitch, in cents. */
  tuneCents: number;
  /** Goes round in here while its key is held; null when nothing does. */
  loop: PlanLoop | null;
}

/** How a modulator moves a setting. */
export interface RouteFragment {
  id: string;
  kind: TargetKind;
  /** Null: of the sounds that the modulator belongs to. */
  targetId: string | null;
  /** Place in the target's values, and how far that is moved at full amount: as it is stored, or in cents. */
  slot: number;
  by: number;
  /** Within which a step of what moves it is reached. */
  smoothingMs: number;
  /** In the order of ROUTE_ROWS. */
  values: Float64Array;
}

/** The course of a lane: places in the order of their positions, one column a field. */
export interface LaneFragment {
  /** After which it goes round; 0: with its pattern. */
  lengthTicks: number;
  positionTicks: Float64Array;
  /** 0..1 */
  values: Float64Array;
  /** How each goes on to the next, -1..1; or stays until that. */
  bends: Float64Array;
  stays: Uint8Array;
}

export interface ModulatorFragment {
  id: string;
  /** A zone; a part for all its sounds and what it is heard through; a pattern of a lane. */
  ownerId: string;
  kind: ModulatorKind;
  /** In the order of the kind's rows. */
  values: Float64Array;
  /** Of a row of steps. */
  steps: readonly number[];
  /** Of a curve. */
  points: readonly { at: number; value: number }[];
  lane: LaneFragment | null;
  /** What its chance is drawn from. */
  seed: number;
  routes: readonly RouteFragment[];
}

export interface ZoneFragment {
  id: string;
  partId: string;
  /** Keys that play it; `lowKey` -1 for none. */
  lowKey: number;
  highKey: number;
  rootKey: number;
  /** Strengths that play it, 1..127, and over how many steps beyond them it comes and goes. */
  lowVelocity: number;
  highVelocity: number;
  velocityFade: number;
  /** Not a slice but this pattern, the cut's own, goes round while the key is held. */
  playsPatternId: string | null;
  /** What others give way to in it: see queries/hit-groups.ts. */
  hitGroup: number;
  follow: Follow;
  tail: Tail;
  /** Tempo of the loop that the slice is of, in beats a minute; 0 for what is no loop. */
  loopTempoBpm: number;
  /** Where the slice lies in its own source, for joining what touches and for display. */
  sliceStartFrame: number;
  sliceEndFrame: number;
  sound: ZoneSound;
  /** Samples for keys of their own, from `lowKey` on, where other keys keep the length; empty: all play `sound`. */
  keySounds: readonly (ZoneSound | null)[];
  /** Samples for other tempi than the song's, the slowest first: for sections that have one of their own. */
  tempoSounds: readonly { tempoBpm: number; sound: ZoneSound }[];
  /** In the order of ZONE_ROWS. */
  values: Float64Array;
}

/** Starts in a pattern, by position; repeats are spread out. One column a field. */
export interface EventColumns {
  positionTicks: Float64Array;
  lengthTicks: Float64Array;
  /** Place in the fragment's `zoneIds`. */
  zone: Uint16Array;
  velocity: Float64Array;
  gainDb: Float32Array;
  pan: Float32Array;
  tuneCents: Float32Array;
  chancePercent: Float32Array;
  /** Heard in the last of so many rounds. */
  everyRounds: Uint8Array;
  /** See {@link REVERSE}, {@link REPEATED}, {@link ON_KEY} and {@link PAST_HELPERS}. */
  flags: Uint8Array;
  /** What chance is drawn from, with the round: the same for all repeats of an event. */
  seed: Uint32Array;
}

/** Flags of a start: backwards, against its zone's own direction; one of several repeats. */
export const REVERSE = 1;
export const REPEATED = 2;
/** It presses the key of its zone instead of playing the zone alone. */
export const ON_KEY = 4;
/** It presses its key itself, past what stands on the way there. */
export const PAST_HELPERS = 8;

export interface PatternFragment {
  id: string;
  partId: string;
  /** The hand that lies on the table: another one takes over as another pattern does, an edit of it at once. */
  handId: string | null;
  lengthTicks: number;
  /** Grows only, so that a place in it stays. */
  zoneIds: readonly string[];
  events: EventColumns;
}

/** What has changed of a pattern: `removed` starts from `at` on are others now. */
export interface PatternSplice {
  id: string;
  handId: string | null;
  lengthTicks: number;
  /** Zones that came to the list. */
  moreZoneIds: readonly string[];
  at: number;
  removed: number;
  events: EventColumns;
}

export interface EffectFragment {
  id: string;
  kind: EffectKind;
  bypassed: boolean;
  sideChannelId: string | null;
  /** The effects of paths side by side. */
  paths?: readonly (readonly EffectFragment[])[];
  /** In the order of the kind's rows. */
  values: Float64Array;
}

export interface SendFragment {
  id: string;
  toChannelId: string;
  /** Not put out by another's solo. */
  isOpen: boolean;
  /** In the order of SEND_ROWS. */
  values: Float64Array;
}

export interface ChannelFragment {
  id: string;
  /** What it is led into; null: it is the last of all. */
  outputId: string | null;
  /** Neither muted nor put out by another's solo. */
  isHeard: boolean;
  /** Heard where it is led to, and not only where it is sent to. */
  isOutputOpen: boolean;
  effects: readonly EffectFragment[];
  sends: readonly SendFragment[];
  /** In the order of CHANNEL_ROWS. */
  values: Float64Array;
}

export type FragmentKind = 'parts' | 'zones' | 'modulators' | 'patterns' | 'channels';
/** One setting, by its place in the owner's values. */
export interface ValueChange {
  kind: 'song' | 'part' | 'zone' | 'modulator' | 'route' | 'channel' | 'send' | 'effect' | 'double' | 'helper';
  id: string;
  slot: number;
  value: number;
}

export interface PlanPatch {
  /** Holds everything: what it does not name is gone. */
  isWhole: boolean;
  /** In the order of SONG_ROWS; null: as it was. */
  song: Float64Array | null;
  /** Ids of the parts in their order; null: as it was. */
  partOrder: readonly string[] | null;
  parts: PartFragment[];
  zones: ZoneFragment[];
  modulators: ModulatorFragment[];
  patterns: PatternFragment[];
  splices: PatternSplice[];
  channels: ChannelFragment[];
  removed: { kind: FragmentKind; id: string }[];
  values: ValueChange[];
  /** The running order; null: there is none; left out: as it was. */
  order?: OrderFragment | null;
  /** All that the running order puts on; left out: as it was. */
  looks?: readonly PartLooks[];
}

/** What another way to sound is made of. */
export type LookPatch = Pick<PlanPatch, 'values' | 'channels' | 'modulators' | 'zones'>;

export interface Look {
  treatmentId: string;
  /** From how the part sounds by itself to this, and back. */
  on: LookPatch;
  off: LookPatch;
}

export interface PartLooks {
  partId: string;
  looks: readonly Look[];
}

/** A whole plan with the samples it plays: for bouncing, the command line and tests. */
export interface RenderPlan {
  sampleRate: number;
  sources: PlanSource[];
  patch: PlanPatch;
}

export function emptyPatch(): PlanPatch {
  return {
    isWhole: false,
    song: null,
    partOrder: null,
    parts: [],
    zones: [],
    modulators: [],
    patterns: [],
    splices: [],
    channels: [],
    removed: [],
    values: [],
  };
}

export function isEmptyPatch(patch: PlanPatch): boolean {
  const { isWhole, song, partOrder, order, looks, ...lists } = patch;
  const isNothingElse = order === undefined && looks === undefined;
  return !isWhole && !song && !partOrder && isNothingElse && Object.values(lists).every((list) => list.length === 0);
}

/** Columns for so many starts. */
export function eventColumns(count: number): EventColumns {
  return {
    positionTicks: new Float64Array(count),
    lengthTicks: new Float64Array(count),
    zone: new Uint16Array(count),
    velocity: new Float64Array(count),
    gainDb: new Float32Array(count),
    pan: new Float32Array(count),
    tuneCents: new Float32Array(count),
    chancePercent: new Float32Array(count),
    everyRounds: new Uint8Array(count),
    flags: new Uint8Array(count),
    seed: new Uint32Array(count),
  };
}

export const COLUMN_NAMES = Object.keys(eventColumns(0)) as (keyof EventColumns)[];

/** A pattern with some of its starts exchanged. */
export function splicePattern(pattern: PatternFragment, splice: PatternSplice): PatternFragment {
  const { at, removed, lengthTicks, handId } = splice;
  const before = pattern.events.positionTicks.length;
  const added = splice.events.positionTicks.length;
  const events = eventColumns(before - removed + added);
  for (const name of COLUMN_NAMES) {
    events[name].set(pattern.events[name].subarray(0, at));
    events[name].set(splice.events[name], at);
    events[name].set(pattern.events[name].subarray(at + removed), at + added);
  }
  return { ...pattern, handId, lengthTicks, zoneIds: [...pattern.zoneIds, ...splice.moreZoneIds], events };
}
