import { readFile } from 'node:fs/promises';
import { describe, expect, it } from 'vitest';
import { burstLoop, sine } from '../../../tests/support/signals.ts';
import type { AudioData } from '../dsp/audio.ts';
import { decodeSoundFile } from '../formats/decode.ts';
import { analyseSource } from './analyse-source.ts';
import { cutAtHits } from './cut.ts';
import { DEFAULT_SELECTION } from './select-onsets.ts';
import { isSingleHit } from './single-hit.ts';

const RATE = 44100;
const markersOf = (audio: AudioData) => cutAtHits(analyseSource(audio), DEFAULT_SELECTION).map(({ frame }) => frame);

describe('a single hit', () => {
  it('begins and dies away, whatever markers stand in its tail', () => {
    const tail = sine(180, 1).map((value, i) => value * Math.exp(-i / 6000) * (1 + 0.2 * Math.sin(i / 900)));
    const audio = { sampleRate: RATE, channels: [tail] };
    expect(isSingleHit(audio, [0, 8_000, 15_000, 22_000])).toBe(true);
    expect(isSingleHit(audio, [])).toBe(true);
  });

  it('is not a loop, nor two hits, nor a long sound', () => {
    const two = burstLoop(RATE, [0, 20_000]);
    expect(isSingleHit(two, markersOf(two))).toBe(false);
    expect(isSingleHit({ sampleRate: RATE, channels: [sine(100, 7)] }, [0])).toBe(false);
  });

  it('two strokes within an attack are one: a flam (common practice)', () => {
    const flam = burstLoop(RATE, [0, 1_300]);
    expect(isSingleHit(flam, [0, 1_300])).toBe(true);
  });

  it.each(['fast-04', 'perc-02', 'pluck-01', 'swing-02', 'swing-04'])('the loop %s is none', async (name) => {
    const bytes = await readFile(new URL(`../../../tests/fixtures/loops/${name}.flac`, import.meta.url));
    const { audio } = await decodeSoundFile(bytes);
    expect(isSingleHit(audio, markersOf(audio))).toBe(false);
  });
});
