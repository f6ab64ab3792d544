/** Writes files away from the page: slices, a source with its markers, an instrument, a whole project, several in one zip. */
import { Zip, ZipPassThrough } from 'fflate';
import type { ProjectDocument, SourceRef } from '#core/document/schema.ts';
import { frameCount, type AudioData } from '#core/dsp/audio.ts';
import { bounce } from '#core/engine/bounce.ts';
import type { RenderPlan } from '#core/engine/plan/fragments.ts';
import { writeAiff } from '#core/formats/aiff-write.ts';
import {
  sliceAudio,
  slicesTogether,
  zipSlices,
  type SliceFileOptions,
  type SliceToWrite,
  type SoundToWrite,
} from '#core/formats/export-slices.ts';
import { encodeAudio } from '#core/formats/encode.ts';
import type { SoundFacts } from '#core/formats/sound-facts.ts';
import { readWav } from '#core/formats/wav-read.ts';
import { losslessEncoding, writeWav } from '#core/formats/wav-write.ts';
import { pageOf } from '#core/takeaway/page.ts';
import { writeProjectZip } from '#core/takeaway/project-zip.ts';
import type { SfzInstrument } from '#core/takeaway/sfz.ts';
import { AppError } from '#core/units/errors.ts';
import { BlobWriter } from './blob-writer.ts';
import './fast-flac.ts';
import { serve } from './rpc.ts';

export interface NamedFile {
  name: string;
  file: Blob;
}

export interface PlannedSlice {
  plan: RenderPlan;
  lengthTicks: number;
  slice: Omit<SliceToWrite, 'startFrame' | 'endFrame'>;
}

export type ExportRequest =
  | { kind: 'slices'; sounds: SoundToWrite[]; sourceName: string; options: SliceFileOptions }
  /** Slices that are played first, each by a plan of its own. */
  | { kind: 'sounding'; plans: PlannedSlice[]; sourceName: string; options: SliceFileOptions }
  | {
      kind: 'source';
      ending: 'wav' | 'aiff';
      audio: AudioData;
      slices: SliceToWrite[];
      loop: { startFrame: number; endFrame: number } | null;
      facts: SoundFacts;
    }
  | { kind: 'instrument'; name: string; instrument: SfzInstrument; folder: string; ending: 'wav' | 'flac' }
  | { kind: 'project'; document: ProjectDocument }
  /** @param engineUrl where the code of the audio thread lies */
  | { kind: 'page'; document: ProjectDocument; engineUrl: string }
  /** Puts finished files into one zip. */
  | { kind: 'pack'; files: NamedFile[] };

export interface ExportResult {
  file: Blob;
  /** Of a project: sounds that could not be had. */
  missing: string[];
}

/** A copy: what the page shares with its workers is not to be written to. */
function ownAudio({ sampleRate, channels }: AudioData): AudioData {
  return { sampleRate, channels: channels.map((channel) => channel.slice()) };
}

/** A sound as the server has it; null where it has none. */
async function sourceAudio({ id }: Pick<SourceRef, 'id'>): Promise<AudioData | null> {
  const response = await fetch(`/api/sources/${id}/audio`);
  if (response.status === 404) return null;
  if (!response.ok) throw new AppError('audio.missing', 'a sound could not be fetched');
  return readWav(new Uint8Array(await response.arrayBuffer())).audio;
}

/** A zip that is written entry by entry. Sound does not shrink by packing: it is stored as it is. */
class ZipWriter {
  private readonly bytes = new BlobWriter();
  private readonly zip = new Zip((error, data) => {
    if (error) throw error;
    this.bytes.write(data as Uint8Array<ArrayBuffer>);
  });

  add(name: string, bytes: Uint8Array): void {
    const entry = new ZipPassThrough(name);
    this.zip.add(entry);
    entry.push(bytes, true);
  }

  /** Reads a file on the way, a piece at a time. */
  async addFile({ name, file }: NamedFile): Promise<void> {
    const entry = new ZipPassThrough(name);
    this.zip.add(entry);
    const reader = file.stream().getReader();
    for (let piece = await reader.read(); !piece.done; piece = await reader.read()) entry.push(piece.value);
    entry.push(new Uint8Array(), true);
  }

  finish(): Blob {
    this.zip.end();
    return this.bytes.finish('application/zip');
  }
}

type Job = { progress: (share: number) => Promise<boolean> };
const file = (blob: Blob): ExportResult => ({ file: blob, missing: [] });

async function goOn(job: Job, share: number): Promise<void> {
  if (!(await job.progress(share))) throw new AppError('cancelled', 'writing was cancelled');
}

async function writeInstrument(
  { name, instrument, folder, ending }: ExportRequest & { kind: 'instrument' },
  job: Job,
): Promise<ExportResult> {
  const zip = new ZipWriter();
  zip.add(`${name}.sfz`, new TextEncoder().encode(instrument.text));
  const audios = new Map<string, AudioData | null>();
  const missing = new Set<string>();
  for (const [place, sample] of instrument.samples.entries()) {
    await goOn(job, place / instrument.samples.length);
    if (!audios.has(sample.sourceId)) audios.set(sample.sourceId, await sourceAudio({ id: sample.sourceId }));
    const whole = audios.get(sample.sourceId);
    if (!whole) {
      missing.add(sample.file);
      continue;
    }
    const plain = {
      encoding: 'wav24' as const,
      fadeInMs: 0,
      fadeOutMs: 0,
      mono: false,
      sampleRate: null,
      namePattern: '',
    };
    const audio = sliceAudio(whole, { ...sample, name: '' }, plain);
    const encoding = losslessEncoding(audio);
    const isFlac = ending === 'flac' && encoding !== 'float32';
    const bytes = isFlac
      ? await encodeAudio(audio, encoding === 'pcm16' ? 'flac16' : 'flac24')
      : writeWav(audio, { encoding, loop: sample.loop ?? undefined });
    zip.add(`${folder}/${sample.file}`, bytes);
  }
  return { file: zip.finish(), missing: [...missing] };
}

async function writeProject(document: ProjectDocument, job: Job): Promise<ExportResult> {
  const bytes = new BlobWriter();
  const missing = await writeProjectZip(document, { sound: sourceAudio, take: bytes.write, onProgress: job.progress });
  return { file: bytes.finish('application/zip'), missing };
}

/** The page that plays: what the build has made of it, and the sounds of the project, one at a time. */
async function writePage(document: ProjectDocument, engineUrl: string, job: Job): Promise<ExportResult> {
  const text = async (path: string) => {
    const response = await fetch(path);
    if (!response.ok) throw new AppError('not-found', 'what the page is made of could not be fetched');
    return response.text();
  };
  const [script, style, engine] = await Promise.all([text('/page/page.js'), text('/page/page.css'), text(engineUrl)]);
  const sounds: { id: string; wav: Uint8Array }[] = [];
  const missing: string[] = [];
  const sources = Object.values(document.sources);
  for (const [place, source] of sources.entries()) {
    await goOn(job, place / sources.length);
    const audio = await sourceAudio(source);
    if (audio) sounds.push({ id: source.id, wav: writeWav(audio, { encoding: losslessEncoding(audio) }) });
    else missing.push(source.name);
  }
  return { file: new Blob(pageOf({ document, sounds, script, style, engine }), { type: 'text/html' }), missing };
}

async function answer(request: ExportRequest, job: Job): Promise<ExportResult> {
  if (request.kind === 'pack') {
    const zip = new ZipWriter();
    for (const [place, one] of request.files.entries()) {
      await goOn(job, place / request.files.length);
      await zip.addFile(one);
    }
    return file(zip.finish());
  }
  if (request.kind === 'project') return writeProject(request.document, job);
  if (request.kind === 'page') return writePage(request.document, request.engineUrl, job);
  if (request.kind === 'instrument') return writeInstrument(request, job);
  if (request.kind === 'slices') return writeSlices(request.sounds, request, job.progress);
  if (request.kind === 'sounding') {
    const sounds = await playedSlices(request.plans, job);
    return writeSlices(sounds, request, (share) => job.progress(PLAYING_SHARE + (1 - PLAYING_SHARE) * share));
  }
  const audio = ownAudio(request.audio);
  const cues = request.slices.map(({ startFrame, name }) => ({ frame: startFrame, label: name }));
  const { facts, loop } = request;
  const encoding = losslessEncoding(audio);
  if (request.ending === 'aiff') {
    const bitsPerSample = encoding === 'pcm16' ? 16 : 24;
    const aiff = writeAiff(audio, { bitsPerSample, cues, loop: loop ?? undefined, facts });
    return file(new Blob([aiff], { type: 'audio/aiff' }));
  }
  const wav = writeWav(audio, { encoding, cues, loop: loop ?? undefined, facts });
  return file(new Blob([wav], { type: 'audio/wav' }));
}

/** Of the time that it takes: playing, against writing. */
const PLAYING_SHARE = 0.8;

async function writeSlices(
  sounds: readonly SoundToWrite[],
  { sourceName, options }: { sourceName: string; options: SliceFileOptions },
  onProgress: Job['progress'],
): Promise<ExportResult> {
  if (options.together) {
    const wav = await slicesTogether(sounds, options, onProgress);
    return file(new Blob([wav], { type: 'audio/wav' }));
  }
  const zip = await zipSlices(sounds, sourceName, options, onProgress);
  return file(new Blob([zip], { type: 'application/zip' }));
}

async function playedSlices(plans: readonly PlannedSlice[], job: Job): Promise<SoundToWrite[]> {
  const sounds: SoundToWrite[] = [];
  for (const [place, { plan, lengthTicks, slice }] of plans.entries()) {
    await goOn(job, (PLAYING_SHARE * place) / plans.length);
    const audio = await bounce(plan, { lengthTicks, ringOut: true, blockFrames: 1024 });
    sounds.push({ audio, slices: [{ ...slice, startFrame: 0, endFrame: frameCount(audio) }] });
  }
  return sounds;
}

serve<ExportRequest>(async (request, job) => ({ result: await answer(request, job) }));
