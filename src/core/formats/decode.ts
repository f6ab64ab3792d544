/**
 * Decodes any sound file that the product takes in, by what the bytes say and not by the file's name. The same code
 * runs in the browser's workers and on the command line, so both see the same samples.
 */
import type { FLACDecoder } from '@wasm-audio-decoders/flac';
import { frameCount, type AudioData } from '../dsp/audio.ts';
import { AppError } from '../units/errors.ts';
import { splitFlacFrames } from './flac-frames.ts';
import { isWav, readWav, type CuePoint, type SamplerLoop } from './wav-read.ts';

export type SoundFormat = 'wav' | 'flac' | 'mp3' | 'ogg' | 'aiff';

export interface DecodedFile {
  format: SoundFormat;
  audio: AudioData;
  /** Cue points found in the file (WAV only). */
  cues: CuePoint[];
  /** Sampler loops found in the file (WAV only). */
  loops: SamplerLoop[];
  /** Samples that were not numbers and are now 0. */
  mendedSamples: number;
}

/** Rates that are taken in, in frames a second. */
export const MIN_SAMPLE_RATE = 8000;
export const MAX_SAMPLE_RATE = 192000;
/** Largest sound taken in, in samples over all channels: about 50 minutes of stereo at 44.1 kHz. */
export const MAX_SAMPLES = 268_435_456;
/** Peaks below -90 dB of full scale count as silence. */
const SILENCE_PEAK = 10 ** (-90 / 20);

/** Names the format from the first bytes; null when it is none of ours. */
export function sniffFormat(bytes: Uint8Array): SoundFormat | null {
  const text = (at: number, length: number) => String.fromCharCode(...bytes.subarray(at, at + length));
  if (isWav(bytes)) return 'wav';
  if (text(0, 4) === 'fLaC') return 'flac';
  if (text(0, 4) === 'OggS') return 'ogg';
  if (text(0, 4) === 'FORM' && (text(8, 4) === 'AIFF' || text(8, 4) === 'AIFC')) return 'aiff';
  if (text(0, 3) === 'ID3') {
    // A tag may also stand before FLAC frames: look behind it (ID3v2, section 3.1: size in four 7-bit bytes).
    const size = [6, 7, 8, 9].reduce((sum, at) => sum * 128 + (bytes[at] ?? 0), 0);
    return text(10 + size, 4) === 'fLaC' ? 'flac' : 'mp3';
  }
  if (bytes[0] === 0xff && ((bytes[1] ?? 0) & 0xe6) === 0xe2) return 'mp3';
  return null;
}

/**
 * Decodes a whole file to one or two channels; of more channels the first two are kept.
 * @throws AppError `format.empty`, `format.silent`, `format.too-large`, `format.broken` or `format.unknown`
 */
export async function decodeSoundFile(bytes: Uint8Array): Promise<DecodedFile> {
  if (bytes.length === 0) throw new AppError('format.empty', 'the file is empty');
  const format = sniffFormat(bytes);
  if (!format) throw new AppError('format.unknown', 'this is not a WAV, FLAC, MP3, Ogg or AIFF file');
  let decoded: Decoded;
  try {
    decoded = await decoders[format](bytes);
  } catch (error) {
    if (error instanceof AppError) throw error;
    throw new AppError('format.broken', error instanceof Error ? error.message : String(error), { format });
  }
  const audio: AudioData = { sampleRate: decoded.audio.sampleRate, channels: decoded.audio.channels.slice(0, 2) };
  const mendedSamples = decoded.isInteger ? 0 : mendNonNumbers(audio);
  assertUsable(audio, format);
  return { format, audio, cues: decoded.cues ?? [], loops: decoded.loops ?? [], mendedSamples };
}

function assertUsable(audio: AudioData, format: SoundFormat): void {
  const frames = frameCount(audio);
  if (frames === 0) throw new AppError('format.empty', 'the file holds no sound', { format });
  if (audio.sampleRate < MIN_SAMPLE_RATE || audio.sampleRate > MAX_SAMPLE_RATE) {
    throw new AppError('format.broken', `a sample rate of ${audio.sampleRate} Hz is outside 8 to 192 kHz`, { format });
  }
  if (frames * audio.channels.length > MAX_SAMPLES) {
    throw new AppError('format.too-large', 'the sound is too long', { maxSamples: MAX_SAMPLES });
  }
  if (!isAudible(audio)) throw new AppError('format.silent', 'the file holds only silence', { format });
}

/** Is any sample loud enough to be heard? Stops at the first. */
function isAudible(audio: AudioData): boolean {
  return audio.channels.some((channel) => channel.some((sample) => sample > SILENCE_PEAK || sample < -SILENCE_PEAK));
}

function mendNonNumbers(audio: AudioData): number {
  let mended = 0;
  for (const channel of audio.channels) {
    // One sum tells whether there is anything to mend: what is no number, or infinite, makes the sum so, too.
    let sum = 0;
    for (let i = 0; i < channel.length; i++) sum += channel[i]!;
    if (Number.isFinite(sum)) continue;
    for (let i = 0; i < channel.length; i++) {
      if (!Number.isFinite(channel[i]!)) {
        channel[i] = 0;
        mended++;
      }
    }
  }
  return mended;
}

/** The part that the decoders of compressed formats have in common. */
interface CompressedResult {
  channelData: Float32Array[];
  sampleRate: number;
  samplesDecoded: number;
  errors: { message: string }[];
}

function fromCompressed(result: CompressedResult): { audio: AudioData } {
  if (result.samplesDecoded === 0) {
    throw new AppError('format.broken', result.errors[0]?.message ?? 'no frame of sound could be decoded');
  }
  return { audio: { sampleRate: result.sampleRate, channels: result.channelData } };
}

/** What a decoder gives; samples that were integers are always numbers. */
type Decoded = Pick<DecodedFile, 'audio'> & Partial<DecodedFile> & { isInteger?: boolean };

/** Starting a decoder costs as much as decoding a short file: those that did well are used again. */
const idleFlacDecoders: FLACDecoder[] = [];

const decoders: Record<SoundFormat, (bytes: Uint8Array) => Promise<Decoded>> = {
  wav: async (bytes) => {
    const file = readWav(bytes);
    return { ...file, isInteger: !file.isFloat };
  },
  flac: async (bytes) => {
    const decoder = idleFlacDecoders.pop() ?? new (await import('@wasm-audio-decoders/flac')).FLACDecoder();
    await decoder.ready;
    try {
      const split = splitFlacFrames(bytes);
      let result = split && (await decoder.decodeFrames(split.frames));
      await decoder.reset();
      // Where frames are missing or broken, the library looks for what can be saved.
      if (!result || result.samplesDecoded !== split?.totalFrames) result = await decoder.decodeFile(bytes);
      const { bitDepth } = result;
      const decoded = fromCompressed(result);
      decoded.audio.channels.forEach((channel) => restoreIntegerScale(channel, bitDepth));
      idleFlacDecoders.push(decoder);
      return { ...decoded, isInteger: true };
    } catch (error) {
      decoder.free();
      throw error;
    }
  },
  ogg: async (bytes) => {
    const { OggVorbisDecoder } = await import('@wasm-audio-decoders/ogg-vorbis');
    const decoder = new OggVorbisDecoder();
    await decoder.ready;
    try {
      return fromCompressed(await decoder.decodeFile(bytes));
    } finally {
      decoder.free();
    }
  },
  mp3: async (bytes) => {
    const { MPEGDecoder } = await import('mpg123-decoder');
    const decoder = new MPEGDecoder({ enableGapless: true });
    await decoder.ready;
    try {
      return fromCompressed(decoder.decode(bytes));
    } finally {
      decoder.free();
    }
  },
  aiff: async (bytes) => {
    const { default: decodeAiff } = await import('@audio/decode-aiff');
    const decoded = decodeAiff(bytes);
    if (aiffBitsPerSample(bytes) === 8) decoded.channelData.forEach(unsignedToSigned);
    return { audio: { sampleRate: decoded.sampleRate, channels: decoded.channelData } };
  },
};

/** The FLAC library divides by `2^(bits-1) - 1`; the trade, and our WAV reader, by `2^(bits-1)`: back to whole steps. */
function restoreIntegerScale(channel: Float32Array, bits: number): void {
  const half = 2 ** (bits - 1);
  const up = half - 1;
  const down = 1 / half;
  for (let i = 0; i < channel.length; i++) channel[i] = Math.floor(channel[i]! * up + 0.5) * down;
}

/** Sample size in the COMM chunk (AIFF 1.3, section "The Common Chunk"), 0 when there is none. */
function aiffBitsPerSample(bytes: Uint8Array): number {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let at = 12; at + 16 <= bytes.length;) {
    const size = view.getUint32(at + 4);
    if (String.fromCharCode(...bytes.subarray(at, at + 4)) === 'COMM') return view.getInt16(at + 14);
    at += 8 + size + (size & 1);
  }
  return 0;
}

/** AIFF samples are two's complement at every size (AIFF 1.3); the library reads 8 bits as unsigned. */
function unsignedToSigned(channel: Float32Array): void {
  for (let i = 0; i < channel.length; i++) channel[i] = channel[i]! < 0 ? channel[i]! + 1 : channel[i]! - 1;
}
