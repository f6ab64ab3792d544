import { WaveFile } from 'wavefile';
import { describe, expect, it } from 'vitest';
import { fixtureBytes } from '../../../tests/support/fixtures.ts';
import { firstDifference, sine } from '../../../tests/support/signals.ts';
import { frameCount, type AudioData } from '../dsp/audio.ts';
import { AppError } from '../units/errors.ts';
import { decodeSoundFile } from './decode.ts';
import { sniffFormat } from './sniff-format.ts';
import { readWav } from './wav-read.ts';
import { losslessEncoding, writeWav, type WavEncoding } from './wav-write.ts';

const RATE = 44100;
const stereo: AudioData = { sampleRate: RATE, channels: [sine(440, 0.1), sine(660, 0.1).map((x) => x * 0.5)] };

function codeOf(promise: Promise<unknown>): Promise<string> {
  return promise.then(
    () => 'no error',
    (error: unknown) => (error instanceof AppError ? error.code : String(error)),
  );
}

describe('WAV header', () => {
  // Offsets and values after "Multimedia Programming Interface and Data Specifications 1.0" (IBM, Microsoft, 1991).
  it('has every field where the specification puts it', () => {
    const bytes = writeWav(stereo, { encoding: 'pcm16' });
    const view = new DataView(bytes.buffer);
    const text = (at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));
    expect([text(0), text(8), text(12), text(36)]).toEqual(['RIFF', 'WAVE', 'fmt ', 'data']);
    expect(view.getUint32(4, true)).toBe(bytes.length - 8);
    expect(view.getUint32(16, true)).toBe(16);
    expect(view.getUint16(20, true)).toBe(1);
    expect(view.getUint16(22, true)).toBe(2);
    expect(view.getUint32(24, true)).toBe(RATE);
    expect(view.getUint32(28, true)).toBe(RATE * 4);
    expect(view.getUint16(32, true)).toBe(4);
    expect(view.getUint16(34, true)).toBe(16);
    expect(view.getUint32(40, true)).toBe(4410 * 4);
  });

  // "New Multimedia Data Types and Data Techniques" (Microsoft, 1994): what is not integer PCM has a size of its extension
  // (none: 0) and a fact chunk with its frames.
  it('of float samples has the longer format and the fact chunk that they need', () => {
    const bytes = writeWav(stereo, { encoding: 'float32' });
    const view = new DataView(bytes.buffer);
    const text = (at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));
    expect([text(12), text(38), text(50)]).toEqual(['fmt ', 'fact', 'data']);
    expect([view.getUint32(16, true), view.getUint16(20, true), view.getUint16(36, true)]).toEqual([18, 3, 0]);
    expect([view.getUint32(42, true), view.getUint32(46, true)]).toEqual([4, 4410]);
    expect([view.getUint32(4, true), view.getUint32(54, true)]).toEqual([bytes.length - 8, 4410 * 8]);
    expect(view.getFloat32(58, true)).toBe(stereo.channels[0]![0]);
  });
});

describe('WAV against an independent library', () => {
  it.each<[WavEncoding, string, number]>([
    // A step and a half of dither, and half a step of rounding.
    ['pcm16', '16', 2 ** -15],
    ['pcm24', '24', 2 ** -24],
    ['float32', '32f', 0],
  ])('%s is read there as written here', (encoding, bitDepth, step) => {
    const file = new WaveFile(writeWav(stereo, { encoding }));
    expect(file.bitDepth).toBe(bitDepth);
    file.toBitDepth('64');
    const samples = file.getSamples(false) as unknown as Float64Array[];
    for (let i = 0; i < 4410; i += 7)
      expect(Math.abs(samples[0]![i]! - stereo.channels[0]![i]!)).toBeLessThanOrEqual(step * 3 + 1e-7);
  });

  it.each<[string, (x: number) => number, (stored: number) => number]>([
    ['8', (x) => Math.round(x * 127) + 128, (stored) => (stored - 128) / 128],
    ['16', (x) => Math.round(x * 32767), (stored) => stored / 32768],
    ['24', (x) => Math.round(x * 8388607), (stored) => stored / 8388608],
    ['32', (x) => Math.round(x * 2147483647), (stored) => stored / 2147483648],
    ['32f', (x) => x, (stored) => stored],
    ['64', (x) => x, (stored) => stored],
  ])('%s bits are read here as written there', (bitDepth, store, restore) => {
    const file = new WaveFile();
    const stored = stereo.channels.map((channel) => Array.from(channel, store));
    file.fromScratch(2, 48000, bitDepth, stored);
    const { audio } = readWav(file.toBuffer());
    expect(audio.sampleRate).toBe(48000);
    for (let i = 0; i < 4410; i += 7) expect(audio.channels[1]![i]! - Math.fround(restore(stored[1]![i]!))).toBe(0);
  });

  it('cue points and their labels are found there', () => {
    const bytes = writeWav(stereo, {
      encoding: 'pcm16',
      cues: [
        { frame: 100, label: 'kick 1' },
        { frame: 2000, label: 'snare' },
      ],
    });
    const cues = new WaveFile(bytes).listCuePoints() as unknown as { position: number; label: string }[];
    // The library gives positions in milliseconds.
    expect(cues.map((cue) => Math.round((cue.position / 1000) * RATE))).toEqual([100, 2000]);
    expect(cues.map((cue) => cue.label)).toEqual(['kick 1', 'snare']);
  });
});

describe('WAV', () => {
  it('keeps cue points and the sampler loop through writing and reading', () => {
    const cues = [
      { frame: 0, label: 'a' },
      { frame: 1234, label: 'open hat 2' },
    ];
    const file = readWav(writeWav(stereo, { encoding: 'float32', cues, loop: { startFrame: 10, endFrame: 4000 } }));
    expect(file.cues).toEqual(cues);
    expect(file.loops).toEqual([{ startFrame: 10, endFrame: 4000 }]);
    expect(firstDifference(file.audio.channels[0]!, stereo.channels[0]!)).toBe(-1);
  });

  it('chooses the smallest encoding that keeps every sample', () => {
    expect(losslessEncoding(readWav(writeWav(stereo, { encoding: 'pcm16' })).audio)).toBe('pcm16');
    expect(losslessEncoding(readWav(writeWav(stereo, { encoding: 'pcm24' })).audio)).toBe('pcm24');
    expect(losslessEncoding({ sampleRate: RATE, channels: [Float32Array.of(1.5, 0)] })).toBe('float32');
  });

  it('is read as far as it goes when it was cut short', () => {
    const bytes = writeWav(stereo, { encoding: 'pcm16' });
    expect(frameCount(readWav(bytes.subarray(0, 44 + 400)).audio)).toBe(100);
  });

  it('holds at full scale what is too loud for integers', () => {
    const { audio } = readWav(
      writeWav({ sampleRate: RATE, channels: [Float32Array.of(2, -2, 0.5)] }, { encoding: 'pcm16' }),
    );
    expect([...audio.channels[0]!]).toEqual([32767 / 32768, -1, 0.5]);
  });
});

describe('decoding by what the bytes say', () => {
  it.each([
    ['tone.wav', 'wav', 22050],
    ['tone-8.wav', 'wav', 22050],
    ['tone-24.wav', 'wav', 22050],
    ['tone-f32.wav', 'wav', 22050],
    ['tone.flac', 'flac', 22050],
    ['tone.aiff', 'aiff', 22050],
    ['tone-24.aiff', 'aiff', 22050],
    ['tone.ogg', 'ogg', 22050],
    ['tone.mp3', 'mp3', 22050],
  ])('reads %s (written by other programs)', async (name, format, frames) => {
    const bytes = await fixtureBytes(`formats/${name}`);
    const decoded = await decodeSoundFile(bytes);
    const lossy = format === 'mp3' || format === 'ogg';
    expect(decoded.format).toBe(format);
    expect(Math.abs(frameCount(decoded.audio) - frames)).toBeLessThan(lossy ? 2400 : 1);
    const reference = await decodeSoundFile(await fixtureBytes('formats/tone.wav'));
    // Lossy formats may be delayed: compare levels, not samples.
    const rms = (audio: AudioData, channel: number) => {
      const part = audio.channels[channel]!.subarray(4000, 18_000);
      return Math.sqrt(part.reduce((sum, x) => sum + x * x, 0) / part.length);
    };
    for (const channel of [0, 1])
      expect(rms(decoded.audio, channel)).toBeCloseTo(rms(reference.audio, channel), lossy ? 1 : 2);
    if (format === 'flac') expect(firstDifference(decoded.audio.channels[0]!, reference.audio.channels[0]!)).toBe(-1);
  });

  it('names what is wrong', async () => {
    const tone = await fixtureBytes('formats/tone.wav');
    expect(await codeOf(decodeSoundFile(new Uint8Array(0)))).toBe('format.empty');
    expect(await codeOf(decodeSoundFile(new TextEncoder().encode('this is a letter, not a sound')))).toBe(
      'format.unknown',
    );
    expect(await codeOf(decodeSoundFile(tone.subarray(0, 20)))).toBe('format.broken');
    expect(
      await codeOf(
        decodeSoundFile(writeWav({ sampleRate: RATE, channels: [new Float32Array(500)] }, { encoding: 'pcm16' })),
      ),
    ).toBe('format.silent');
    expect(await codeOf(decodeSoundFile((await fixtureBytes('formats/tone.flac')).subarray(0, 100)))).toBe(
      'format.broken',
    );
    const slow = writeWav({ ...stereo, sampleRate: 4000 }, { encoding: 'pcm16' });
    expect(await codeOf(decodeSoundFile(slow))).toBe('format.broken');
  });

  it('says which encoding is not taken in, and what to do', async () => {
    const ulaw = writeWav(stereo, { encoding: 'pcm16' });
    new DataView(ulaw.buffer).setUint16(20, 7, true);
    await expect(decodeSoundFile(ulaw)).rejects.toThrow(
      'a WAV of µ-law is not taken in: save it as plain PCM or float',
    );
    // The first page of an Opus stream: one segment of 19 bytes (RFC 7845, section 5.1).
    const page = new Uint8Array(27 + 1 + 19);
    page.set(new TextEncoder().encode('OggS'));
    page.set([1, 19], 26);
    page.set(new TextEncoder().encode('OpusHead'), 28);
    await expect(decodeSoundFile(page)).rejects.toThrow('only Vorbis is taken in, this is Opus');
  });

  it.each([8000, 11_025, 96_000, 192_000])('takes %i Hz', async (sampleRate) => {
    const { audio } = await decodeSoundFile(writeWav({ ...stereo, sampleRate }, { encoding: 'pcm16' }));
    expect(audio.sampleRate).toBe(sampleRate);
    expect(frameCount(audio)).toBe(4410);
  });

  it('mends samples that are no numbers', async () => {
    const bytes = writeWav(
      { sampleRate: RATE, channels: [Float32Array.of(0.5, NaN, Infinity, 0.25)] },
      { encoding: 'float32' },
    );
    const decoded = await decodeSoundFile(bytes);
    expect(decoded.mended.nonNumbers).toBe(2);
    expect([...decoded.audio.channels[0]!]).toEqual([0.5, 0, 0, 0.25]);
  });

  it('goes by content, not by name', async () => {
    expect(sniffFormat(await fixtureBytes('formats/tone.flac'))).toBe('flac');
    expect(sniffFormat(new TextEncoder().encode('RIFFxxxxAVI '))).toBeNull();
  });
});
