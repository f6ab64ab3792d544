/** MP3 and Ogg Vorbis, read back by decoders that are not of the encoder's making. */
import { describe, expect, it } from 'vitest';
import { sine } from '../../../tests/support/signals.ts';
import { openAudioStream } from './audio-stream.ts';
import { decodeSoundFile } from './decode.ts';
import { endingOf, expectedBytes, type LossyEncoding } from './encode.ts';

const RATE = 44_100;
const SECONDS = 4;
const left = sine(440, SECONDS).map((x) => x / 2);
const right = sine(660, SECONDS).map((x) => x / 4);

async function written(encoding: LossyEncoding, sampleRate = RATE): Promise<Uint8Array> {
  const stream = await openAudioStream(sampleRate, 2, encoding);
  const pieces: Uint8Array[] = [];
  for (let at = 0; at < left.length; at += 5000)
    pieces.push(stream.write([left.subarray(at, at + 5000), right.subarray(at, at + 5000)]));
  const { head, rest } = stream.finish();
  return Uint8Array.from([head, ...pieces, rest].flatMap((piece) => [...piece]));
}

/** How much of a signal is a tone of that frequency: its amplitude by the sum against sine and cosine. */
function amplitudeAt(signal: Float32Array, hz: number): number {
  let [re, im] = [0, 0];
  for (const [i, x] of signal.entries()) {
    re += x * Math.cos((2 * Math.PI * hz * i) / RATE);
    im += x * Math.sin((2 * Math.PI * hz * i) / RATE);
  }
  return (2 * Math.hypot(re, im)) / signal.length;
}

describe.each(['mp3', 'ogg'] as const)('%s', (encoding) => {
  it('is decoded as what it was: tones, levels, sides, length; as large as it was told', async () => {
    const bytes = await written(encoding);
    const { audio, format } = await decodeSoundFile(bytes);
    expect(format).toBe(encoding);
    expect(endingOf(encoding)).toBe(encoding);
    expect(audio.sampleRate).toBe(RATE);
    // The encoder's delay and its last frame.
    expect(Math.abs(audio.channels[0]!.length - left.length)).toBeLessThan(3000);
    const middle = (channel: Float32Array) => channel.slice(RATE, 3 * RATE);
    expect(amplitudeAt(middle(audio.channels[0]!), 440)).toBeCloseTo(0.5, 2);
    expect(amplitudeAt(middle(audio.channels[1]!), 660)).toBeCloseTo(0.25, 2);
    expect(amplitudeAt(middle(audio.channels[0]!), 660)).toBeLessThan(0.005);
    const told = expectedBytes(left.length, 2, encoding);
    // Vorbis takes less of tones.
    expect(bytes.length).toBeLessThan(told * 1.1);
  });
});

it('MP3 says which rates it knows', async () => {
  await expect(written('mp3', 96_000)).rejects.toThrow('48 kHz');
});
