import { describe, expect, it } from 'vitest';
import { fixtureBytes } from '../../../tests/support/fixtures.ts';
import { firstDifference, sine } from '../../../tests/support/signals.ts';
import { seededRandom } from '../units/random.ts';
import { decodeSoundFile } from './decode.ts';
import { splitFlacFrames } from './flac-frames.ts';
import { writeFlac } from './flac-write.ts';
import { readWav } from './wav-read.ts';
import { writeWav } from './wav-write.ts';

const RATE = 44_100;

function noise(frames: number, seed: number): Float32Array {
  const random = seededRandom(seed);
  return Float32Array.from({ length: frames }, () => 2 * random() - 1);
}

describe('finding the frames of a FLAC stream', () => {
  it('loses nothing: the frames are the stream behind its metadata, in order', async () => {
    const bytes = await fixtureBytes('formats/tone.flac');
    const { frames, totalFrames } = splitFlacFrames(bytes)!;
    expect(totalFrames).toBe(22_050);
    const soundBytes = frames.reduce((sum, frame) => sum + frame.length, 0);
    expect(frames[0]!.byteOffset + soundBytes).toBe(bytes.byteOffset + bytes.length);
    for (const frame of frames) expect([frame[0], frame[1]! & 0xfe]).toEqual([0xff, 0xf8]);
  });

  it.each([
    ['one frame', 500],
    ['frame numbers of two bytes', 20 * RATE],
    ['a last frame of one sample', 3 * 4096 + 1],
  ])('%s', async (_, frames) => {
    // Noise does not pack: its bytes look like headers again and again.
    const audio = { sampleRate: RATE, channels: [noise(frames, 1), noise(frames, 2)] };
    const decoded = await decodeSoundFile(await writeFlac(audio, 16));
    const same = readWav(writeWav(audio, { encoding: 'pcm16' })).audio;
    for (const channel of [0, 1])
      expect(firstDifference(decoded.audio.channels[channel]!, same.channels[channel]!)).toBe(-1);
  });

  it('leaves streams that are cut short or damaged to the decoder, which saves what is whole', async () => {
    const bytes = await writeFlac({ sampleRate: RATE, channels: [sine(440, 1)] }, 16);
    const short = bytes.subarray(0, Math.round(bytes.length * 0.6));
    expect(splitFlacFrames(short)).toBeNull();
    const { audio } = await decodeSoundFile(short);
    const saved = audio.channels[0]!.length;
    expect(saved).toBeGreaterThan(0.3 * RATE);
    expect(saved).toBeLessThan(0.7 * RATE);
    expect(splitFlacFrames(bytes.subarray(0, 30))).toBeNull();
    expect(splitFlacFrames(new Uint8Array(100))).toBeNull();
  });
});
