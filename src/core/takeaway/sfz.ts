/**
 * A part as an instrument in SFZ, the open text format for samplers (opcodes of version 1, and of version 2 those for
 * filters of 24 dB and for playing backwards): which sample on which keys and strengths, in turn or by chance, choked,
 * looped, shaped. What the format cannot say is told in comments at its head.
 */
import type { Part, ProjectDocument } from '../document/schema.ts';
import { channelValues, partValues, zoneValues } from '../queries/values.ts';
import { zonesOfPart, type PlacedZone } from '../queries/zones.ts';
import type { ZoneValues } from '../params/tables.ts';
import { sharedLevel, STRENGTH_LAWS } from '../strips/strength-laws.ts';
import { fixed } from '../units/fixed.ts';
import { gainToDb } from '../units/level.ts';
import { safeFileName } from '../formats/file-names.ts';

/** A stretch of a source that becomes a file of its own. */
export interface SfzSample {
  file: string;
  sourceId: string;
  startFrame: number;
  endFrame: number;
  /** Goes round in it, in frames of the file. */
  loop: { startFrame: number; endFrame: number } | null;
}

export interface SfzInstrument {
  text: string;
  samples: SfzSample[];
  /** What the format cannot say of it. */
  unsaid: string[];
  zones: number;
}

export interface SfzOptions {
  /** Envelopes and filters are written. */
  withShape: boolean;
  withChoke: boolean;
  /** Folder of the samples beside the text. */
  folder: string;
  ending: 'wav' | 'flac';
}

type Opcodes = Record<string, string | number>;

/** @returns the text, the samples that it names, and what it cannot say */
export function sfzInstrument(document: ProjectDocument, part: Part, options: SfzOptions): SfzInstrument {
  const laid = zonesOfPart(document, part).filter(({ keys, zone }) => keys !== null && !zoneValues(zone).muted);
  const unsaid = unsaidOf(document, part, laid);
  const playable = laid.filter(({ zone }) => zone.plays.kind === 'slice');
  const samples = new Map<string, SfzSample>();
  const regions = playable.map((placed, place) => {
    const sample = sampleOf(document, placed, place, options);
    const name = [sample.sourceId, sample.startFrame, sample.endFrame, JSON.stringify(sample.loop)].join(' ');
    const known = samples.get(name) ?? sample;
    samples.set(name, known);
    return { comment: placed.at.label, opcodes: regionOf(document, part, placed, known, playable, options) };
  });
  const head = [
    `// ${part.name.replaceAll(/\s+/g, ' ')}: ${regions.length} sounds on keys`,
    ...unsaid.map((words) => `// not said here: ${words}`),
    '',
    '<control>',
    `default_path=${options.folder}/`,
    '',
  ];
  const body = regions.map(({ comment, opcodes }) =>
    [
      `// ${comment.replaceAll(/\s+/g, ' ')}`,
      '<region>',
      ...Object.entries(opcodes).map(([key, value]) => `${key}=${value}`),
      '',
    ].join('\n'),
  );
  return { text: [...head, ...body].join('\n'), samples: [...samples.values()], unsaid, zones: regions.length };
}

function sampleOf(
  document: ProjectDocument,
  { zone, cut, at }: PlacedZone,
  place: number,
  { ending }: SfzOptions,
): SfzSample {
  const { frames, sampleRate } = document.sources[cut.sourceId]!;
  const values = zoneValues(zone);
  const framesOf = (ms: number) => Math.round((ms / 1000) * sampleRate);
  const startFrame = Math.max(0, Math.min(at.endFrame - 1, at.startFrame + framesOf(values.startOffsetMs)));
  const end = (values.runsOn ? frames : at.endFrame) + framesOf(values.endOffsetMs);
  const endFrame = Math.max(startFrame + 1, Math.min(frames, end));
  const range = zone.loop ?? { startFrame: at.startFrame, endFrame: at.endFrame };
  const loop = {
    startFrame: Math.max(0, range.startFrame - startFrame),
    endFrame: Math.min(endFrame, range.endFrame) - startFrame,
  };
  const isLooped = values.loopMode !== 'off' && loop.endFrame > loop.startFrame;
  const number = String(place + 1).padStart(3, '0');
  const file = `${number} ${safeFileName(at.label, 'slice').slice(0, 60)}.${ending}`;
  return { file, sourceId: cut.sourceId, startFrame, endFrame, loop: isLooped ? loop : null };
}

function regionOf(
  document: ProjectDocument,
  part: Part,
  placed: PlacedZone,
  sample: SfzSample,
  all: readonly PlacedZone[],
  options: SfzOptions,
): Opcodes {
  const { zone } = placed;
  const keys = placed.keys!;
  const values = zoneValues(zone);
  const { transposeCents, oneAtATime } = partValues(part);
  const channel = channelValues(document.channels[part.channelId]!);
  const cents = values.tuneCents + transposeCents;
  const semitones = Math.trunc(cents / 100);
  return {
    sample: sample.file,
    lokey: keys.low,
    hikey: keys.high,
    pitch_keycenter: keys.root,
    ...(values.followsKey ? {} : { pitch_keytrack: 0 }),
    ...strengths(zone.velocities),
    volume: fixed(values.gainDb + channel.gainDb + ownStrengthDb(values), 2),
    ...(clamped(values.pan + channel.pan) === 0 ? {} : { pan: fixed(100 * clamped(values.pan + channel.pan), 1) }),
    ...(semitones === 0 ? {} : { transpose: semitones }),
    ...(cents % 100 === 0 ? {} : { tune: fixed(cents - 100 * semitones, 2) }),
    ...(values.randomCents > 0 ? { pitch_random: fixed(values.randomCents, 0) } : {}),
    ...(values.reverse ? { direction: 'reverse' } : {}),
    ...loopOf(values, sample),
    ...crossfadeOf(document, placed, sample),
    ...velocityOf(values),
    ...turnOf(placed, all),
    ...(options.withChoke ? chokeOf(values, oneAtATime, part.zoneOrder.indexOf(zone.id)) : {}),
    ...(options.withShape ? { ...levelOf(values), ...filterOf(values) } : {}),
  };
}

const clamped = (pan: number) => Math.max(-1, Math.min(1, pan));

/** Where two strengths meet half of the fade lies to either side. */
function strengths({ low, high, fade }: PlacedZone['zone']['velocities']): Opcodes {
  const half = Math.floor(fade / 2);
  const plain: Opcodes = { lovel: Math.max(1, low - half), hivel: Math.min(127, high + half) };
  if (fade === 0) return plain;
  return {
    ...plain,
    ...(low > 1 ? { xfin_lovel: Math.max(0, low - half - 1), xfin_hivel: Math.min(127, low + half) } : {}),
    ...(high < 127 ? { xfout_lovel: Math.max(0, high - half), xfout_hivel: Math.min(127, high + half + 1) } : {}),
    xf_velcurve: 'power',
  };
}

function loopOf({ answer, loopUntil }: ZoneValues, { loop }: SfzSample): Opcodes {
  if (loop)
    return {
      loop_mode: loopUntil === 'release' ? 'loop_sustain' : 'loop_continuous',
      loop_start: loop.startFrame,
      loop_end: loop.endFrame - 1,
    };
  return { loop_mode: answer === 'gate' ? 'no_loop' : 'one_shot' };
}

/** The end of a loop fades into what comes before its start. */
function crossfadeOf(document: ProjectDocument, { zone, cut }: PlacedZone, { loop }: SfzSample): Opcodes {
  const frames = zone.loop?.crossfadeFrames ?? 0;
  if (!loop || frames === 0) return {};
  return { loop_crossfade: fixed(frames / document.sources[cut.sourceId]!.sampleRate, 4) };
}

/** What sounds as strong as it says, however it is struck, has that as its level. */
function ownStrengthDb({ fixedVelocity, velocityLaw, velocityShare }: ZoneValues): number {
  if (fixedVelocity === 0) return 0;
  return gainToDb(sharedLevel(STRENGTH_LAWS[velocityLaw](fixedVelocity / 127), velocityShare));
}

/** The square is what the format means by itself; other laws are drawn, its points are joined by lines. */
function velocityOf({ velocityLaw, velocityShare, fixedVelocity }: ZoneValues): Opcodes {
  if (fixedVelocity > 0 || velocityShare === 0) return { amp_veltrack: 0 };
  const share: Opcodes = velocityShare === 1 ? {} : { amp_veltrack: fixed(100 * velocityShare, 1) };
  if (velocityLaw === 'square') return share;
  const points = velocityLaw === 'linear' ? [1, 127] : [1, 4, 16, 36, 64, 96, 127];
  const level = (step: number) => fixed(STRENGTH_LAWS[velocityLaw](step / 127), 4);
  return { ...share, ...Object.fromEntries(points.map((step) => [`amp_velcurve_${step}`, level(step)])) };
}

/** Those that share a key, a strength and a way to take turns. */
function turnOf({ zone, keys }: PlacedZone, all: readonly PlacedZone[]): Opcodes {
  const { turn } = zoneValues(zone);
  if (turn === 'all') return {};
  const { low, high } = zone.velocities;
  const mates = all.filter(
    (one) =>
      zoneValues(one.zone).turn === turn &&
      one.keys!.low <= keys!.high &&
      one.keys!.high >= keys!.low &&
      one.zone.velocities.low <= high &&
      one.zone.velocities.high >= low,
  );
  const place = mates.findIndex((one) => one.zone.id === zone.id);
  if (mates.length < 2) return {};
  if (turn === 'turn') return { seq_length: mates.length, seq_position: place + 1 };
  return { lorand: fixed(place / mates.length, 4), hirand: fixed((place + 1) / mates.length, 4) };
}

const ONE_AT_A_TIME_GROUP = 100;

function chokeOf({ chokeGroup, sameKey }: ZoneValues, oneAtATime: boolean, place: number): Opcodes {
  if (oneAtATime) return { group: ONE_AT_A_TIME_GROUP, off_by: ONE_AT_A_TIME_GROUP, off_mode: 'fast' };
  if (chokeGroup > 0) return { group: chokeGroup, off_by: chokeGroup, off_mode: 'fast' };
  const own = ONE_AT_A_TIME_GROUP + 1 + place;
  return sameKey === 'restart' ? { group: own, off_by: own, off_mode: 'fast' } : {};
}

function levelOf(values: ZoneValues): Opcodes {
  const seconds = (ms: number) => fixed(ms / 1000, 4);
  const all: [string, number, number][] = [
    ['ampeg_delay', values.delayMs, 0],
    ['ampeg_attack', values.attackMs, 0],
    ['ampeg_hold', values.holdMs, 0],
    ['ampeg_decay', values.decayMs, 0],
    ['ampeg_release', values.releaseMs, -1],
  ];
  return {
    ...Object.fromEntries(all.flatMap(([name, ms, usual]) => (ms === usual ? [] : [[name, seconds(ms)]]))),
    ...(values.sustain === 1 ? {} : { ampeg_sustain: fixed(100 * values.sustain, 2) }),
  };
}

const FILTERS = { low: 'lpf', high: 'hpf', band: 'bpf', notch: 'brf' } as const;
/** Resonance at its fullest, in dB over flat. */
const MOST_RESONANCE_DB = 36;

function filterOf(values: ZoneValues): Opcodes {
  const { filter, slope, cutoffHz, resonance, cutoffKeyShare, velocityCutoffCents, fixedVelocity } = values;
  if (filter === 'off') return {};
  // Our cutoff is that of the fullest press, from which a softer one takes away; theirs that of none, to which it adds.
  const atNone = cutoffHz * 2 ** ((velocityCutoffCents * (fixedVelocity / 127 - 1)) / 1200);
  return {
    fil_type: `${FILTERS[filter]}_${slope === 24 ? 4 : 2}p`,
    cutoff: fixed(atNone, 1),
    ...(resonance === 0 ? {} : { resonance: fixed(resonance * MOST_RESONANCE_DB, 1) }),
    ...(cutoffKeyShare === 0 ? {} : { fil_keytrack: Math.round(100 * cutoffKeyShare) }),
    ...(velocityCutoffCents === 0 || fixedVelocity > 0 ? {} : { fil_veltrack: Math.round(velocityCutoffCents) }),
  };
}

function unsaidOf(document: ProjectDocument, part: Part, laid: readonly PlacedZone[]): string[] {
  const values = laid.map(({ zone }) => zoneValues(zone));
  const zoneIds = new Set(part.zoneOrder);
  const movers = Object.values(document.modulators).filter(
    ({ ownerId }) => zoneIds.has(ownerId) || ownerId === part.id,
  );
  const told: [boolean, string][] = [
    [laid.some(({ zone }) => zone.plays.kind === 'loop'), 'whole loops on keys: they go round in time with a song'],
    [values.some(({ answer }) => answer === 'toggle'), 'sounds that go from one press to the next play to their end'],
    [values.some(({ loopMode }) => loopMode === 'both'), 'loops there and back go forwards'],
    [
      laid.some(({ zone }) => (zone.loop?.crossfadeFrames ?? 0) > 0 && zoneValues(zone).loopMode !== 'off'),
      'crossfades of loops, where a player does not know loop_crossfade',
    ],
    [
      values.some(({ keepsLength }) => keepsLength),
      'sounds that keep their length on other keys play faster and slower',
    ],
    [values.some(({ driveDb }) => driveDb > 0), 'drive before the filter'],
    [values.some((one) => one.attackBend !== 0 || one.decayBend !== 0 || one.releaseBend !== 0), 'bends of envelopes'],
    [values.some(({ sameKey }) => sameKey === 'ignore'), 'the same key again is not ignored'],
    [movers.length > 0, 'what moves settings while a sound plays'],
    [(part.doubles ?? []).length > 0, 'doubles under other sounds'],
    [part.helperOrder.length > 0, 'chord, runner and echoes on the way to the keys'],
    [document.channels[part.channelId]!.effectOrder.length > 0, 'the effects of its chain'],
  ];
  return told.flatMap(([is, words]) => (is ? [words] : []));
}
