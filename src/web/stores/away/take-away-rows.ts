/** What can leave a project as files, and what each row of it will give: names, number, length and size. Pure. */
import type { AudioEncoding } from '#core/formats/encode.ts';
import { endingOf, expectedBytes } from '#core/formats/encode.ts';
import { sliceFileNames, type SliceFileOptions, type SliceToWrite } from '#core/formats/export-slices.ts';
import type { MidiSong, MidiWriteOptions } from '#core/formats/midi-file.ts';
import { safeFileName } from '#core/formats/file-names.ts';
import { isHome } from '#core/document/home-id.ts';
import type { Part, ProjectDocument } from '#core/document/schema.ts';
import { patternNotes, type KeyNote } from '#core/queries/pattern-notes.ts';
import { patternLengthTicks, patternName } from '#core/queries/patterns.ts';
import { slicesOfCut } from '#core/queries/slices.ts';
import { timedTicks } from '#core/strips/timing.ts';
import { partTiming } from '#core/queries/loops.ts';
import { songValues } from '#core/queries/values.ts';
import { framesPerTick } from '#core/units/time.ts';

export type RowId = 'mix' | 'slices' | 'source' | 'midi';
export const ROW_IDS: readonly RowId[] = ['mix', 'slices', 'source', 'midi'];

export interface RowSummary {
  /** The file, or the first of them. */
  fileName: string;
  files: number;
  seconds: number;
  bytes: number;
  /** The size is about right only. */
  isAbout: boolean;
  /** Why it cannot be made now; null when it can. */
  problem: string | null;
}

export interface TakeAwaySettings {
  ticked: Record<RowId, boolean>;
  mix: { rounds: number; encoding: AudioEncoding; ringOut: boolean; onlyPartId: string | null };
  slices: { partId: string | null; onlySelected: boolean; options: SliceFileOptions };
  source: { partId: string | null };
  /** Part null: all parts, a track each. Pattern null: what it plays; hand null: what lies on the table. */
  midi: {
    partId: string | null;
    patternId: string | null;
    handId: string | null;
    /** With the part's swing, groove and feel; else as it is written. */
    asHeard: boolean;
    options: MidiWriteOptions;
  };
}

export const DEFAULT_TAKE_AWAY: TakeAwaySettings = {
  ticked: { mix: true, slices: false, source: false, midi: false },
  mix: { rounds: 1, encoding: 'wav24', ringOut: true, onlyPartId: null },
  slices: {
    partId: null,
    onlySelected: false,
    options: {
      encoding: 'wav24',
      fadeInMs: 0,
      fadeOutMs: 2,
      mono: false,
      sampleRate: null,
      namePattern: '{source} {number} {slice}',
    },
  },
  source: { partId: null },
  midi: {
    partId: null,
    patternId: null,
    handId: null,
    asHeard: false,
    options: { format: 1, ticksPerBeat: 480 },
  },
};

/** There is nothing to take away. */
export const NO_ROW: RowSummary = {
  fileName: '',
  files: 0,
  seconds: 0,
  bytes: 0,
  isAbout: false,
  problem: 'no part yet',
};
const LOADING = 'the sound is still being loaded';

/** @param roundTicks length of one round of all parts */
export function mixTicks(
  document: ProjectDocument,
  { onlyPartId, rounds }: TakeAwaySettings['mix'],
  roundTicks: number,
): number {
  const only = onlyPartId === null ? undefined : document.parts[onlyPartId];
  return (only ? patternLengthTicks(document, only.activePatternId) : roundTicks) * rounds;
}

export function mixName(document: ProjectDocument, { onlyPartId, encoding }: TakeAwaySettings['mix']): string {
  const part = onlyPartId === null ? undefined : document.parts[onlyPartId];
  const pattern = part && patternName(document, part);
  const words = part ? `${document.name} - ${part.name} - ${pattern}` : document.name;
  return `${safeFileName(words, 'mix')}.${endingOf(encoding)}`;
}

/** @param sampleRate of the mix */
export function mixRow(
  document: ProjectDocument,
  mix: TakeAwaySettings['mix'],
  ticks: number,
  sampleRate: number,
): RowSummary {
  const seconds = (ticks * framesPerTick(songValues(document).tempoBpm, sampleRate)) / sampleRate;
  const bytes = expectedBytes(Math.round(seconds * sampleRate), 2, mix.encoding);
  const isAbout = mix.ringOut || endingOf(mix.encoding) === 'flac';
  return { fileName: mixName(document, mix), files: 1, seconds, bytes, isAbout, problem: null };
}

/** Parts whose patterns are written. */
function midiParts({ parts, partOrder }: ProjectDocument, partId: string | null): Part[] {
  return (partId !== null && parts[partId] ? [partId] : partOrder).map((id) => parts[id]!);
}

type MidiSettings = TakeAwaySettings['midi'];

/** The pattern of a part that is written, and the hand of it; another pattern than the one that plays is of one part. */
function writtenTake({ patterns }: ProjectDocument, { id, activePatternId }: Part, settings: MidiSettings) {
  const isOwn = settings.partId === id && settings.patternId !== null;
  const isThere = isOwn && (isHome(settings.patternId!) || patterns[settings.patternId!]?.partId === id);
  const patternId = isThere ? settings.patternId! : activePatternId;
  const handId = isThere && patterns[patternId]?.hands[settings.handId ?? ''] ? settings.handId : null;
  return { patternId, handId };
}

function takeName(document: ProjectDocument, part: Part, settings: MidiSettings): string {
  const { patternId, handId } = writtenTake(document, part, settings);
  const pattern = document.patterns[patternId];
  if (!pattern) return 'home';
  if (handId === null) return pattern.name;
  return pattern.hands[handId]!.name ?? `${pattern.name}, hand ${pattern.handOrder.indexOf(handId) + 1}`;
}

function takeNotes(document: ProjectDocument, part: Part, settings: MidiSettings): KeyNote[] {
  const { patternId, handId } = writtenTake(document, part, settings);
  const { notes } = patternNotes(document, part, patternId, handId);
  if (!settings.asHeard) return notes;
  const timing = partTiming(document, part);
  const length = patternLengthTicks(document, patternId);
  return notes
    .map((note) => {
      const ticks = timedTicks(note.positionTicks, timing, length);
      return { ...note, positionTicks: ((ticks % length) + length) % length };
    })
    .sort((a, b) => a.positionTicks - b.positionTicks || a.key - b.key);
}

/** The patterns that are written, as notes; a marker names each kind that there is. */
export function midiSong(document: ProjectDocument, settings: MidiSettings): MidiSong {
  const { tempoBpm, beatsPerBar } = songValues(document);
  const parts = midiParts(document, settings.partId);
  const names = [...new Set(parts.map((part) => takeName(document, part, settings)))];
  return {
    tempoBpm,
    beatsPerBar,
    tracks: parts.map((part) => ({ name: part.name, notes: takeNotes(document, part, settings) })),
    markers: names.map((name) => ({ positionTicks: 0, name })),
  };
}

/** Bytes of a note's start and end, of a track's head and end, about. */
const NOTE_BYTES = 9;
const TRACK_BYTES = 30;

export function midiRow(document: ProjectDocument, settings: MidiSettings, song: MidiSong): RowSummary {
  const parts = midiParts(document, settings.partId);
  const [only, ...others] = parts;
  const words = only && others.length === 0 ? `${only.name} - ${takeName(document, only, settings)}` : document.name;
  const notes = song.tracks.reduce((sum, track) => sum + track.notes.length, 0);
  const ticks = Math.max(
    0,
    ...parts.map((part) => patternLengthTicks(document, writtenTake(document, part, settings).patternId)),
  );
  return {
    fileName: `${safeFileName(words, 'pattern')}.mid`,
    files: 1,
    seconds: ticks * framesPerTick(songValues(document).tempoBpm, 1),
    bytes: notes * NOTE_BYTES + (parts.length + 1) * TRACK_BYTES,
    isAbout: true,
    problem: notes === 0 ? 'none of these sounds lies on a key' : null,
  };
}

/** The slices of a cut as they are written. @param only their ids; null for all */
export function slicesToWrite(
  document: ProjectDocument,
  cutId: string,
  only: ReadonlySet<string> | null,
): SliceToWrite[] {
  return slicesOfCut(document, cutId)
    .filter(({ slice }) => !only || only.has(slice.id))
    .map(({ startFrame, endFrame, label }) => ({ startFrame, endFrame, name: label }));
}

export function slicesRow(
  document: ProjectDocument,
  part: Part,
  slicesByCut: ReadonlyMap<string, readonly SliceToWrite[]>,
  options: SliceFileOptions,
  isLoaded: boolean,
): RowSummary {
  let seconds = 0;
  let bytes = 0;
  for (const [cutId, slices] of slicesByCut) {
    const source = document.sources[document.cuts[cutId]!.sourceId]!;
    const channels = options.mono ? 1 : source.channels;
    const rate = options.sampleRate ?? source.sampleRate;
    for (const { startFrame, endFrame } of slices) {
      const frames = endFrame - startFrame;
      seconds += frames / source.sampleRate;
      bytes += expectedBytes(Math.round((frames * rate) / source.sampleRate), channels, options.encoding);
    }
  }
  const slices = [...slicesByCut.values()].flat();
  const fileName = sliceFileNames(slices.slice(0, 1), part.name, options)[0] ?? '';
  const problem = slices.length === 0 ? 'no slice is selected' : isLoaded ? null : LOADING;
  const isAbout = endingOf(options.encoding) === 'flac';
  return { fileName, files: slices.length, seconds, bytes, isAbout, problem };
}

/** @param cutId the cut whose source it is */
export function sourceRow(document: ProjectDocument, part: Part, cutId: string, isLoaded: boolean): RowSummary {
  const { frames, sampleRate, channels } = document.sources[document.cuts[cutId]!.sourceId]!;
  return {
    fileName: `${safeFileName(part.name, 'sound')} with markers.wav`,
    files: 1,
    seconds: frames / sampleRate,
    // As few bits as keep every sample: most often 16.
    bytes: expectedBytes(frames, channels, 'wav16'),
    isAbout: true,
    problem: isLoaded ? null : LOADING,
  };
}
