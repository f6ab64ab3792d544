import { readFile } from 'node:fs/promises';
import { describe, expect, it } from 'vitest';
import { makeMelody } from '../../../bench/melodic-material.ts';
import { madeKit } from '../../../bench/tempo-kits.ts';
import { makeLoop, RATE, STYLES } from '../../../bench/tempo-material.ts';
import { mixForReading } from '../dsp/audio.ts';
import { decodeSoundFile } from '../formats/decode.ts';
import { seededRandom } from '../units/random.ts';
import { analyseOnsets } from './detect-onsets.ts';
import { DEFAULT_SELECTION, selectOnsets } from './select-onsets.ts';
import { isVoiceAlone, voiceSpans } from './voice-alone.ts';

const fixture = (path: string) => readFile(new URL(`../../../tests/fixtures/${path}`, import.meta.url));
const read = async (path: string) => {
  const { audio } = await decodeSoundFile(await fixture(path));
  return { signal: mixForReading(audio), rate: audio.sampleRate };
};

describe('whether a voice sounds alone', () => {
  it('knows somebody who speaks, and made vowels', async () => {
    const { signal, rate } = await read('voice/spoken.flac');
    expect(isVoiceAlone(signal, rate)).toBe(true);
    for (const seed of [1, 2]) expect(isVoiceAlone(makeMelody('sung', seed).samples, RATE)).toBe(true);
  });

  it('takes no drums, no notes and no chords for one', async () => {
    for (const name of ['fast-04', 'perc-02', 'pluck-01', 'swing-02', 'swing-04']) {
      const { signal, rate } = await read(`loops/${name}.flac`);
      expect(isVoiceAlone(signal, rate), name).toBe(false);
    }
    for (const kind of ['pedal', 'chords', 'bells', 'organ', 'bass', 'held notes', 'tones'] as const)
      expect(isVoiceAlone(makeMelody(kind, 11).samples.subarray(0, 6 * RATE), RATE), kind).toBe(false);
    for (const [place, style] of STYLES.entries()) {
      if (place % 5 !== 0) continue;
      const { samples } = makeLoop(style, madeKit(place), place, false);
      expect(isVoiceAlone(samples.subarray(0, 6 * RATE), RATE), style.name).toBe(false);
    }
  });

  it('knows nothing of silence, noise, a tone, and what is too short', () => {
    const random = seededRandom(5);
    const sine = (seconds: number) => Float32Array.from({ length: seconds * RATE }, (_, i) => 0.5 * Math.sin(i / 30));
    const noise = Float32Array.from({ length: 2 * RATE }, () => random() - 0.5);
    for (const signal of [new Float32Array(0), new Float32Array(RATE), noise, sine(2), sine(0.05), sine(0.00003)])
      expect(isVoiceAlone(signal, RATE)).toBe(false);
  });
});

describe('where in a recording a voice is alone', () => {
  it('is told stretch by stretch: the drums after it are cut as drums', async () => {
    const { signal, rate } = await read('voice/spoken.flac');
    const drums = await read('loops/fast-04.flac');
    const ratio = drums.rate / rate;
    const spansWith = (voiceSeconds: number) => {
      const both = Float32Array.from({ length: 12 * rate }, (_, i) => {
        const after = i - voiceSeconds * rate;
        return after < 0 ? signal[i % signal.length]! : drums.signal[Math.round(after * ratio) % drums.signal.length]!;
      });
      return voiceSpans(both, rate).map((one) => [one.startFrame / rate, one.endFrame / rate]);
    };
    expect(spansWith(6)).toEqual([[0, 6]]);
    const [[from, to]] = spansWith(3.5) as [[number, number]];
    expect(from).toBe(0);
    expect(Math.abs(to - 3.5)).toBeLessThan(0.4);
  });
});

describe('a voice that nothing was learned from', () => {
  it('is cut at its syllables: hardly one is missed, and consonants stay with their vowels', async () => {
    const { signal, rate } = await read('voice/spoken.flac');
    const truth = JSON.parse((await fixture('voice/truth.json')).toString()) as {
      startSeconds: number;
      vowelSeconds: number;
    }[];
    const { onsets } = analyseOnsets(signal, rate);
    const markers = selectOnsets(onsets, rate, DEFAULT_SELECTION).map(({ attackFrame }) => attackFrame / rate);
    const within = truth.map(({ startSeconds, vowelSeconds }) =>
      markers.filter((at) => at > startSeconds - 0.04 && at < vowelSeconds + 0.04),
    );
    expect(within.filter(({ length }) => length === 0).length).toBeLessThanOrEqual(1);
    expect(within.filter(({ length }) => length > 1).length).toBeLessThanOrEqual(1);
    // As drums it had ten too many.
    expect(markers.length - truth.length).toBeLessThanOrEqual(2);
  });
});
