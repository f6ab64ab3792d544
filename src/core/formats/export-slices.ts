/** Slices as files of their own: cut out, faded, mixed down, resampled, named, and packed into one zip. */
import { zipSync } from 'fflate';
import { frameCount, mixToMono, type AudioData } from '../dsp/audio.ts';
import { resampleFine } from '../dsp/fine-resample.ts';
import { AppError } from '../units/errors.ts';
import { msToFrames } from '../units/time.ts';
import { encodeAudio, type AudioEncoding } from './encode.ts';
import { NamesOnce, safeFileName } from './file-names.ts';
import { writeWav, type WavEncoding } from './wav-write.ts';

export interface SliceFileOptions {
  encoding: AudioEncoding;
  /** Fades at the start and the end, 0 to 10 ms. */
  fadeInMs: number;
  fadeOutMs: number;
  mono: boolean;
  /** Frames a second; null keeps the source's. */
  sampleRate: number | null;
  /**
   * `{source}`, `{number}`, `{slice}`, `{role}` and `{key}` stand for the source's name, the slice's place, its name, what it
   * is taken for, and the key that it lies on: its number and its name.
   */
  namePattern: string;
  /** One file of all, each in a stretch as long as the longest, with a marker at each; else a file each. */
  together?: boolean;
}

export interface SliceToWrite {
  startFrame: number;
  endFrame: number;
  name: string;
  /** What it is taken for, and its key; empty where it has none. */
  role?: string;
  key?: string;
}

/** The samples of one slice as they go into its file. @throws RangeError for a fade outside 0 to 10 ms */
export function sliceAudio(
  audio: AudioData,
  { startFrame, endFrame }: SliceToWrite,
  options: SliceFileOptions,
): AudioData {
  for (const ms of [options.fadeInMs, options.fadeOutMs]) {
    if (!(ms >= 0 && ms <= 10)) throw new RangeError(`a fade of ${ms} ms is outside 0 to 10 ms`);
  }
  const cut: AudioData = {
    sampleRate: audio.sampleRate,
    channels: audio.channels.map((channel) => channel.slice(startFrame, endFrame)),
  };
  fadeEnds(cut, options.fadeInMs, options.fadeOutMs);
  const channels = options.mono ? [mixToMono(cut)] : cut.channels;
  const rate = options.sampleRate ?? audio.sampleRate;
  if (rate === audio.sampleRate) return { sampleRate: rate, channels };
  const increment = audio.sampleRate / rate;
  const length = Math.round(frameCount(cut) / increment);
  return { sampleRate: rate, channels: channels.map((channel) => resampleFine(channel, increment, length, 'steep')) };
}

function fadeEnds(audio: AudioData, fadeInMs: number, fadeOutMs: number): void {
  const frames = frameCount(audio);
  const fadeIn = Math.min(frames, msToFrames(fadeInMs, audio.sampleRate));
  const fadeOut = Math.min(frames, msToFrames(fadeOutMs, audio.sampleRate));
  for (const channel of audio.channels) {
    for (let i = 0; i < fadeIn; i++) channel[i]! *= (i + 1) / (fadeIn + 1);
    for (let i = 0; i < fadeOut; i++) channel[frames - 1 - i]! *= (i + 1) / (fadeOut + 1);
  }
}

/**
 * File names by the pattern, safe on every system, each used once.
 * @param names what lies in the same folder already
 */
export function sliceFileNames(
  slices: readonly SliceToWrite[],
  sourceName: string,
  options: SliceFileOptions,
  names = new NamesOnce(),
): string[] {
  const ending = options.encoding.startsWith('flac') ? '.flac' : '.wav';
  const digits = Math.max(2, String(slices.length).length);
  return slices.map(({ name, role = '', key = '' }, index) => {
    const number = String(index + 1).padStart(digits, '0');
    const fields: Record<string, string> = { source: sourceName, number, slice: name, role, key };
    // What stands in a name is never read as a field itself.
    const filled = options.namePattern.replace(/\{(\w+)\}/g, (words, field: string) => fields[field] ?? words);
    return names.take(safeFileName(filled, number), ending);
  });
}

/** Slices of one sound; a part may have several. */
export interface SoundToWrite {
  audio: AudioData;
  slices: readonly SliceToWrite[];
}

/**
 * Slices as files in one zip, numbered through over all sounds.
 * @param onProgress called with 0..1; gives false to cancel
 * @throws AppError `cancelled`, or what an encoder refuses
 */
export async function zipSlices(
  sounds: readonly SoundToWrite[],
  sourceName: string,
  options: SliceFileOptions,
  onProgress: (share: number) => Promise<boolean> = async () => true,
): Promise<Uint8Array<ArrayBuffer>> {
  const all = sounds.flatMap(({ audio, slices }) => slices.map((slice) => ({ audio, slice })));
  const names = sliceFileNames(
    all.map(({ slice }) => slice),
    sourceName,
    options,
  );
  const files: Record<string, Uint8Array> = {};
  for (const [index, { audio, slice }] of all.entries()) {
    if (!(await onProgress(index / all.length))) throw new AppError('cancelled', 'writing the slices was cancelled');
    files[names[index]!] = await encodeAudio(sliceAudio(audio, slice, options), options.encoding);
  }
  // Sound does not shrink by packing: stored as it is, the zip is written at once.
  return zipSync(files, { level: 0 }) as Uint8Array<ArrayBuffer>;
}

/**
 * All slices in one WAV, each in a stretch as long as the longest, so that equal parts cut it anew; a marker with its name
 * at each. Of several rates the first counts; FLAC, which holds no markers, becomes WAV of as many bits.
 * @param onProgress called with 0..1; gives false to cancel
 * @throws AppError `cancelled`; `format.empty` where there is none
 */
export async function slicesTogether(
  sounds: readonly SoundToWrite[],
  options: SliceFileOptions,
  onProgress: (share: number) => Promise<boolean> = async () => true,
): Promise<Uint8Array<ArrayBuffer>> {
  const all = sounds.flatMap(({ audio, slices }) => slices.map((slice) => ({ audio, slice })));
  const first = all[0];
  if (!first) throw new AppError('format.empty', 'there is no slice to write');
  const sampleRate = options.sampleRate ?? first.audio.sampleRate;
  const written: AudioData[] = [];
  for (const [index, { audio, slice }] of all.entries()) {
    if (!(await onProgress(index / all.length))) throw new AppError('cancelled', 'writing the slices was cancelled');
    written.push(sliceAudio(audio, slice, { ...options, sampleRate }));
  }
  const stretch = Math.max(...written.map(frameCount));
  const channelCount = Math.max(...written.map(({ channels }) => channels.length));
  const channels = Array.from({ length: channelCount }, (_, place) => {
    const whole = new Float32Array(stretch * written.length);
    for (const [index, one] of written.entries()) whole.set(one.channels[place] ?? one.channels[0]!, index * stretch);
    return whole;
  });
  const cues = all.map(({ slice }, index) => ({ frame: index * stretch, label: slice.name }));
  return writeWav({ sampleRate, channels }, { encoding: WAV_OF[options.encoding], cues });
}

const WAV_OF: Readonly<Record<AudioEncoding, WavEncoding>> = {
  wav16: 'pcm16',
  wav24: 'pcm24',
  wav32: 'float32',
  flac16: 'pcm16',
  flac24: 'pcm24',
};
