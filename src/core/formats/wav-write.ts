/** Writes RIFF/WAVE (see wav-read.ts for the specification): 16 and 24-bit integer, 32-bit float, cue points, a loop. */
import { frameCount, type AudioData } from '../dsp/audio.ts';
import { bytesOfText } from './chunk-text.ts';
import { dithered16 } from './dither.ts';
import { id3Tag, type SoundFacts } from './sound-facts.ts';
import type { CuePoint, SamplerLoop } from './wav-read.ts';

const MIDDLE_C = 60;

export type WavEncoding = 'pcm16' | 'pcm24' | 'float32';

/** Bytes of a sample. */
export const WAV_BYTES: Readonly<Record<WavEncoding, number>> = { pcm16: 2, pcm24: 3, float32: 4 };

export interface WavWriteOptions {
  encoding: WavEncoding;
  cues?: readonly CuePoint[];
  loop?: SamplerLoop;
  facts?: SoundFacts;
}

/**
 * Encodes audio as a WAVE file. Integers are rounded to the nearest step and held at full scale. What 16 bit cannot hold
 * exactly is dithered (see dither.ts).
 */
export function writeWav(audio: AudioData, options: WavWriteOptions): Uint8Array<ArrayBuffer> {
  const { encoding } = options;
  const channelCount = audio.channels.length;
  const frames = frameCount(audio);
  const bytesPerSample = WAV_BYTES[encoding];
  const dataSize = frames * channelCount * bytesPerSample;
  const extra = [
    ...cueChunks(options.cues ?? []),
    ...samplerChunk(options, audio.sampleRate),
    ...tagChunk(options.facts),
  ];
  const extraSize = extra.reduce((sum, chunk) => sum + chunk.length, 0);
  const head = wavHeader({ sampleRate: audio.sampleRate, channelCount, frames, encoding, extraSize });
  const dataAt = head.length;
  const bytes = new Uint8Array(dataAt + dataSize + (dataSize & 1) + extraSize);
  bytes.set(head);
  const view = new DataView(bytes.buffer);
  const rounded = encoding === 'pcm16' ? dithered16(audio) : audio;
  writeSamples(view, dataAt, rounded, encoding, bytesPerSample);
  let at = dataAt + dataSize + (dataSize & 1);
  for (const chunk of extra) {
    bytes.set(chunk, at);
    at += chunk.length;
  }
  return bytes;
}

/** What a WAVE file begins with, up to its samples. @param extraSize bytes of the chunks that come after those */
export function wavHeader({
  sampleRate,
  channelCount,
  frames,
  encoding,
  extraSize,
}: {
  sampleRate: number;
  channelCount: number;
  frames: number;
  encoding: WavEncoding;
  extraSize: number;
}): Uint8Array<ArrayBuffer> {
  const bytesPerSample = WAV_BYTES[encoding];
  const dataSize = frames * channelCount * bytesPerSample;
  // What is not integer PCM says so in a longer "fmt " chunk, and how long it is in a "fact" chunk (Microsoft and IBM,
  // "Multimedia Programming Interface and Data Specifications 1.0", 1991, with "New Multimedia Data Types", 1994).
  const isFloat = encoding === 'float32';
  const formatSize = isFloat ? 18 : 16;
  const dataAt = 20 + formatSize + (isFloat ? 12 : 0) + 8;
  const bytes = new Uint8Array(dataAt);
  const view = new DataView(bytes.buffer);
  putText(bytes, 0, 'RIFF');
  view.setUint32(4, dataAt + dataSize + (dataSize & 1) + extraSize - 8, true);
  putText(bytes, 8, 'WAVEfmt ');
  view.setUint32(16, formatSize, true);
  view.setUint16(20, isFloat ? 3 : 1, true);
  view.setUint16(22, channelCount, true);
  view.setUint32(24, sampleRate, true);
  view.setUint32(28, sampleRate * channelCount * bytesPerSample, true);
  view.setUint16(32, channelCount * bytesPerSample, true);
  view.setUint16(34, bytesPerSample * 8, true);
  if (isFloat) {
    putText(bytes, 38, 'fact');
    view.setUint32(42, 4, true);
    view.setUint32(46, frames, true);
  }
  putText(bytes, dataAt - 8, 'data');
  view.setUint32(dataAt - 4, dataSize, true);
  return bytes;
}

/**
 * The smallest encoding that keeps every sample exactly: 16-bit, else 24-bit, else float. Encoding the same samples
 * always gives the same bytes, so that their hash can name the samples.
 */
export function losslessEncoding(audio: AudioData): WavEncoding {
  let encoding: WavEncoding = 'pcm16';
  for (const channel of audio.channels) {
    for (let i = 0; i < channel.length; i++) {
      const sample = channel[i]!;
      if (sample < -1 || sample >= 1) return 'float32';
      if (encoding === 'pcm16' && !Number.isInteger(sample * 32768)) encoding = 'pcm24';
      if (encoding === 'pcm24' && !Number.isInteger(sample * 8388608)) return 'float32';
    }
  }
  return encoding;
}

/** Puts samples into a file, channels in turn. */
export function writeSamples(
  view: DataView,
  start: number,
  audio: AudioData,
  encoding: WavEncoding,
  step: number,
): void {
  const stride = step * audio.channels.length;
  audio.channels.forEach((channel, index) => {
    let at = start + index * step;
    for (let i = 0; i < channel.length; i++, at += stride) {
      const sample = channel[i]!;
      if (encoding === 'float32') {
        view.setFloat32(at, sample, true);
      } else if (encoding === 'pcm16') {
        view.setInt16(at, Math.max(-32768, Math.min(32767, Math.round(sample * 32768))), true);
      } else {
        const value = Math.max(-8388608, Math.min(8388607, Math.round(sample * 8388608)));
        view.setUint16(at, value & 0xffff, true);
        view.setInt8(at + 2, value >> 16);
      }
    }
  });
}

function cueChunks(cues: readonly CuePoint[]): Uint8Array[] {
  if (cues.length === 0) return [];
  const cue = new Uint8Array(12 + cues.length * 24);
  const view = new DataView(cue.buffer);
  putText(cue, 0, 'cue ');
  view.setUint32(4, cue.length - 8, true);
  view.setUint32(8, cues.length, true);
  const labels: Uint8Array[] = [];
  cues.forEach((point, index) => {
    const at = 12 + index * 24;
    view.setUint32(at, index + 1, true);
    view.setUint32(at + 4, point.frame, true);
    putText(cue, at + 8, 'data');
    view.setUint32(at + 20, point.frame, true);
    const text = bytesOfText(point.label);
    const size = 4 + text.length + 1;
    const label = new Uint8Array(8 + size + (size & 1));
    putText(label, 0, 'labl');
    const labelView = new DataView(label.buffer);
    labelView.setUint32(4, size, true);
    labelView.setUint32(8, index + 1, true);
    label.set(text, 12);
    labels.push(label);
  });
  const size = 4 + labels.reduce((sum, label) => sum + label.length, 0);
  const list = new Uint8Array(12);
  putText(list, 0, 'LIST');
  new DataView(list.buffer).setUint32(4, size, true);
  putText(list, 8, 'adtl');
  return [cue, list, ...labels];
}

/** The loop, and the key that it sounds at its own pitch on: semitones, and a fraction of 2^32 to one. */
function samplerChunk({ loop, facts }: Pick<WavWriteOptions, 'loop' | 'facts'>, sampleRate: number): Uint8Array[] {
  const root = facts?.root;
  if (!loop && !root) return [];
  const bytes = new Uint8Array(8 + (loop ? 60 : 36));
  const view = new DataView(bytes.buffer);
  putText(bytes, 0, 'smpl');
  view.setUint32(4, bytes.length - 8, true);
  view.setUint32(16, Math.round(1e9 / sampleRate), true);
  const pitch = root ? root.key + root.cents / 100 : MIDDLE_C;
  view.setUint32(20, Math.floor(pitch), true);
  view.setUint32(24, Math.floor((pitch % 1) * 2 ** 32), true);
  if (!loop) return [bytes];
  view.setUint32(36, 1, true);
  view.setUint32(52, loop.startFrame, true);
  view.setUint32(56, loop.endFrame - 1, true);
  return [bytes];
}

function tagChunk(facts: SoundFacts | undefined): Uint8Array[] {
  const tag = facts ? id3Tag(facts) : new Uint8Array();
  if (tag.length === 0) return [];
  const bytes = new Uint8Array(8 + tag.length + (tag.length & 1));
  putText(bytes, 0, 'id3 ');
  new DataView(bytes.buffer).setUint32(4, tag.length, true);
  bytes.set(tag, 8);
  return [bytes];
}

function putText(bytes: Uint8Array, at: number, text: string): void {
  for (let i = 0; i < text.length; i++) bytes[at + i] = Math.min(255, text.charCodeAt(i));
}
