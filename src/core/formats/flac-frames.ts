/** Finds the frames of a FLAC stream (RFC 9639), so that the decoder is handed one after the other. */

export interface FlacFrames {
  /** The frames of sound, header to checksum. */
  frames: Uint8Array[];
  /** Length in frames of audio. */
  totalFrames: number;
}

/** What a frame's header says (RFC 9639, section 9.1). */
interface FrameHeader {
  /** Frames of audio in it. */
  blockSize: number;
  /** Number of the frame, or of its first sample in streams of variable block size. */
  codedNumber: number;
  isVariable: boolean;
}

/** A frame is at least this long: header, one constant subframe and the checksum. */
const MIN_FRAME_BYTES = 10;

/**
 * @returns null where the stream is not a plain, whole one: the decoder has to find its own way then
 */
export function splitFlacFrames(bytes: Uint8Array): FlacFrames | null {
  const layout = flacLayout(bytes);
  if (!layout) return null;
  const frames: Uint8Array[] = [];
  let at = layout.soundStart;
  let header = readFrameHeader(bytes, at);
  let totalFrames = 0;
  while (header) {
    const expected: number = header.codedNumber + (header.isVariable ? header.blockSize : 1);
    let end = at + MIN_FRAME_BYTES;
    let next: FrameHeader | null = null;
    // Bytes within a frame may look like a header: its number and its checksum tell the true one.
    while (!next) {
      end = bytes.indexOf(0xff, end);
      if (end < 0) break;
      const found = bytes[end + 1] === bytes[at + 1] ? readFrameHeader(bytes, end) : null;
      if (found?.codedNumber === expected) next = found;
      else end++;
    }
    frames.push(bytes.subarray(at, end < 0 ? bytes.length : end));
    totalFrames += header.blockSize;
    header = next;
    at = end;
  }
  const isWhole = totalFrames > 0 && (layout.totalFrames === 0 || layout.totalFrames === totalFrames);
  return isWhole ? { frames, totalFrames } : null;
}

/** Reads the metadata blocks (RFC 9639, sections 8.1 and 8.2). Length 0: the file does not say. */
export function flacLayout(bytes: Uint8Array): { totalFrames: number; channels: number; soundStart: number } | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let at = 0;
  while (at + 4 < bytes.length && view.getUint32(at) !== 0x664c6143) at++;
  at += 4;
  if (at + 38 > bytes.length) return null;
  const totalFrames = (bytes[at + 17]! & 0x0f) * 2 ** 32 + view.getUint32(at + 18);
  const channels = ((bytes[at + 16]! >> 1) & 0x07) + 1;
  for (let isLast = false; !isLast && at + 4 <= bytes.length;) {
    isLast = (bytes[at]! & 0x80) !== 0;
    at += 4 + (view.getUint32(at) & 0xffffff);
  }
  return { totalFrames, channels, soundStart: at };
}

/** Reads a frame's header; null where none stands. */
function readFrameHeader(bytes: Uint8Array, start: number): FrameHeader | null {
  if (start + 6 > bytes.length || bytes[start] !== 0xff || (bytes[start + 1]! & 0xfe) !== 0xf8) return null;
  const sizeCode = bytes[start + 2]! >> 4;
  const rateCode = bytes[start + 2]! & 0x0f;
  if (sizeCode === 0 || rateCode === 15) return null;
  let at = start + 4;
  // The number is coded like UTF-8, to seven bytes: as many leading ones as bytes.
  const lead = bytes[at++]!;
  const more = Math.clz32(~(lead << 24)) - 1;
  if (more === 0 || more > 6) return null;
  let codedNumber = more > 0 ? lead & (0x3f >> more) : lead;
  for (let i = 0; i < more; i++) codedNumber = codedNumber * 64 + (bytes[at++]! & 0x3f);
  let blockSize = sizeCode === 1 ? 192 : sizeCode < 6 ? 144 << sizeCode : 1 << sizeCode;
  if (sizeCode === 6) blockSize = bytes[at++]! + 1;
  else if (sizeCode === 7) blockSize = bytes[at++]! * 256 + bytes[at++]! + 1;
  if (rateCode >= 12) at += rateCode === 12 ? 1 : 2;
  if (at >= bytes.length || crc8(bytes, start, at) !== bytes[at]) return null;
  return { blockSize, codedNumber, isVariable: (bytes[start + 1]! & 1) === 1 };
}

/** Checksum over bytes `start` to `end`: polynomial x^8 + x^2 + x + 1, from 0 (RFC 9639, section 9.1.8). */
function crc8(bytes: Uint8Array, start: number, end: number): number {
  let crc = 0;
  for (let i = start; i < end; i++) {
    crc ^= bytes[i]!;
    for (let bit = 0; bit < 8; bit++) crc = (crc & 0x80 ? (crc << 1) ^ 0x07 : crc << 1) & 0xff;
  }
  return crc;
}
