/** Sounds as people have them: very short, very loud, damaged, or longer than can be. */
import { readFile } from 'node:fs/promises';
import { describe, expect, it } from 'vitest';
import { unwrap } from '../support/documents.ts';
import { sine } from '../support/signals.ts';
import { analyseSource, describeSlices } from '#core/analysis/analyse-source.ts';
import { cutAtHits } from '#core/analysis/cut.ts';
import { DEFAULT_SELECTION } from '#core/analysis/select-onsets.ts';
import { isSingleHit } from '#core/analysis/single-hit.ts';
import { frameCount, type AudioData } from '#core/dsp/audio.ts';
import { addPart } from '#core/project/commands/parts.ts';
import { emptyDocument } from '#core/document/defaults.ts';
import { foundSlices, likeliestLoop } from '#core/project/new-part.ts';
import { openDocument } from '#core/document/validate.ts';
import { AppError } from '#core/units/errors.ts';
import { decodeSoundFile, MAX_SAMPLES } from '#core/formats/decode.ts';
import { mendedWords } from '#core/formats/mend-levels.ts';
import { writeWav } from '#core/formats/wav-write.ts';

const fixture = (name: string) => readFile(new URL(`../fixtures/${name}`, import.meta.url));

/** Everything that an import does, to a document that could be saved. */
function imported(audio: AudioData, name = 'sound') {
  const analysis = analyseSource(audio);
  const markers = cutAtHits(analysis, DEFAULT_SELECTION);
  const frames = frameCount(audio);
  const ranges = markers.map(({ frame }, i) => ({ startFrame: frame, endFrame: markers[i + 1]?.frame ?? frames }));
  const { sampleRate, channels } = audio;
  const loop = likeliestLoop(
    analysis.tempoReadings,
    frames,
    sampleRate,
    isSingleHit(
      audio,
      markers.map(({ frame }) => frame),
    ),
  );
  let id = 0;
  const document = unwrap(
    addPart(
      emptyDocument('p', 'p'),
      {
        name,
        source: { id: 's', name, sampleRate, channels: channels.length, frames },
        loop,
        tempoReadings: analysis.tempoReadings,
        slices: foundSlices(markers, describeSlices(analysis, ranges)),
        adoptTempo: true,
      },
      { newId: () => `i${++id}`, newSeed: () => 1 },
    ),
  );
  return { document: openDocument(JSON.parse(JSON.stringify(document))), loop, markers };
}

describe('short sounds', () => {
  const loops = ['fast-04', 'perc-02', 'pluck-01', 'swing-02', 'swing-04'];
  it.each([0.05, 0.1, 0.3, 0.6, 1.2, 2.3])(
    'of %f s are taken in, whatever loop they were cut from',
    async (seconds) => {
      for (const name of loops) {
        const { audio } = await decodeSoundFile(await fixture(`loops/${name}.flac`));
        const frames = Math.round(seconds * audio.sampleRate);
        const short = { ...audio, channels: audio.channels.map((channel) => channel.slice(0, frames)) };
        const { loop, document } = imported(short, name);
        expect(Object.keys(document.zones).length).toBeGreaterThan(0);
        if (loop) expect(loop.endFrame).toBeLessThanOrEqual(frames);
      }
    },
  );

  it('a single hit is no loop, but ready on a key', () => {
    const hit = sine(180, 0.4).map((value, i) => value * Math.exp(-i / 3000));
    const { loop, document } = imported({ sampleRate: 44100, channels: [hit] });
    expect(loop).toBeNull();
    expect(Object.values(document.zones)).toHaveLength(1);
  });
});

describe('levels beyond all sense', () => {
  it.each([
    ['samples up to 3e38', (i: number) => (i % 1000 === 0 ? 3e38 : Math.sin(i * 0.05) * 0.2)],
    ['noise at 1e20', (i: number) => Math.sin(i * i) * 1e20],
    ['infinities and no numbers', (i: number) => (i % 777 === 0 ? Infinity : i % 778 === 0 ? NaN : Math.sin(i * 0.05))],
  ])('%s are brought into range and named, and give a document that can be saved', async (_what, sampleAt) => {
    const channels = [Float32Array.from({ length: 88_200 }, (_, i) => sampleAt(i))];
    const { audio, mended } = await decodeSoundFile(writeWav({ sampleRate: 44100, channels }, { encoding: 'float32' }));
    expect(mendedWords(mended)).toBeTruthy();
    expect(audio.channels[0]!.every((value) => Number.isFinite(value) && Math.abs(value) <= 64)).toBe(true);
    const text = JSON.stringify(imported(audio).document);
    expect(text).not.toMatch(/NaN|Infinity/);
    expect(JSON.stringify(analyseSource(audio).tempoReadings)).not.toContain('null');
  });
});

describe('files that are too long', () => {
  /** A FLAC header alone that announces so many frames (RFC 9639, section 8.2), with a frame after it. */
  async function announcing(frames: number): Promise<Uint8Array> {
    const bytes = new Uint8Array(await fixture('formats/tone.flac'));
    // The total of samples: 36 bits from the low half of byte 21 of the file on.
    bytes[21] = (bytes[21]! & 0xf0) | Math.floor(frames / 2 ** 32);
    new DataView(bytes.buffer, bytes.byteOffset).setUint32(22, frames >>> 0);
    return bytes;
  }

  it('are refused by what their header says, before anything is decoded', async () => {
    const fourHours = await announcing(4 * 3600 * 44100);
    const began = performance.now();
    await expect(decodeSoundFile(fourHours)).rejects.toMatchObject({ code: 'format.too-large' });
    // Decoding them takes minutes.
    expect(performance.now() - began).toBeLessThan(2_000);
    expect(MAX_SAMPLES / 2 / 44100 / 60).toBeGreaterThan(15);
  });
});

describe('damaged files', () => {
  it.each(['ogg', 'aiff', 'flac', 'mp3', 'wav'])(
    'of %s are named so in plain words, wherever they are damaged',
    async (kind) => {
      const whole = new Uint8Array(await fixture(`formats/tone.${kind}`));
      const raw = /DataView|typed array|undefined|Invalid|bounds|not a function|logError/;
      for (const keep of [12, 30, 48, 80, 200, Math.floor(whole.length / 3)]) {
        for (const spoilt of [false, true]) {
          const bytes = whole.slice(0, keep);
          if (spoilt) for (let i = 20; i < bytes.length; i += 7) bytes[i]! ^= 0xff;
          const error: unknown = await decodeSoundFile(bytes).then(
            () => null,
            (reason: unknown) => reason,
          );
          if (error === null) continue;
          expect(error).toBeInstanceOf(AppError);
          expect((error as AppError).message).not.toMatch(raw);
        }
      }
    },
  );
});
