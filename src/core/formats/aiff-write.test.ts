/** Files with markers, loop, tempo and root, read back by parsers that are not ours: `music-metadata`, `@audio/decode-aiff`. */
import decodeAiff from '@audio/decode-aiff';
import { parseBuffer } from 'music-metadata';
import { describe, expect, it } from 'vitest';
import { noise } from '../../../tests/support/signals.ts';
import { writeAiff } from './aiff-write.ts';
import { decodeSoundFile } from './decode.ts';
import { readWav } from './wav-read.ts';
import { writeWav } from './wav-write.ts';

const RATE = 48_000;
const audio = { sampleRate: RATE, channels: [noise(4801, 1), noise(4801, 2)] };
const cues = [
  { frame: 0, label: 'kick 1' },
  { frame: 1200, label: 'the “long” one' },
];
const loop = { startFrame: 100, endFrame: 4500 };
const facts = { tempoBpm: 92.347, root: { key: 57, cents: -12 } };

/** The chunks of a file, after the AIFF 1.3 specification: id, size, content, and a byte where the size is odd. */
function chunksOf(bytes: Uint8Array): Map<string, DataView> {
  const found = new Map<string, DataView>();
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  expect(view.getUint32(4)).toBe(bytes.length - 8);
  for (let at = 12; at < bytes.length;) {
    const id = String.fromCharCode(...bytes.subarray(at, at + 4));
    const size = view.getUint32(at + 4);
    found.set(id, new DataView(bytes.buffer, bytes.byteOffset + at + 8, size));
    at += 8 + size + (size & 1);
  }
  return found;
}

describe('an AIFF', () => {
  it.each([16, 24] as const)('of %i bit is read by others sample for sample', async (bitsPerSample) => {
    const step = 2 ** (bitsPerSample - 1);
    // What is a whole number of steps is not dithered.
    const whole = audio.channels.map((channel) => channel.map((sample) => Math.round(sample * 0.9 * step) / step));
    const bytes = writeAiff({ sampleRate: RATE, channels: whole }, { bitsPerSample, cues, loop, facts });
    const { sampleRate, channelData } = decodeAiff(bytes);
    expect(sampleRate).toBe(RATE);
    for (const [place, channel] of channelData.entries()) expect(channel).toEqual(whole[place]);
    expect((await decodeSoundFile(bytes)).audio.channels).toEqual(whole);
    const { format } = await parseBuffer(bytes, 'audio/aiff');
    expect(format).toMatchObject({ sampleRate: RATE, bitsPerSample, numberOfChannels: 2 });
    expect(format.duration).toBeCloseTo(4801 / RATE, 6);
  });

  it('has its markers, its loop between two of them, and its root', () => {
    const chunks = chunksOf(writeAiff(audio, { bitsPerSample: 16, cues, loop, facts }));
    const marks = chunks.get('MARK')!;
    const found: [number, number, string][] = [];
    let at = 2;
    for (let n = 0; n < marks.getUint16(0); n++) {
      const length = marks.getUint8(at + 6);
      const letters = new Uint8Array(marks.buffer, marks.byteOffset + at + 7, length);
      found.push([marks.getInt16(at), marks.getUint32(at + 2), new TextDecoder().decode(letters)]);
      at += 7 + length + ((length + 1) & 1);
    }
    expect(at).toBe(marks.byteLength);
    expect(found).toEqual([
      [1, 0, 'kick 1'],
      [2, 1200, 'the “long” one'],
      [3, 100, 'loop starts'],
      [4, 4500, 'loop ends'],
    ]);
    const instrument = chunks.get('INST')!;
    expect([0, 1].map((byte) => instrument.getInt8(byte))).toEqual([57, -12]);
    // Forward, from the third marker to the fourth.
    expect([8, 10, 12].map((byte) => instrument.getInt16(byte))).toEqual([1, 3, 4]);
  });
});

describe('tempo and root', () => {
  it('are read by others, in AIFF and in WAV', async () => {
    const aiff = writeAiff(audio, { bitsPerSample: 16, facts });
    const wav = writeWav(audio, { encoding: 'pcm16', cues, loop, facts });
    for (const [bytes, type] of [
      [aiff, 'audio/aiff'],
      [wav, 'audio/wav'],
    ] as const) {
      const { common, native } = await parseBuffer(bytes, type);
      expect([common.bpm, common.key]).toEqual([92, 'A']);
      const tempo = native['ID3v2.3']!.find(({ id }) => id === 'TXXX:tempo');
      expect(tempo?.value).toBe('92.3470');
    }
    // Beside them, what stood there before.
    expect(readWav(wav)).toMatchObject({ cues, loops: [loop] });
  });

  it('the sampler chunk of a WAV says the root in semitones and a fraction', () => {
    const wav = writeWav(audio, { encoding: 'pcm16', facts });
    const text = String.fromCharCode(...wav.subarray(0, wav.length));
    const view = new DataView(wav.buffer, text.indexOf('smpl') + 8);
    expect(view.getUint32(12, true) + view.getUint32(16, true) / 2 ** 32).toBeCloseTo(56.88, 6);
  });

  it('what is not known is not said', async () => {
    const nothing = { tempoBpm: null, root: null };
    expect(writeWav(audio, { encoding: 'pcm16', facts: nothing })).toEqual(writeWav(audio, { encoding: 'pcm16' }));
    expect([...chunksOf(writeAiff(audio, { bitsPerSample: 24, facts: nothing })).keys()]).toEqual(['COMM', 'SSND']);
  });
});
