/**
 * Audio files written piece by piece, so that nothing of them is held: WAV (16 and 24 bit, float), FLAC, MP3, Ogg Vorbis. What stands at
 * the beginning and is known only at the end (how long it is) is told last, to be put there.
 */
import type { AudioData } from '../dsp/audio.ts';
import { Dither16 } from './dither.ts';
import { isFlac, isLossy, type AudioEncoding, type AudioStream, type MixEncoding } from './encode.ts';
import { FlacStream } from './flac-write.ts';
import { wavHeader, WAV_BYTES, writeSamples, type WavEncoding } from './wav-write.ts';

const WAV_ENCODINGS: Partial<Record<AudioEncoding, WavEncoding>> = { wav16: 'pcm16', wav24: 'pcm24', wav32: 'float32' };
/** A WAV file says its length in 32 bits. */
const MOST_WAV_BYTES = 2 ** 32 - 1024;

/** Begins a file. FLAC has to be fetched first. */
export async function openAudioStream(
  sampleRate: number,
  channelCount: number,
  encoding: MixEncoding,
): Promise<AudioStream> {
  // Large ones, and seldom asked for.
  if (isLossy(encoding))
    return (await import('./lossy-stream.ts')).LossyStream.open(sampleRate, channelCount, encoding);
  if (isFlac(encoding)) return FlacStream.open(sampleRate, channelCount, encoding === 'flac16' ? 16 : 24);
  return new WavStream(sampleRate, channelCount, WAV_ENCODINGS[encoding]!);
}

class WavStream implements AudioStream {
  private frames = 0;
  private readonly dither = new Dither16();

  constructor(
    private readonly sampleRate: number,
    private readonly channelCount: number,
    private readonly encoding: WavEncoding,
  ) {}

  write(channels: readonly Float32Array[]): Uint8Array<ArrayBuffer> {
    const { encoding, channelCount, sampleRate } = this;
    const count = channels[0]!.length;
    this.frames += count;
    const each = WAV_BYTES[encoding];
    const bytes = new Uint8Array(count * channelCount * each);
    if (this.frames * channelCount * each > MOST_WAV_BYTES)
      throw new RangeError('a WAV file holds 4 GB at most: take FLAC, or a shorter stretch');
    const audio: AudioData = { sampleRate, channels: [...channels] };
    writeSamples(new DataView(bytes.buffer), 0, encoding === 'pcm16' ? this.dither.of(audio) : audio, encoding, each);
    return bytes;
  }

  finish(): { head: Uint8Array<ArrayBuffer>; rest: Uint8Array<ArrayBuffer> } {
    const dataSize = this.frames * this.channelCount * WAV_BYTES[this.encoding];
    const { sampleRate, channelCount, frames, encoding } = this;
    const head = wavHeader({ sampleRate, channelCount, frames, encoding, extraSize: 0 });
    return { head, rest: new Uint8Array(dataSize & 1) };
  }
}
