/** How long a file says it is, read from its headers before anything is decoded. */
import { flacLayout } from './flac-frames.ts';
import type { SoundFormat } from './sniff-format.ts';

/**
 * Samples over the channels that are taken in (two at most), as far as the headers tell; 0 where they say nothing.
 * Sources: RFC 9639, section 8.2 (FLAC); RFC 3533, section 6, and the Vorbis I specification, section 4.2.2 (Ogg); AIFF
 * 1.3, "The Common Chunk"; ISO 11172-3, section 2.4.2.3, and the "Xing" header as encoders write it (MP3, common practice).
 */
export function announcedSamples(bytes: Uint8Array, format: SoundFormat): number {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const { frames, channels } = readers[format](bytes, view) ?? { frames: 0, channels: 0 };
  return frames * Math.min(2, channels);
}

interface Announced {
  frames: number;
  channels: number;
}

function indexOfText(bytes: Uint8Array, text: string, from: number, to: number): number {
  const codes = [...text].map((letter) => letter.charCodeAt(0));
  for (let at = Math.max(0, from); at + codes.length <= Math.min(bytes.length, to); at++) {
    if (codes.every((code, i) => bytes[at + i] === code)) return at;
  }
  return -1;
}

const readers: Record<SoundFormat, (bytes: Uint8Array, view: DataView) => Announced | null> = {
  // A WAV file is as long as its bytes: nothing is announced that is not there.
  wav: () => null,
  flac: (bytes) => {
    const layout = flacLayout(bytes);
    return layout && { frames: layout.totalFrames, channels: layout.channels };
  },
  ogg: (bytes, view) => {
    const start = indexOfText(bytes, '\x01vorbis', 0, 4096);
    if (start < 0 || start + 12 > bytes.length) return null;
    const channels = view.getUint8(start + 11);
    // The granule position of the last page is the length in frames.
    for (let at = bytes.length - 14; at >= 0 && at > bytes.length - 131_072; at--) {
      if (indexOfText(bytes, 'OggS', at, at + 4) === at) {
        return { frames: Number(view.getBigInt64(at + 6, true)), channels };
      }
    }
    return null;
  },
  aiff: (bytes, view) => {
    const start = indexOfText(bytes, 'COMM', 12, 65_536);
    if (start < 0 || start + 18 > bytes.length) return null;
    return { frames: view.getUint32(start + 10), channels: view.getInt16(start + 8) };
  },
  mp3: (bytes, view) => {
    let at = 0;
    if (indexOfText(bytes, 'ID3', 0, 3) === 0) {
      at = 10 + [6, 7, 8, 9].reduce((sum, place) => sum * 128 + (bytes[place] ?? 0), 0);
    }
    while (at + 4 < bytes.length && !(bytes[at] === 0xff && (bytes[at + 1]! & 0xe0) === 0xe0)) at++;
    if (at + 200 > bytes.length) return null;
    const isVersion1 = (bytes[at + 1]! & 0x18) === 0x18;
    const channels = bytes[at + 3]! >> 6 === 3 ? 1 : 2;
    const framesEach = isVersion1 ? 1152 : 576;
    const info = Math.max(indexOfText(bytes, 'Xing', at, at + 200), indexOfText(bytes, 'Info', at, at + 200));
    if (info >= 0 && (bytes[info + 7]! & 1) !== 0) return { frames: view.getUint32(info + 8) * framesEach, channels };
    const rateCode = (bytes[at + 2]! >> 2) & 3;
    const kilobits = (isVersion1 ? KILOBITS_1 : KILOBITS_2)[bytes[at + 2]! >> 4];
    const rate = [44100, 48000, 32000][rateCode];
    if (!kilobits || !rate) return null;
    const sampleRate = isVersion1 ? rate : rate / 2;
    return { frames: Math.round(((bytes.length * 8) / (kilobits * 1000)) * sampleRate), channels };
  },
};

/** Bit rates of layer III by their code, in 1000 bits a second (ISO 11172-3 and 13818-3). */
const KILOBITS_1 = [0, 32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320];
const KILOBITS_2 = [0, 8, 16, 24, 32, 40, 48, 56, 64, 80, 96, 112, 128, 144, 160];
