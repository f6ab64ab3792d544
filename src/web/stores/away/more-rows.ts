/** Stems, an instrument and the whole project: what each of these rows will give. Pure. */
import { expectedBytes, endingOf, type AudioEncoding } from '#core/formats/encode.ts';
import { NamesOnce, safeFileName } from '#core/formats/file-names.ts';
import { sfzInstrument, type SfzInstrument } from '#core/takeaway/sfz.ts';
import type { Part, ProjectDocument } from '#core/document/schema.ts';
import { stemsOf } from '#core/queries/stems.ts';
import { LOADING, type RowSummary } from './row-summary.ts';

export interface StemsSettings {
  withChains: boolean;
  withSends: boolean;
  /** Each kind of drum of a part by itself. */
  byDrum: boolean;
  encoding: AudioEncoding;
}
export interface InstrumentSettings {
  partId: string | null;
  ending: 'wav' | 'flac';
  withShape: boolean;
  withChoke: boolean;
}

/** Bytes of a stereo frame, when stored as FLAC about so much is left (see encode.ts). */
const SOUND_FLAC_SHARE = 0.6;
/** A project beside its sounds, a record about. */
const JSON_BYTES = 30_000;

export function stemNames(
  document: ProjectDocument,
  { encoding, byDrum }: Pick<StemsSettings, 'encoding' | 'byDrum'>,
): string[] {
  const names = new NamesOnce();
  return stemsOf(document, byDrum).map(({ name }, place) => {
    const number = String(place + 1).padStart(2, '0');
    const words = safeFileName(`${document.name} - ${number} ${name}`, `stem ${number}`);
    return names.take(words, `.${endingOf(encoding)}`);
  });
}

/** @param mix what the mix is told to be: the stems are as long */
export function stemsRow(
  document: ProjectDocument,
  settings: StemsSettings,
  seconds: number,
  rate: number,
): RowSummary {
  const names = stemNames(document, settings);
  const each = expectedBytes(Math.round(seconds * rate), 2, settings.encoding);
  return {
    fileName: names[0] ?? '',
    files: names.length,
    seconds: seconds * names.length,
    bytes: each * names.length,
    isAbout: true,
    problem: null,
  };
}

export const instrumentFolder = (part: Part) => `${safeFileName(part.name, 'part')} samples`;

export function instrumentOf(document: ProjectDocument, part: Part, settings: InstrumentSettings): SfzInstrument {
  const { withShape, withChoke, ending } = settings;
  return sfzInstrument(document, part, { withShape, withChoke, ending, folder: instrumentFolder(part) });
}

export function instrumentRow(document: ProjectDocument, part: Part, settings: InstrumentSettings): RowSummary {
  const { samples, text, zones } = instrumentOf(document, part, settings);
  let seconds = 0;
  let bytes = text.length;
  for (const { sourceId, startFrame, endFrame } of samples) {
    const { sampleRate, channels } = document.sources[sourceId]!;
    seconds += (endFrame - startFrame) / sampleRate;
    bytes += expectedBytes(endFrame - startFrame, channels, settings.ending === 'flac' ? 'flac16' : 'wav16');
  }
  return {
    fileName: `${safeFileName(part.name, 'part')}.sfz`,
    files: samples.length + 1,
    seconds,
    bytes,
    isAbout: true,
    problem: zones === 0 ? 'none of these sounds lies on a key' : null,
  };
}

export function projectRow(document: ProjectDocument, isLoaded: boolean): RowSummary {
  const sources = Object.values(document.sources);
  const seconds = sources.reduce((sum, { frames, sampleRate }) => sum + frames / sampleRate, 0);
  const samples = sources.reduce((sum, { frames, channels }) => sum + frames * channels, 0);
  return {
    fileName: projectFileName(document),
    files: 1,
    seconds,
    bytes: Math.round(samples * 2 * SOUND_FLAC_SHARE) + JSON_BYTES,
    isAbout: true,
    problem: isLoaded ? null : LOADING,
  };
}

/** Beside its sounds: code and looks of the page, and of the audio thread. */
const PAGE_BYTES = 640_000;
/** Sound as WAV of 16 bit, packed, as base64. */
const PAGE_SOUND_SHARE = 1.15;

export function pageRow(document: ProjectDocument): RowSummary {
  const { seconds } = projectRow(document, true);
  const samples = Object.values(document.sources).reduce((sum, { frames, channels }) => sum + frames * channels, 0);
  return {
    fileName: pageFileName(document),
    files: 1,
    seconds,
    bytes: PAGE_BYTES + Math.round(samples * 2 * PAGE_SOUND_SHARE),
    isAbout: true,
    problem: null,
  };
}

export const pageFileName = ({ name }: ProjectDocument) => `${safeFileName(name, 'project')}.html`;
export const projectFileName = ({ name }: ProjectDocument) => `${safeFileName(name, 'project')}.zip`;
