import { unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { firstDifference, noise, sine } from '../../../tests/support/signals.ts';
import type { AudioData } from '../dsp/audio.ts';
import { AppError } from '../units/errors.ts';
import { decodeSoundFile } from './decode.ts';
import { sliceAudio, sliceFileNames, slicesTogether, zipSlices, type SliceFileOptions } from './export-slices.ts';
import { writeFlac } from './flac-write.ts';
import { readWav } from './wav-read.ts';
import { writeWav } from './wav-write.ts';

const audio: AudioData = { sampleRate: 44100, channels: [sine(440, 0.5), sine(660, 0.5).map((x) => x / 2)] };
const options: SliceFileOptions = {
  encoding: 'wav32',
  fadeInMs: 0,
  fadeOutMs: 0,
  mono: false,
  sampleRate: null,
  namePattern: '{source} {number} {slice}',
};
const slices = [
  { startFrame: 0, endFrame: 5000, name: 'kick 1' },
  { startFrame: 5000, endFrame: 22_050, name: 'snare 1' },
];

describe('FLAC', () => {
  it.each([16, 24] as const)('of %i bits gives every sample back through another decoder', async (bits) => {
    const exact = readWav(writeWav(audio, { encoding: bits === 16 ? 'pcm16' : 'pcm24' })).audio;
    const { audio: back, format } = await decodeSoundFile(await writeFlac(exact, bits));
    expect(format).toBe('flac');
    expect(back.sampleRate).toBe(44100);
    for (const channel of [0, 1]) expect(firstDifference(back.channels[channel]!, exact.channels[channel]!)).toBe(-1);
  });
});

describe('slices as files', () => {
  it('hold their samples exactly when nothing is changed', async () => {
    const files = unzipSync(await zipSlices([{ audio, slices }], 'Ferry', options));
    expect(Object.keys(files)).toEqual(['Ferry 01 kick 1.wav', 'Ferry 02 snare 1.wav']);
    const second = readWav(files['Ferry 02 snare 1.wav']!).audio;
    expect(firstDifference(second.channels[1]!, audio.channels[1]!.slice(5000, 22_050))).toBe(-1);
  });

  it('of several sounds are numbered through, each with its own samples', async () => {
    const other = { sampleRate: 22_050, channels: [Float32Array.from({ length: 900 }, (_, i) => i / 1_000)] };
    const sounds = [
      { audio, slices: slices.slice(0, 1) },
      { audio: other, slices: [{ startFrame: 100, endFrame: 500, name: 'bell' }] },
    ];
    const files = unzipSync(await zipSlices(sounds, 'Kit', options));
    expect(Object.keys(files)).toEqual(['Kit 01 kick 1.wav', 'Kit 02 bell.wav']);
    const bell = readWav(files['Kit 02 bell.wav']!).audio;
    expect([bell.sampleRate, bell.channels[0]!.length]).toEqual([22_050, 400]);
    expect(bell.channels[0]![50]).toBeCloseTo(0.15, 3);
  });

  it('fade, mix down and change their rate as asked', () => {
    const faded = sliceAudio(audio, slices[1]!, { ...options, fadeInMs: 10, fadeOutMs: 10 });
    expect(Math.abs(faded.channels[0]![0]!)).toBeLessThan(0.01);
    expect(Math.abs(faded.channels[0]!.at(-1)!)).toBeLessThan(0.01);
    const small = sliceAudio(audio, slices[1]!, { ...options, mono: true, sampleRate: 22050 });
    expect(small.channels).toHaveLength(1);
    expect(small.sampleRate).toBe(22050);
    expect(small.channels[0]!.length).toBe(Math.round(17_050 / 2));
    expect(() => sliceAudio(audio, slices[0]!, { ...options, fadeInMs: 11 })).toThrow(/11 ms/);
  });

  it('have names that every system takes, each once', () => {
    const awkward = [
      { startFrame: 0, endFrame: 1, name: 'a/b:c*' },
      { startFrame: 1, endFrame: 2, name: 'a b c' },
    ];
    expect(sliceFileNames(awkward, 'x', { ...options, namePattern: '{slice}', encoding: 'flac16' })).toEqual([
      'a b c.flac',
      'a b c 2.flac',
    ]);
    expect(sliceFileNames(awkward, 'x', { ...options, namePattern: '..' })).toEqual(['01.wav', '02.wav']);
    // What somebody called a slice is taken as it stands.
    const signs = [{ startFrame: 0, endFrame: 1, name: "$& {number} $' $$" }];
    expect(sliceFileNames(signs, 'x', { ...options, namePattern: '{slice} {none}' })).toEqual([
      "$& {number} $' $$ {none}.wav",
    ]);
  });

  it('can be given up', async () => {
    await expect(zipSlices([{ audio, slices }], 'x', options, async () => false)).rejects.toSatisfy(
      (error) => error instanceof AppError && error.code === 'cancelled',
    );
  });
});

describe('slices in one file', () => {
  const loop = { sampleRate: 44100, channels: [noise(3000, 4)] };
  const ends = [0, 500, 1700, 3000];
  const pieces = [0, 1, 2].map((n) => ({ startFrame: ends[n]!, endFrame: ends[n + 1]!, name: `hit ${n + 1}` }));
  const plainly = { ...options, encoding: 'wav32' as const, fadeInMs: 0, fadeOutMs: 0, mono: false, sampleRate: null };

  it('lie in stretches of one length, each with a marker', async () => {
    const { audio, cues } = readWav(await slicesTogether([{ audio: loop, slices: pieces }], plainly));
    expect(audio.channels[0]).toHaveLength(3 * 1300);
    expect(cues).toEqual([0, 1, 2].map((n) => ({ frame: n * 1300, label: `hit ${n + 1}` })));
    for (const [n, { startFrame, endFrame }] of pieces.entries()) {
      const length = endFrame - startFrame;
      const there = audio.channels[0]!.subarray(n * 1300, (n + 1) * 1300);
      expect(there.subarray(0, length)).toEqual(loop.channels[0]!.subarray(startFrame, endFrame));
      expect(there.subarray(length).every((sample) => sample === 0)).toBe(true);
    }
  });

  it('FLAC holds no markers: as WAV of as many bits', async () => {
    const bytes = await slicesTogether([{ audio: loop, slices: pieces }], { ...plainly, encoding: 'flac24' });
    expect(readWav(bytes)).toMatchObject({ bitsPerSample: 24, isFloat: false });
    await expect(slicesTogether([], plainly)).rejects.toThrow('no slice');
    const cancelled = slicesTogether([{ audio: loop, slices: pieces }], plainly, async () => false);
    await expect(cancelled).rejects.toMatchObject({ code: 'cancelled' });
  });
});
