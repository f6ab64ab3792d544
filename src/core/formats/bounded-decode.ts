/**
 * Decodes a compressed file piece by piece, and stops where there is more in it than may be taken in: what its head says
 * of its length may be a lie, and a byte of it may hold thousands of samples.
 */

/** What decoders of compressed formats give. */
export interface DecodedPiece {
  channelData: Float32Array[];
  sampleRate: number;
  samplesDecoded: number;
  bitDepth?: number;
  errors: readonly { message: string }[];
}

export interface PieceDecoder {
  decode(bytes: Uint8Array): DecodedPiece | Promise<DecodedPiece>;
  /** What is left when all bytes have been given. */
  flush?(): DecodedPiece | Promise<DecodedPiece>;
}

export interface BoundedResult {
  channels: Float32Array<ArrayBuffer>[];
  sampleRate: number;
  bitDepth: number;
  /** The decoder's first complaint; null when it had none. */
  problem: string | null;
}

const KEPT_CHANNELS = 2;
/** A piece is to hold about so many samples over all channels; how long that is, the pieces before tell. */
const PIECE_SAMPLES = 4_000_000;
const FIRST_BYTES = 2_048;
const [LEAST_BYTES, MOST_BYTES] = [1_024, 1_048_576];

/** @returns the first two channels; null where there are more samples over them than `maxSamples` */
export async function decodeBounded(
  decoder: PieceDecoder,
  bytes: Uint8Array,
  maxSamples: number,
): Promise<BoundedResult | null> {
  const pieces: Float32Array[][] = [];
  let frames = 0;
  let decodedSamples = 0;
  let sampleRate = 0;
  let bitDepth = 16;
  let problem: string | null = null;
  /** @returns false when it is too much */
  const take = (piece: DecodedPiece): boolean => {
    problem ??= piece.errors[0]?.message ?? null;
    if (piece.samplesDecoded === 0) return true;
    sampleRate = piece.sampleRate;
    bitDepth = piece.bitDepth ?? bitDepth;
    frames += piece.samplesDecoded;
    decodedSamples += piece.samplesDecoded * piece.channelData.length;
    pieces.push(piece.channelData.slice(0, KEPT_CHANNELS).map((channel) => channel.subarray(0, piece.samplesDecoded)));
    return frames * Math.min(KEPT_CHANNELS, piece.channelData.length) <= maxSamples;
  };
  for (let at = 0, size = FIRST_BYTES; at < bytes.length; at += size) {
    const samplesAByte = decodedSamples / Math.max(1, at);
    if (samplesAByte > 0) size = Math.round(Math.max(LEAST_BYTES, Math.min(MOST_BYTES, PIECE_SAMPLES / samplesAByte)));
    if (!take(await decoder.decode(bytes.subarray(at, at + size)))) return null;
  }
  if (decoder.flush && !take(await decoder.flush())) return null;
  return { channels: joined(pieces, frames), sampleRate, bitDepth, problem };
}

/** All pieces in a row; each is let go when it has been copied. */
function joined(pieces: Float32Array[][], frames: number): Float32Array<ArrayBuffer>[] {
  const count = pieces.reduce((most, piece) => Math.max(most, piece.length), 0);
  const channels = Array.from({ length: count }, () => new Float32Array(frames));
  let at = 0;
  for (const piece of pieces) {
    const length = piece[0]?.length ?? 0;
    channels.forEach((channel, side) => channel.set(piece[side] ?? piece[0]!, at));
    at += length;
  }
  return channels;
}
