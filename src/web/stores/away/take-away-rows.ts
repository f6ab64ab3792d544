/** What can leave a project as files, and what each row of it will give: names, number, length and size. Pure. */
import { endingOf, expectedBytes, isFlac, isLossy, MOST_MP3_RATE, type MixEncoding } from '#core/formats/encode.ts';
import { sliceFileNames, type SliceFileOptions, type SliceToWrite } from '#core/formats/export-slices.ts';
import type { MidiWriteOptions } from '#core/formats/midi-file.ts';
import { safeFileName } from '#core/formats/file-names.ts';
import type { Part, ProjectDocument } from '#core/document/schema.ts';
import { patternLengthTicks, patternName } from '#core/queries/patterns.ts';
import { slicesOfCut } from '#core/queries/slices.ts';
import { ROLES, type Role } from '#core/analysis/role-names.ts';
import type { SoundFacts } from '#core/formats/sound-facts.ts';
import { cutTempoBpm } from '#core/queries/loops.ts';
import { orderLayout } from '#core/order/layout.ts';
import { orderSeconds } from '#core/order/seconds.ts';
import { songValues } from '#core/queries/values.ts';
import { zonesOfPart } from '#core/queries/zones.ts';
import { keyName } from '../../canvas/key-names.ts';
import type { MidiSettings } from '#core/takeaway/midi-song.ts';
import { framesPerTick } from '#core/units/time.ts';
import type { InstrumentSettings, StemsSettings } from './more-rows.ts';
import { LOADING, type RowSummary } from './row-summary.ts';

export type RowId = 'mix' | 'stems' | 'slices' | 'midi' | 'instrument' | 'source' | 'project' | 'page';
export const ROW_IDS: readonly RowId[] = ['mix', 'stems', 'slices', 'midi', 'instrument', 'source', 'project', 'page'];

/** As they lie in the source, by the keys that they lie on, or by what they are; then as they lie. */
export type SliceOrder = 'source' | 'key' | 'role';

/** `section ID`: that one. */
export type MixWay = 'rounds' | 'order' | `section ${string}`;

export interface TakeAwaySettings {
  ticked: Record<RowId, boolean>;
  mix: {
    /** So many rounds of what is on now, or along the running order: all of it, or one section. */
    way: MixWay;
    rounds: number;
    encoding: MixEncoding;
    ringOut: boolean;
    onlyPartId: string | null;
    /** Frames a second. */
    sampleRate: number;
  };
  stems: StemsSettings;
  instrument: InstrumentSettings;
  slices: {
    partId: string | null;
    onlySelected: boolean;
    /** As they are played, with their settings and the chain; else as they are cut. */
    asSounding: boolean;
    order: SliceOrder;
    options: SliceFileOptions;
  };
  source: { partId: string | null; ending: 'wav' | 'aiff' };
  midi: MidiSettings & { options: MidiWriteOptions };
}

export const DEFAULT_TAKE_AWAY: TakeAwaySettings = {
  ticked: {
    mix: true,
    stems: false,
    slices: false,
    midi: false,
    instrument: false,
    source: false,
    project: false,
    page: false,
  },
  mix: { way: 'order', rounds: 1, encoding: 'wav24', ringOut: true, onlyPartId: null, sampleRate: 44_100 },
  stems: { withChains: true, withSends: true, byDrum: false, encoding: 'wav24' },
  instrument: { partId: null, ending: 'wav', withShape: true, withChoke: true },
  slices: {
    partId: null,
    onlySelected: false,
    asSounding: false,
    order: 'source',
    options: {
      encoding: 'wav24',
      fadeInMs: 0,
      fadeOutMs: 2,
      mono: false,
      sampleRate: null,
      namePattern: '{source} {number} {slice}',
      together: false,
    },
  },
  source: { partId: null, ending: 'wav' },
  midi: {
    order: true,
    partId: null,
    patternId: null,
    handId: null,
    asHeard: false,
    keys: 'own',
    withLanes: true,
    options: { format: 1, ticksPerBeat: 480 },
  },
};

/** What of the song is rendered. */
export interface MixRange {
  fromTicks: number;
  lengthTicks: number;
  followsOrder: boolean;
}

/** @param roundTicks length of one round of all parts */
export function mixRange(
  document: ProjectDocument,
  { onlyPartId, rounds, way }: TakeAwaySettings['mix'],
  roundTicks: number,
): MixRange {
  const layout = orderLayout(document);
  if (way !== 'rounds' && layout.sections.length > 0) {
    const one = layout.sections.find(({ section }) => way === `section ${section.id}`);
    const fromTicks = one?.startTicks ?? 0;
    return { fromTicks, lengthTicks: one ? one.roundTicks * one.repeats : layout.lengthTicks, followsOrder: true };
  }
  const only = onlyPartId === null ? undefined : document.parts[onlyPartId];
  const lengthTicks = (only ? patternLengthTicks(document, only.activePatternId) : roundTicks) * rounds;
  return { fromTicks: 0, lengthTicks, followsOrder: false };
}

/** How long that lasts, without its tail. */
export function mixSeconds(document: ProjectDocument, { fromTicks, lengthTicks, followsOrder }: MixRange): number {
  if (!followsOrder) return lengthTicks * framesPerTick(songValues(document).tempoBpm, 1);
  const layout = orderLayout(document);
  return orderSeconds(layout, fromTicks + lengthTicks) - orderSeconds(layout, fromTicks);
}

export function mixName(document: ProjectDocument, { onlyPartId, encoding, way }: TakeAwaySettings['mix']): string {
  const section = document.sections[way.slice('section '.length)];
  if (section) return `${safeFileName(`${document.name} - ${section.name}`, 'section')}.${endingOf(encoding)}`;
  const part = onlyPartId === null ? undefined : document.parts[onlyPartId];
  const pattern = part && patternName(document, part);
  const words = part ? `${document.name} - ${part.name} - ${pattern}` : document.name;
  return `${safeFileName(words, 'mix')}.${endingOf(encoding)}`;
}

export function mixRow(document: ProjectDocument, mix: TakeAwaySettings['mix'], range: MixRange): RowSummary {
  const seconds = mixSeconds(document, range);
  const bytes = expectedBytes(Math.round(seconds * mix.sampleRate), 2, mix.encoding, mix.sampleRate);
  const isAbout = mix.ringOut || isFlac(mix.encoding) || isLossy(mix.encoding);
  const problem = mix.encoding === 'mp3' && mix.sampleRate > MOST_MP3_RATE ? 'MP3 goes up to 48 kHz' : null;
  return { fileName: mixName(document, mix), files: 1, seconds, bytes, isAbout, problem };
}

/** What a file says of a cut's source: the tempo of its loop, and its note where it is a single sound. */
export function factsOfCut(document: ProjectDocument, cutId: string): SoundFacts {
  const cut = document.cuts[cutId]!;
  const [only, ...others] = Object.values(cut.slices);
  const isNote = only && others.length === 0 && only.midi !== null;
  return {
    tempoBpm: cutTempoBpm(document, cut),
    root: isNote ? { key: only.midi!, cents: only.cents ?? 0 } : null,
  };
}

/** The slices of a cut as they are written. @param only their ids; null for all */
export function slicesToWrite(
  document: ProjectDocument,
  cutId: string,
  only: ReadonlySet<string> | null,
): (SliceToWrite & { id: string })[] {
  const part = document.parts[document.cuts[cutId]!.partId]!;
  const keys = new Map(
    zonesOfPart(document, part).flatMap((one) =>
      one.cut.id === cutId && one.keys ? [[one.at.slice.id, one.keys.low] as const] : [],
    ),
  );
  // Numbers of three digits: so they lie in the order of the keys.
  const keyWords = (key: number | undefined) =>
    key === undefined ? '' : `${String(key).padStart(3, '0')} ${keyName(key)}`;
  return slicesOfCut(document, cutId)
    .filter(({ slice }) => !only || only.has(slice.id))
    .map(({ startFrame, endFrame, label, slice }) => {
      return { id: slice.id, startFrame, endFrame, name: label, role: slice.role, key: keyWords(keys.get(slice.id)) };
    });
}

/** A slice that is written, and the cut that it is of. */
export interface SliceOfCut {
  cutId: string;
  slice: SliceToWrite & { id: string };
}

/** The slices of a part in an order. @param only their ids; null for all */
export function slicesInOrder(
  document: ProjectDocument,
  part: Part,
  only: ReadonlySet<string> | null,
  order: SliceOrder,
): SliceOfCut[] {
  const all = part.cutOrder.flatMap((cutId) => slicesToWrite(document, cutId, only).map((slice) => ({ cutId, slice })));
  const rank = ({ slice: { key, role } }: SliceOfCut): string | number => {
    if (order === 'key') return key || LAST;
    return order === 'role' ? ROLES.indexOf((role ?? 'other') as Role) : 0;
  };
  const compare = (a: string | number, b: string | number) => (a < b ? -1 : a > b ? 1 : 0);
  return all.sort((a, b) => compare(rank(a), rank(b)));
}

/** What lies on no key comes last. */
const LAST = '~';

export function slicesRow(
  document: ProjectDocument,
  part: Part,
  slices: readonly SliceOfCut[],
  { options, asSounding }: Pick<TakeAwaySettings['slices'], 'options' | 'asSounding'>,
  isLoaded: boolean,
): RowSummary {
  let seconds = 0;
  let bytes = 0;
  let longest = 0;
  for (const { cutId, slice } of slices) {
    const source = document.sources[document.cuts[cutId]!.sourceId]!;
    const channels = options.mono ? 1 : asSounding ? 2 : source.channels;
    const rate = options.sampleRate ?? source.sampleRate;
    const frames = slice.endFrame - slice.startFrame;
    longest = Math.max(longest, frames / source.sampleRate);
    seconds += frames / source.sampleRate;
    bytes += expectedBytes(Math.round((frames * rate) / source.sampleRate), channels, options.encoding);
  }
  const names = sliceFileNames(
    slices.slice(0, 1).map(({ slice }) => slice),
    part.name,
    options,
  );
  const problem = slices.length === 0 ? 'no slice is selected' : isLoaded ? null : LOADING;
  const isAbout = endingOf(options.encoding) === 'flac' || asSounding;
  if (!options.together) return { fileName: names[0] ?? '', files: slices.length, seconds, bytes, isAbout, problem };
  const share = (longest * slices.length) / Math.max(1e-9, seconds);
  const fileName = togetherName(part);
  return { fileName, files: 1, seconds: seconds * share, bytes: Math.round(bytes * share), isAbout: true, problem };
}

export const togetherName = ({ name }: Part) => `${safeFileName(name, 'slices')} in equal lengths.wav`;

/** @param cutId the cut whose source it is */
export function sourceRow(
  document: ProjectDocument,
  part: Part,
  cutId: string,
  ending: 'wav' | 'aiff',
  isLoaded: boolean,
): RowSummary {
  const { frames, sampleRate, channels } = document.sources[document.cuts[cutId]!.sourceId]!;
  return {
    fileName: `${safeFileName(part.name, 'sound')} with markers.${ending}`,
    files: 1,
    seconds: frames / sampleRate,
    // As few bits as keep every sample: most often 16.
    bytes: expectedBytes(frames, channels, 'wav16'),
    isAbout: true,
    problem: isLoaded ? null : LOADING,
  };
}
