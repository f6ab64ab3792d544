/** What can leave a project as files, and what each row of it will give: names, number, length and size. Pure. */
import type { AudioEncoding } from '#core/formats/encode.ts';
import { endingOf, expectedBytes } from '#core/formats/encode.ts';
import { sliceFileNames, type SliceFileOptions, type SliceToWrite } from '#core/formats/export-slices.ts';
import { safeFileName } from '#core/formats/file-names.ts';
import { isHome, type Part, type ProjectDocument } from '#core/project/schema.ts';
import { patternLengthTicks } from '#core/queries/patterns.ts';
import { slicesOfCut } from '#core/queries/slices.ts';
import { songValues } from '#core/queries/values.ts';
import { framesPerTick } from '#core/units/time.ts';

export type RowId = 'mix' | 'slices' | 'source';
export const ROW_IDS: readonly RowId[] = ['mix', 'slices', 'source'];

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
}

export const DEFAULT_TAKE_AWAY: TakeAwaySettings = {
  ticked: { mix: true, slices: false, source: false },
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
  const pattern = part && (isHome(part.activePatternId) ? 'home' : document.patterns[part.activePatternId]!.name);
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
