/** Encodes FLAC (RFC 9639), through libFLAC compiled to JavaScript, or to WebAssembly where that can be had. */
import type libflac from 'libflacjs/dist/libflac.js';
import { dithered16 } from './dither.ts';
import type { AudioData } from '../dsp/audio.ts';
import { frameCount } from '../dsp/audio.ts';
import { AppError } from '../units/errors.ts';

const COMPRESSION_LEVEL = 5;
const STREAMINFO_START = 8;
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
  const flac = await loadLibrary();
  const frames = frameCount(audio);
  const encoder = flac.create_libflac_encoder(
    audio.sampleRate,
    audio.channels.length,
    bitsPerSample,
    COMPRESSION_LEVEL,
    frames,
    false,
  );
  if (!encoder) throw new AppError('format.broken', `FLAC cannot be written at ${audio.sampleRate} Hz`);
  const pieces: Uint8Array[] = [];
  let info: { min_framesize: number; max_framesize: number; md5sum: string } | undefined;
  try {
    const status = flac.init_encoder_stream(
      encoder,
      (bytes) => {
        pieces.push(new Uint8Array(bytes));
      },
      (metadata) => {
        info = metadata as typeof info;
      },
    );
    if (status !== 0) throw new AppError('format.broken', 'the FLAC encoder could not start');
    const steps = audio.channels.map(() => new Int32Array(Math.min(frames, PIECE_FRAMES)));
    for (let at = 0; at < frames; at += PIECE_FRAMES) {
      const count = Math.min(PIECE_FRAMES, frames - at);
      audio.channels.forEach((channel, side) => fillSteps(steps[side]!, channel, at, count, bitsPerSample));
      const piece = steps.map((channel) => channel.subarray(0, count));
      if (!flac.FLAC__stream_encoder_process(encoder, piece, count)) throw failed();
    }
    if (!flac.FLAC__stream_encoder_finish(encoder)) throw failed();
  } finally {
    flac.FLAC__stream_encoder_delete(encoder);
  }
  const out = joined(pieces);
  if (info) completeStreamInfo(out, info.min_framesize, info.max_framesize, frames, info.md5sum);
  return out;
}

function failed(): AppError {
  return new AppError('format.broken', 'the FLAC encoder has failed');
}

/** Samples as whole numbers, from a frame on. */
function fillSteps(steps: Int32Array, channel: Float32Array, from: number, count: number, bits: number): void {
  const half = 2 ** (bits - 1);
  for (let i = 0; i < count; i++) {
    const step = Math.round(channel[from + i]! * half);
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
