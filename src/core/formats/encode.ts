/** The encodings that sound leaves in. */
import type { AudioData } from '../dsp/audio.ts';
import { writeFlac } from './flac-write.ts';
import { writeWav } from './wav-write.ts';

export type AudioEncoding = 'wav16' | 'wav24' | 'wav32' | 'flac16' | 'flac24';

/** For listening: smaller, and not what it was. */
export type LossyEncoding = 'mp3' | 'ogg';
export type MixEncoding = AudioEncoding | LossyEncoding;

/** A file that is written piece by piece (see audio-stream.ts). */
export interface AudioStream {
  /** @returns the bytes that are done */
  write(channels: readonly Float32Array[]): Uint8Array<ArrayBuffer>;
  /** @returns what comes last, and what the file begins with: those bytes go before all that `write` gave */
  finish(): { head: Uint8Array<ArrayBuffer>; rest: Uint8Array<ArrayBuffer> };
}

export const AUDIO_ENCODINGS: readonly { value: AudioEncoding; words: string }[] = [
  { value: 'wav16', words: 'WAV, 16 bit' },
  { value: 'wav24', words: 'WAV, 24 bit' },
  { value: 'wav32', words: 'WAV, 32 bit float' },
  { value: 'flac16', words: 'FLAC, 16 bit' },
  { value: 'flac24', words: 'FLAC, 24 bit' },
];

/** MPEG-1 layer III knows no higher rate (ISO/IEC 11172-3, table of sampling frequencies). */
export const MOST_MP3_RATE = 48_000;

export const MIX_ENCODINGS: readonly { value: MixEncoding; words: string }[] = [
  ...AUDIO_ENCODINGS,
  { value: 'mp3', words: 'MP3, 256 kbit/s' },
  { value: 'ogg', words: 'Ogg Vorbis' },
];

const BYTES: Record<AudioEncoding, number> = { wav16: 2, wav24: 3, wav32: 4, flac16: 2, flac24: 3 };
/** Header of a WAV file: 44 bytes of integers, 58 of floats. */
const HEADER_BYTES = { integer: 44, float: 58 };
/** FLAC makes music about so much smaller (measured on the demo's sounds: 0.4 to 0.8). */
const FLAC_SHARE = 0.6;

/** Thousands of bits a second; of Vorbis about (measured on the demo's mix). */
const LOSSY_KBITS: Readonly<Record<LossyEncoding, number>> = { mp3: 256, ogg: 224 };

export function isLossy(encoding: MixEncoding): encoding is LossyEncoding {
  return encoding === 'mp3' || encoding === 'ogg';
}

export function isFlac(encoding: MixEncoding): boolean {
  return encoding.startsWith('flac');
}

export function endingOf(encoding: MixEncoding): 'wav' | 'flac' | LossyEncoding {
  if (isLossy(encoding)) return encoding;
  return isFlac(encoding) ? 'flac' : 'wav';
}

/**
 * Size of a file before it is written: of WAV exactly, of the others about. In bytes.
 * @param sampleRate counts for what is told in bits a second
 */
export function expectedBytes(frames: number, channels: number, encoding: MixEncoding, sampleRate = 44_100): number {
  if (isLossy(encoding)) return Math.round(((frames / sampleRate) * LOSSY_KBITS[encoding] * 1000) / 8);
  const samples = frames * channels * BYTES[encoding];
  if (isFlac(encoding)) return Math.round(samples * FLAC_SHARE);
  return samples + (samples & 1) + (encoding === 'wav32' ? HEADER_BYTES.float : HEADER_BYTES.integer);
}

export async function encodeAudio(audio: AudioData, encoding: AudioEncoding): Promise<Uint8Array<ArrayBuffer>> {
  switch (encoding) {
    case 'wav16':
      return writeWav(audio, { encoding: 'pcm16' });
    case 'wav24':
      return writeWav(audio, { encoding: 'pcm24' });
    case 'wav32':
      return writeWav(audio, { encoding: 'float32' });
    case 'flac16':
      return writeFlac(audio, 16);
    case 'flac24':
      return writeFlac(audio, 24);
  }
}
