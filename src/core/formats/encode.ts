/** The encodings that sound leaves in. */
import type { AudioData } from '../dsp/audio.ts';
import { writeFlac } from './flac-write.ts';
import { writeWav } from './wav-write.ts';

export type AudioEncoding = 'wav16' | 'wav24' | 'wav32' | 'flac16' | 'flac24';

export const AUDIO_ENCODINGS: readonly { value: AudioEncoding; words: string }[] = [
  { value: 'wav16', words: 'WAV, 16 bit' },
  { value: 'wav24', words: 'WAV, 24 bit' },
  { value: 'wav32', words: 'WAV, 32 bit float' },
  { value: 'flac16', words: 'FLAC, 16 bit' },
  { value: 'flac24', words: 'FLAC, 24 bit' },
];

const BYTES: Record<AudioEncoding, number> = { wav16: 2, wav24: 3, wav32: 4, flac16: 2, flac24: 3 };
/** Header of a WAV file: 44 bytes of integers, 58 of floats. */
const HEADER_BYTES = { integer: 44, float: 58 };
/** FLAC makes music about so much smaller (measured on the demo's sounds: 0.4 to 0.8). */
const FLAC_SHARE = 0.6;

export function isFlac(encoding: AudioEncoding): boolean {
  return encoding.startsWith('flac');
}

export function endingOf(encoding: AudioEncoding): 'wav' | 'flac' {
  return isFlac(encoding) ? 'flac' : 'wav';
}

/** Size of a file before it is written: of WAV exactly, of FLAC about. In bytes. */
export function expectedBytes(frames: number, channels: number, encoding: AudioEncoding): number {
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
