/**
 * Reads RIFF/WAVE. Layout after IBM and Microsoft, "Multimedia Programming Interface and Data Specifications 1.0"
 * (1991), chapter "Waveform Audio File Format", and Microsoft's WAVEFORMATEXTENSIBLE note (2001).
 */
import { textOfBytes } from './chunk-text.ts';
import type { AudioData } from '../dsp/audio.ts';
import { AppError } from '../units/errors.ts';

/** A named place in a file. */
export interface CuePoint {
  frame: number;
  label: string;
}

/** A loop of the sampler chunk: first frame, and the frame after the last. */
export interface SamplerLoop {
  startFrame: number;
  endFrame: number;
}

export interface WavFile {
  audio: AudioData;
  bitsPerSample: number;
  isFloat: boolean;
  cues: CuePoint[];
  loops: SamplerLoop[];
}

const FORMAT_PCM = 1;
const FORMAT_FLOAT = 3;
/** Of the registered numbers of encodings (RFC 2361, appendix A) those that are met. */
const ENCODINGS: Record<number, string> = { 2: 'ADPCM', 6: 'A-law', 7: 'µ-law', 17: 'ADPCM', 80: 'MPEG', 85: 'MP3' };
const FORMAT_EXTENSIBLE = 0xfffe;

/** What a sound may say of itself, in samples a second: everything else is a broken header. */
const MIN_RATE = 1000;
const MAX_RATE = 768_000;

interface Chunk {
  id: string;
  start: number;
  size: number;
}

/** Does this look like RIFF/WAVE? */
export function isWav(bytes: Uint8Array): boolean {
  return fourCc(bytes, 0) === 'RIFF' && fourCc(bytes, 8) === 'WAVE';
}

/**
 * Decodes a WAVE file: 8, 16, 24, 32-bit integer, 32 and 64-bit float, with cue points, their labels and sampler
 * loops. A data chunk cut short (or with the size 0xFFFFFFFF of a recorder that was stopped) is read as far as it goes.
 * @throws AppError `format.broken`, `format.empty` or `format.unknown` (an encoding that is not PCM)
 */
export function readWav(bytes: Uint8Array): WavFile {
  if (!isWav(bytes)) throw new AppError('format.broken', 'no RIFF/WAVE header');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const chunks = listChunks(bytes, view, 12, bytes.byteLength);
  const { formatTag, channelCount, sampleRate, bitsPerSample, frames, dataStart } = layoutOf(view, chunks);
  const bytesPerSample = Math.ceil(bitsPerSample / 8);
  const frameBytes = bytesPerSample * channelCount;
  const readSample = sampleReader(view, formatTag === FORMAT_FLOAT, bitsPerSample)!;

  const channels = Array.from({ length: channelCount }, () => new Float32Array(frames));
  channels.forEach((channel, index) => {
    let at = dataStart + index * bytesPerSample;
    for (let i = 0; i < frames; i++, at += frameBytes) channel[i] = readSample(at);
  });
  return {
    audio: { sampleRate, channels },
    bitsPerSample,
    isFloat: formatTag === FORMAT_FLOAT,
    cues: readCues(bytes, view, chunks).filter((cue) => cue.frame < frames),
    loops: readSamplerLoops(view, chunks).filter((loop) => loop.startFrame < loop.endFrame && loop.endFrame <= frames),
  };
}

/**
 * What a WAVE file holds, told from its beginning alone: for audio that arrives piece by piece.
 * @param head the first bytes, up to the data chunk at least
 * @param byteLength length of the whole file
 * @throws AppError as {@link readWav} does
 */
export function readWavLayout(
  head: Uint8Array,
  byteLength: number,
): { sampleRate: number; channels: number; frames: number } {
  if (!isWav(head)) throw new AppError('format.broken', 'no RIFF/WAVE header');
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
  const { sampleRate, channelCount, frames } = layoutOf(view, listChunks(head, view, 12, byteLength));
  return { sampleRate, channels: channelCount, frames };
}

function layoutOf(view: DataView, chunks: readonly Chunk[]) {
  const fmt = chunks.find((chunk) => chunk.id === 'fmt ');
  const data = chunks.find((chunk) => chunk.id === 'data');
  if (!fmt || fmt.size < 16) throw new AppError('format.broken', 'the file has no format chunk');
  if (!data) throw new AppError('format.broken', 'the file has no data chunk');

  let formatTag = view.getUint16(fmt.start, true);
  const channelCount = view.getUint16(fmt.start + 2, true);
  const sampleRate = view.getUint32(fmt.start + 4, true);
  const bitsPerSample = view.getUint16(fmt.start + 14, true);
  if (formatTag === FORMAT_EXTENSIBLE && fmt.size >= 26) formatTag = view.getUint16(fmt.start + 24, true);
  if (formatTag !== FORMAT_PCM && formatTag !== FORMAT_FLOAT) {
    const encoding = ENCODINGS[formatTag] ?? `encoding ${formatTag}`;
    throw new AppError('format.unknown', `a WAV of ${encoding} is not taken in: save it as plain PCM or float`, {
      encoding: formatTag,
    });
  }
  if (sampleRate < MIN_RATE || sampleRate > MAX_RATE) {
    throw new AppError('format.broken', `the file says that it has ${sampleRate} samples a second`, { sampleRate });
  }
  if (channelCount < 1 || !sampleReader(view, formatTag === FORMAT_FLOAT, bitsPerSample)) {
    throw new AppError('format.broken', `${channelCount} channels of ${bitsPerSample} bits cannot be read`);
  }
  const frames = Math.floor(data.size / (Math.ceil(bitsPerSample / 8) * channelCount));
  if (frames === 0) throw new AppError('format.empty', 'the file holds no sound');
  return { formatTag, channelCount, sampleRate, bitsPerSample, frames, dataStart: data.start };
}

function sampleReader(view: DataView, isFloat: boolean, bits: number): ((at: number) => number) | null {
  if (isFloat && bits === 32) return (at) => view.getFloat32(at, true);
  if (isFloat && bits === 64) return (at) => view.getFloat64(at, true);
  if (isFloat) return null;
  if (bits === 8) return (at) => (view.getUint8(at) - 128) / 128;
  if (bits === 16) return (at) => view.getInt16(at, true) / 32768;
  if (bits === 24) return (at) => (view.getUint16(at, true) | (view.getInt8(at + 2) << 16)) / 8388608;
  if (bits === 32) return (at) => view.getInt32(at, true) / 2147483648;
  return null;
}

function listChunks(bytes: Uint8Array, view: DataView, from: number, to: number): Chunk[] {
  const chunks: Chunk[] = [];
  let at = from;
  while (at + 8 <= Math.min(to, bytes.byteLength)) {
    const id = fourCc(bytes, at);
    const size = Math.min(view.getUint32(at + 4, true), to - at - 8);
    chunks.push({ id, start: at + 8, size });
    at += 8 + size + (size & 1);
  }
  return chunks;
}

function readCues(bytes: Uint8Array, view: DataView, chunks: Chunk[]): CuePoint[] {
  const cue = chunks.find((chunk) => chunk.id === 'cue ');
  if (!cue || cue.size < 4) return [];
  const labels = new Map<number, string>();
  for (const list of chunks.filter((chunk) => chunk.id === 'LIST' && fourCc(bytes, chunk.start) === 'adtl')) {
    for (const label of listChunks(bytes, view, list.start + 4, list.start + list.size)) {
      if (label.id !== 'labl' || label.size < 4) continue;
      const text = bytes.subarray(label.start + 4, label.start + label.size);
      const end = text.indexOf(0);
      labels.set(
        view.getUint32(label.start, true),
        textOfBytes(text.subarray(0, end < 0 ? text.length : end)).slice(0, 256),
      );
    }
  }
  const count = Math.min(view.getUint32(cue.start, true), Math.floor((cue.size - 4) / 24));
  const cues: CuePoint[] = [];
  for (let i = 0; i < count; i++) {
    const at = cue.start + 4 + i * 24;
    cues.push({ frame: view.getUint32(at + 20, true), label: labels.get(view.getUint32(at, true)) ?? '' });
  }
  return cues.sort((a, b) => a.frame - b.frame);
}

function readSamplerLoops(view: DataView, chunks: Chunk[]): SamplerLoop[] {
  const smpl = chunks.find((chunk) => chunk.id === 'smpl');
  if (!smpl || smpl.size < 36) return [];
  const count = Math.min(view.getUint32(smpl.start + 28, true), Math.floor((smpl.size - 36) / 24));
  return Array.from({ length: count }, (_, i) => ({
    startFrame: view.getUint32(smpl.start + 36 + i * 24 + 8, true),
    endFrame: view.getUint32(smpl.start + 36 + i * 24 + 12, true) + 1,
  }));
}

function fourCc(bytes: Uint8Array, at: number): string {
  return String.fromCharCode(bytes[at] ?? 0, bytes[at + 1] ?? 0, bytes[at + 2] ?? 0, bytes[at + 3] ?? 0);
}
