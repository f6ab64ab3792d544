/** Which format a file is in, by what its bytes say. */
import { isWav } from './wav-read.ts';

export type SoundFormat = 'wav' | 'flac' | 'mp3' | 'ogg' | 'aiff';

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

/** What the first packet of an Ogg stream says that it holds (each mapping of a codec to Ogg names it there). */
const OGG_MARKS = { '\x01vorbis': 'Vorbis', OpusHead: 'Opus', '\x7fFLAC': 'FLAC', 'Speex   ': 'Speex' };

/** The codec of an Ogg file, where it is one that is known. The first page has one packet (RFC 3533, section 4). */
export function oggCodec(bytes: Uint8Array): string | null {
  const packet = 27 + (bytes[26] ?? 0);
  const text = String.fromCharCode(...bytes.subarray(packet, packet + 8));
  return Object.entries(OGG_MARKS).find(([mark]) => text.startsWith(mark))?.[1] ?? null;
}
