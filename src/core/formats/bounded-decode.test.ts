/** Files whose heads say little and whose bodies hold much: the limit holds while they are decoded. */
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { decodeBounded, type DecodedPiece } from './bounded-decode.ts';
import { decodeSoundFile } from './decode.ts';

const fixture = (name: string) => new Uint8Array(readFileSync(`tests/fixtures/formats/${name}`));

/** A head that says hardly anything, whatever follows. */
const LIES: Record<string, (bytes: Uint8Array) => Uint8Array> = {
  // STREAMINFO, total samples (RFC 9639, section 8.2).
  'tone.flac': (bytes) => {
    new DataView(bytes.buffer).setUint32(4 + 18, 100);
    bytes[4 + 17]! &= 0xf0;
    return bytes;
  },
  // Streams in a row (RFC 3533, section 4): the last page tells the length of its own.
  'tone.ogg': (bytes) => Uint8Array.from({ length: 3 * bytes.length }, (_, i) => bytes[i % bytes.length]!),
  // A first frame as encoders write it, which says that one frame follows (common practice).
  'tone.mp3': (bytes) => {
    const first = bytes.findIndex((byte, at) => byte === 0xff && (bytes[at + 1]! & 0xe0) === 0xe0);
    const second = Buffer.from(bytes.buffer).indexOf(Buffer.from(bytes.subarray(first, first + 2)), first + 4);
    const head = new Uint8Array(second - first);
    head.set(bytes.subarray(first, first + 4));
    const isMono = bytes[first + 3]! >> 6 === 3;
    head.set(Buffer.from('Xing'), isMono ? 21 : 36);
    head.set([0, 0, 0, 1, 0, 0, 0, 1], (isMono ? 21 : 36) + 4);
    return Uint8Array.from([...head, ...bytes.subarray(first)]);
  },
};

describe.each(Object.keys(LIES))('%s', (name) => {
  it('whose head lies about its length is refused while it is decoded', async () => {
    const { audio } = await decodeSoundFile(fixture(name));
    const samples = audio.channels.length * audio.channels[0]!.length;
    const lie = LIES[name]!(fixture(name));
    await expect(decodeSoundFile(lie, Math.round(samples / 2))).rejects.toMatchObject({ code: 'format.too-large' });
  });

  // With another first frame an MP3 decoder leaves other samples out: formats.test.ts holds it against the tone.
  it.skipIf(name === 'tone.mp3')('comes out the same piece by piece', async () => {
    const { audio } = await decodeSoundFile(fixture(name));
    const lie = await decodeSoundFile(LIES[name]!(fixture(name)));
    expect(lie.audio.sampleRate).toBe(audio.sampleRate);
    const length = Math.min(lie.audio.channels[0]!.length, audio.channels[0]!.length);
    expect(length).toBeGreaterThan(1_000);
    expect(lie.audio.channels[0]!.slice(0, length)).toEqual(audio.channels[0]!.slice(0, length));
  });
});

describe('decoding in pieces', () => {
  /** Every byte holds so many samples, in many channels. */
  function bomb(samplesAByte: number, channels: number) {
    const sizes: number[] = [];
    const decode = (bytes: Uint8Array): DecodedPiece => {
      sizes.push(bytes.length);
      const samplesDecoded = bytes.length * samplesAByte;
      const one = new Float32Array(samplesDecoded);
      return {
        channelData: Array.from({ length: channels }, () => one),
        sampleRate: 44_100,
        samplesDecoded,
        errors: [],
      };
    };
    return { sizes, decode };
  }

  it('never asks for much more at once than a piece may hold, and stops at the limit', async () => {
    const { sizes, decode } = bomb(400, 8);
    const result = await decodeBounded({ decode }, new Uint8Array(10_000_000), 20_000_000);
    expect(result).toBeNull();
    expect(Math.max(...sizes.slice(1)) * 400 * 8).toBeLessThanOrEqual(4_100_000);
    expect(sizes.reduce((sum, size) => sum + size, 0) * 400 * 2).toBeLessThan(22_000_000);
  });

  it('takes large pieces of what holds little, and keeps two channels', async () => {
    const { sizes, decode } = bomb(1, 3);
    const result = await decodeBounded({ decode }, new Uint8Array(3_000_000), 80_000_000);
    expect(result!.channels.map(({ length }) => length)).toEqual([3_000_000, 3_000_000]);
    expect(sizes.length).toBeLessThan(6);
  });
});
