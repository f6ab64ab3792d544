/**
 * Decodes any sound file that the product takes in, by what the bytes say and not by the file's name. The same code
 * runs in the browser's workers and on the command line, so both see the same samples.
 */
import type { FLACDecoder } from '@wasm-audio-decoders/flac';
import { frameCount, type AudioData } from '../dsp/audio.ts';
import { AppError } from '../units/errors.ts';
import { announcedSamples } from './announced-length.ts';
import { decodeBounded, type PieceDecoder } from './bounded-decode.ts';
import { flacLayout, splitFlacFrames } from './flac-frames.ts';
import { mendLevels, NOTHING_MENDED, type MendedLevels } from './mend-levels.ts';
import { oggCodec, sniffFormat, type SoundFormat } from './sniff-format.ts';
import { readWav, type CuePoint, type SamplerLoop } from './wav-read.ts';

export interface DecodedFile {
  format: SoundFormat;
  audio: AudioData;
  /** Cue points found in the file (WAV only). */
  cues: CuePoint[];
  /** Sampler loops found in the file (WAV only). */
  loops: SamplerLoop[];
  /** What was brought into range; integer formats need none of it. */
  mended: MendedLevels;
}

/** Rates that are taken in, in frames a second. */
export const MIN_SAMPLE_RATE = 8000;
export const MAX_SAMPLE_RATE = 192000;
/**
 * Largest sound taken in, in samples over all channels: 15 minutes of stereo at 44.1 kHz. Decoding, reading and
 * keeping a sound of that length took 1.6 GB in the browser at its peak (2.2 GB at 20 minutes): an import stays under 2 GB.
 */
export const MAX_SAMPLES = 80_000_000;
const FORMAT_WORDS: Record<SoundFormat, string> = { wav: 'WAV', flac: 'FLAC', mp3: 'MP3', ogg: 'Ogg', aiff: 'AIFF' };
/** Peaks below -90 dB of full scale count as silence. */
const SILENCE_PEAK = 10 ** (-90 / 20);

/**
 * Decodes a whole file to one or two channels; of more channels the first two are kept.
 * @param maxSamples over all channels that are taken in
 * @throws AppError `format.empty`, `format.silent`, `format.too-large`, `format.broken` or `format.unknown`
 */
export async function decodeSoundFile(bytes: Uint8Array, maxSamples = MAX_SAMPLES): Promise<DecodedFile> {
  if (bytes.length === 0) throw new AppError('format.empty', 'the file is empty');
  const format = sniffFormat(bytes);
  if (!format) throw new AppError('format.unknown', 'this is not a WAV, FLAC, MP3, Ogg or AIFF file');
  // What the file says of its length comes first: a small file may hold hours.
  if (announcedSamples(bytes, format) > maxSamples) throw tooLong();
  let decoded: Decoded;
  try {
    decoded = await decoders[format](bytes, maxSamples);
  } catch (error) {
    if (error instanceof AppError) throw error;
    throw damaged(format, error);
  }
  const audio: AudioData = { sampleRate: decoded.audio.sampleRate, channels: decoded.audio.channels.slice(0, 2) };
  const mended = decoded.isInteger ? NOTHING_MENDED : mendLevels(audio);
  assertUsable(audio, format, maxSamples);
  return { format, audio, cues: decoded.cues ?? [], loops: decoded.loops ?? [], mended };
}

function tooLong(): AppError {
  return new AppError('format.too-large', 'the sound is too long', { maxSamples: MAX_SAMPLES });
}

/** The decoders' own messages are for their authors: they go into the details. */
function damaged(format: SoundFormat, error: unknown): AppError {
  const reason = error instanceof Error ? error.message : String(error);
  return new AppError('format.broken', `the ${FORMAT_WORDS[format]} data is damaged and cannot be decoded`, {
    format,
    reason,
  });
}

function assertUsable(audio: AudioData, format: SoundFormat, maxSamples: number): void {
  const frames = frameCount(audio);
  if (frames === 0) throw new AppError('format.empty', 'the file holds no sound', { format });
  if (audio.sampleRate < MIN_SAMPLE_RATE || audio.sampleRate > MAX_SAMPLE_RATE) {
    throw new AppError('format.broken', `a sample rate of ${audio.sampleRate} Hz is outside 8 to 192 kHz`, { format });
  }
  if (frames * audio.channels.length > maxSamples) throw tooLong();
  if (!isAudible(audio)) throw new AppError('format.silent', 'the file holds only silence', { format });
}

/** Is any sample loud enough to be heard? Stops at the first. */
function isAudible(audio: AudioData): boolean {
  return audio.channels.some((channel) => channel.some((sample) => sample > SILENCE_PEAK || sample < -SILENCE_PEAK));
}

/** A compressed file, decoded as far as may be. @throws AppError `format.too-large`; Error where there is no sound in it */
async function compressed(
  decoder: PieceDecoder,
  bytes: Uint8Array,
  maxSamples: number,
): Promise<{ audio: AudioData; bitDepth: number }> {
  const result = await decodeBounded(decoder, bytes, maxSamples);
  if (!result) throw tooLong();
  if (result.channels.length === 0) throw new Error(result.problem ?? 'no frame of sound');
  return { audio: { sampleRate: result.sampleRate, channels: result.channels }, bitDepth: result.bitDepth };
}

/** What a decoder gives; samples that were integers are always numbers. */
type Decoded = Pick<DecodedFile, 'audio'> & Partial<DecodedFile> & { isInteger?: boolean };

/** Starting a decoder costs as much as decoding a short file: those that did well are used again. */
const idleFlacDecoders: FLACDecoder[] = [];

const decoders: Record<SoundFormat, (bytes: Uint8Array, maxSamples: number) => Promise<Decoded>> = {
  wav: async (bytes) => {
    const file = readWav(bytes);
    return { ...file, isInteger: !file.isFloat };
  },
  flac: async (bytes, maxSamples) => {
    const decoder = idleFlacDecoders.pop() ?? new (await import('@wasm-audio-decoders/flac')).FLACDecoder();
    await decoder.ready;
    try {
      const split = splitFlacFrames(bytes);
      if (split && split.totalFrames * Math.min(2, flacLayout(bytes)!.channels) > maxSamples) throw tooLong();
      const whole = split && (await decoder.decodeFrames(split.frames));
      await decoder.reset();
      // Where frames are missing or broken, the library looks for what can be saved.
      const decoded =
        whole && whole.samplesDecoded === split.totalFrames
          ? { audio: { sampleRate: whole.sampleRate, channels: whole.channelData }, bitDepth: whole.bitDepth }
          : await compressed(decoder, bytes, maxSamples);
      decoded.audio.channels.forEach((channel) => restoreIntegerScale(channel, decoded.bitDepth));
      idleFlacDecoders.push(decoder);
      return { ...decoded, isInteger: true };
    } catch (error) {
      decoder.free();
      throw error;
    }
  },
  ogg: async (bytes, maxSamples) => {
    const codec = oggCodec(bytes);
    if (codec !== null && codec !== 'Vorbis') {
      throw new AppError(
        'format.unknown',
        `of Ogg files only Vorbis is taken in, this is ${codec}: save it as WAV or FLAC`,
      );
    }
    const { OggVorbisDecoder } = await import('@wasm-audio-decoders/ogg-vorbis');
    const decoder = new OggVorbisDecoder();
    await decoder.ready;
    try {
      return await compressed(decoder, bytes, maxSamples);
    } finally {
      decoder.free();
    }
  },
  mp3: async (bytes, maxSamples) => {
    const { MPEGDecoder } = await import('mpg123-decoder');
    const decoder = new MPEGDecoder({ enableGapless: true });
    await decoder.ready;
    try {
      return await compressed({ decode: (piece) => decoder.decode(piece) }, bytes, maxSamples);
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
