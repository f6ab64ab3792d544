/** Encodes FLAC (RFC 9639), through libFLAC compiled to JavaScript, or to WebAssembly where that can be had. */
import type libflac from 'libflacjs/dist/libflac.js';
import { Dither16, dithered16 } from './dither.ts';
import type { AudioData } from '../dsp/audio.ts';
import { frameCount } from '../dsp/audio.ts';
import { AppError } from '../units/errors.ts';

const COMPRESSION_LEVEL = 5;
const STREAMINFO_START = 8;
/** `fLaC`, and the first block of metadata (RFC 9639, sections 8.1 and 8.2). */
const HEAD_BYTES = 42;
/** The encoder is given so much at once. */
const PIECE_FRAMES = 65_536;

type FlacLibrary = typeof libflac;
let loadLibrary: () => Promise<FlacLibrary> = async () => (await import('libflacjs/dist/libflac.js')).default;

/** Encodes with another build of the library from now on. */
export function useFlacLibrary(load: () => Promise<FlacLibrary>): void {
  loadLibrary = load;
}

/**
 * @param bitsPerSample 16 or 24; samples beyond full scale are held there, and 16 bit are dithered where they are not exact
 * @throws AppError `format.broken` when the encoder refuses, e.g. a sample rate that FLAC does not know
 */
export async function writeFlac(exact: AudioData, bitsPerSample: 16 | 24): Promise<Uint8Array<ArrayBuffer>> {
  const audio = bitsPerSample === 16 ? dithered16(exact) : exact;
  const stream = await FlacStream.open(audio.sampleRate, audio.channels.length, bitsPerSample, true);
  const frames = frameCount(audio);
  const pieces: Uint8Array[] = [];
  try {
    for (let at = 0; at < frames; at += PIECE_FRAMES) {
      pieces.push(stream.write(audio.channels.map((channel) => channel.subarray(at, at + PIECE_FRAMES))));
    }
  } catch (error) {
    stream.giveUp();
    throw error;
  }
  const { head, rest } = stream.finish();
  return joined([head, ...pieces, rest]);
}

/** A FLAC file written piece by piece; its head is known at the end. */
export class FlacStream {
  private done: Uint8Array[] = [];
  private head: Uint8Array<ArrayBuffer> | null = null;
  private info: { min_framesize: number; max_framesize: number; md5sum: string } | undefined;
  private frames = 0;
  private readonly dither = new Dither16();

  private constructor(
    private readonly flac: FlacLibrary,
    private readonly encoder: number,
    private readonly sampleRate: number,
    private readonly bitsPerSample: 16 | 24,
    private readonly isExact: boolean,
  ) {
    const status = flac.init_encoder_stream(
      encoder,
      (bytes) => {
        this.done.push(new Uint8Array(bytes));
      },
      (metadata) => {
        this.info = metadata as typeof this.info;
      },
    );
    if (status !== 0) throw new AppError('format.broken', 'the FLAC encoder could not start');
  }

  /** @param isExact samples are on steps of so many bits, or are to be rounded to them without dither */
  static async open(
    sampleRate: number,
    channelCount: number,
    bitsPerSample: 16 | 24,
    isExact = false,
  ): Promise<FlacStream> {
    const flac = await loadLibrary();
    const encoder = flac.create_libflac_encoder(sampleRate, channelCount, bitsPerSample, COMPRESSION_LEVEL, 0, false);
    if (!encoder) throw new AppError('format.broken', `FLAC cannot be written at ${sampleRate} Hz`);
    return new FlacStream(flac, encoder, sampleRate, bitsPerSample, isExact);
  }

  write(given: readonly Float32Array[]): Uint8Array<ArrayBuffer> {
    const { bitsPerSample, sampleRate } = this;
    const isDithered = bitsPerSample === 16 && !this.isExact;
    const channels = isDithered ? this.dither.of({ sampleRate, channels: [...given] }).channels : given;
    const count = channels[0]!.length;
    const steps = channels.map((channel) => {
      const whole = new Int32Array(count);
      fillSteps(whole, channel, bitsPerSample);
      return whole;
    });
    if (!this.flac.FLAC__stream_encoder_process(this.encoder, steps, count)) throw failed();
    this.frames += count;
    return this.take();
  }

  finish(): { head: Uint8Array<ArrayBuffer>; rest: Uint8Array<ArrayBuffer> } {
    try {
      if (!this.flac.FLAC__stream_encoder_finish(this.encoder)) throw failed();
    } finally {
      this.giveUp();
    }
    const rest = this.take();
    const head = this.head ?? new Uint8Array();
    const { info } = this;
    if (info) completeStreamInfo(head, info.min_framesize, info.max_framesize, this.frames, info.md5sum);
    return { head, rest };
  }

  giveUp(): void {
    this.flac.FLAC__stream_encoder_delete(this.encoder);
  }

  /** What is done since the last time; the mark and the block of facts that it begins with are held back. */
  private take(): Uint8Array<ArrayBuffer> {
    const bytes = joined(this.done);
    if (!this.head && bytes.length < HEAD_BYTES) {
      this.done = [bytes];
      return new Uint8Array();
    }
    this.done = [];
    if (this.head) return bytes;
    this.head = bytes.slice(0, HEAD_BYTES);
    return bytes.slice(HEAD_BYTES);
  }
}

function failed(): AppError {
  return new AppError('format.broken', 'the FLAC encoder has failed');
}

/** Samples as whole numbers. */
function fillSteps(steps: Int32Array, channel: Float32Array, bits: number): void {
  const half = 2 ** (bits - 1);
  for (let i = 0; i < steps.length; i++) {
    const step = Math.round(channel[i]! * half);
    steps[i] = step < -half ? -half : step >= half ? half - 1 : step;
  }
}

function joined(pieces: readonly Uint8Array[]): Uint8Array<ArrayBuffer> {
  const out = new Uint8Array(pieces.reduce((sum, piece) => sum + piece.length, 0));
  let at = 0;
  for (const piece of pieces) {
    out.set(piece, at);
    at += piece.length;
  }
  return out;
}

/** Puts into the header (RFC 9639, section 8.2) what is known only at the end, because the stream cannot go back. */
function completeStreamInfo(bytes: Uint8Array, minFrame: number, maxFrame: number, frames: number, md5: string): void {
  const view = new DataView(bytes.buffer);
  const put24 = (at: number, value: number) => {
    view.setUint8(at, value >> 16);
    view.setUint16(at + 1, value & 0xffff);
  };
  put24(STREAMINFO_START + 4, minFrame);
  put24(STREAMINFO_START + 7, maxFrame);
  view.setUint8(
    STREAMINFO_START + 13,
    (view.getUint8(STREAMINFO_START + 13) & 0xf0) | (Math.floor(frames / 2 ** 32) & 0x0f),
  );
  view.setUint32(STREAMINFO_START + 14, frames >>> 0);
  for (let i = 0; i < 16; i++) view.setUint8(STREAMINFO_START + 18 + i, parseInt(md5.slice(2 * i, 2 * i + 2), 16));
}
