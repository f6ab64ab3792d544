/** MP3 and Ogg Vorbis, written piece by piece by LAME and libvorbis compiled to WebAssembly (package wasm-media-encoders). */
import type { createMp3Encoder, createOggEncoder } from 'wasm-media-encoders';
import { AppError } from '../units/errors.ts';
import { MOST_MP3_RATE, type AudioStream, type LossyEncoding } from './encode.ts';

/** libvorbis' scale, 0..10. */
const VORBIS_QUALITY = 7;

type Encoders = {
  mp3: () => ReturnType<typeof createMp3Encoder>;
  ogg: () => ReturnType<typeof createOggEncoder>;
};
let encoders: Encoders = {
  mp3: async () => (await import('wasm-media-encoders')).createMp3Encoder(),
  ogg: async () => (await import('wasm-media-encoders')).createOggEncoder(),
};

/** Encodes with encoders that were had in another way from now on. */
export function useLossyEncoders(others: Encoders): void {
  encoders = others;
}

export class LossyStream implements AudioStream {
  private constructor(
    private readonly encoder: { encode(channels: readonly Float32Array[]): Uint8Array; finalize(): Uint8Array },
  ) {}

  /** @throws AppError `format.broken` for a rate that MP3 does not know */
  static async open(sampleRate: number, channelCount: number, encoding: LossyEncoding): Promise<LossyStream> {
    if (encoding === 'mp3' && sampleRate > MOST_MP3_RATE)
      throw new AppError('format.broken', 'MP3 knows no rate above 48 kHz: take 44.1 or 48, or another kind of file');
    const channels = channelCount === 1 ? 1 : 2;
    if (encoding === 'ogg') {
      const encoder = await encoders.ogg();
      encoder.configure({ sampleRate, channels, vbrQuality: VORBIS_QUALITY });
      return new LossyStream(encoder);
    }
    const encoder = await encoders.mp3();
    encoder.configure({ sampleRate, channels, bitrate: 256 });
    return new LossyStream(encoder);
  }

  write(channels: readonly Float32Array[]): Uint8Array<ArrayBuffer> {
    // What the encoder gives is its own memory.
    return Uint8Array.from(this.encoder.encode(channels));
  }

  finish(): { head: Uint8Array<ArrayBuffer>; rest: Uint8Array<ArrayBuffer> } {
    return { head: new Uint8Array(), rest: Uint8Array.from(this.encoder.finalize()) };
  }
}
