import { beforeAll, describe, expect, it } from 'vitest';
import { fMeasure, scoreLoop } from '../../../bench/score-onsets.ts';
import { fixtureLoops } from '../../../tests/support/fixtures.ts';
import { burstLoop, sine } from '../../../tests/support/signals.ts';
import { mixToMono } from '../dsp/audio.ts';
import { analyseSource, describeSlices } from './analyse-source.ts';
import { cutAtHits } from './cut.ts';
import { analyseOnsets } from './detect-onsets.ts';
import { DEFAULT_SELECTION, selectOnsets } from './select-onsets.ts';

const RATE = 44100;
type Loops = Awaited<ReturnType<typeof fixtureLoops>>;

describe('hits of real loops with exact truth', () => {
  let loops: Loops;
  beforeAll(async () => {
    loops = await fixtureLoops();
  });

  it('are found within 10 ms, none missed and none invented in the drum loops', () => {
    for (const { name, truth, audio } of loops.filter((loop) => loop.truth.tags.includes('drums'))) {
      const markers = cutAtHits(analyseSource(audio), DEFAULT_SELECTION).map((marker) => marker.frame);
      const score = scoreLoop(truth, markers, 10);
      expect({ name, missed: score.missed, invented: score.invented }).toEqual({ name, missed: 0, invented: 0 });
    }
  });

  it('are marked before the attack and near it: median under 1 ms, under 5% later than 1 ms', () => {
    const errors = loops
      .filter((loop) => loop.truth.tags.includes('drums'))
      .flatMap(
        ({ truth, audio }) =>
          scoreLoop(
            truth,
            cutAtHits(analyseSource(audio), DEFAULT_SELECTION).map((m) => m.frame),
            25,
          ).errorsMs,
      );
    const sorted = errors.map(Math.abs).sort((a, b) => a - b);
    expect(sorted[Math.floor(sorted.length / 2)]).toBeLessThan(1);
    expect(errors.filter((error) => error > 1).length / errors.length).toBeLessThan(0.05);
  });

  it('know where the attack itself begins, nearer than the marker and neither early nor late in the middle of all', () => {
    const distances = { marker: [] as number[], attack: [] as number[] };
    for (const { truth, audio } of loops.filter((loop) => loop.truth.tags.includes('drums'))) {
      const onsets = selectOnsets(analyseSource(audio).onsets, audio.sampleRate, DEFAULT_SELECTION);
      for (const { frame } of truth.onsets.filter((onset) => !onset.masked)) {
        const msFrom = (at: number) => ((at - frame) / audio.sampleRate) * 1000;
        const near = onsets.find((onset) => Math.abs(msFrom(onset.frame)) < 10);
        if (!near || near.frame === 0) continue;
        distances.marker.push(msFrom(near.frame));
        distances.attack.push(msFrom(near.attackFrame));
      }
    }
    const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + Math.abs(value), 0) / values.length;
    expect(mean(distances.attack)).toBeLessThan(0.6 * mean(distances.marker));
    const sorted = distances.attack.sort((a, b) => a - b);
    expect(Math.abs(sorted[Math.floor(sorted.length / 2)]!)).toBeLessThan(0.2);
  });

  it('give over all fixtures, plucked notes and scrapers among them, an F-measure of 0.97 at 10 ms', () => {
    const total = { found: 0, missed: 0, invented: 0 };
    for (const { truth, audio } of loops) {
      const score = scoreLoop(
        truth,
        cutAtHits(analyseSource(audio), DEFAULT_SELECTION).map((m) => m.frame),
        10,
      );
      total.found += score.found;
      total.missed += score.missed;
      total.invented += score.invented;
    }
    expect(fMeasure(total)).toBeGreaterThan(0.97);
  });

  it('show tempo and bars at the first reading', () => {
    for (const { name, truth, audio } of loops) {
      const [best] = analyseSource(audio).tempoReadings;
      expect({ name, bars: best?.bars }).toEqual({ name, bars: truth.bars });
      expect(Math.abs(best!.bpm / truth.bpm - 1)).toBeLessThan(0.001);
    }
  });

  it('are the same every time', () => {
    const { audio } = loops[0]!;
    const once = analyseSource(audio);
    const again = analyseSource(audio);
    expect(again.onsets).toEqual(once.onsets);
    expect(again.tempoReadings).toEqual(once.tempoReadings);
  });
});

describe('hits of made-up signals', () => {
  it('stand on bursts', () => {
    const starts = [0, 11_025, 22_050, 40_000];
    const analysis = analyseOnsets(mixToMono(burstLoop(60_000, starts)), RATE);
    const found = selectOnsets(analysis.onsets, RATE, DEFAULT_SELECTION).map((onset) => onset.frame);
    expect(found).toHaveLength(4);
    found.forEach((frame, index) => expect(Math.abs(frame - starts[index]!)).toBeLessThan(0.0015 * RATE));
  });

  it.each([
    ['one channel turned round', -1],
    ['one channel dead', 0],
  ])('are found with %s, as in the channel alone', (_, other) => {
    const starts = [0, 11_025, 22_050, 40_000];
    const [left] = burstLoop(60_000, starts, RATE, 1).channels;
    const channels = [left!, left!.map((sample) => other * sample)];
    const frames = (sounds: Float32Array[]) =>
      analyseSource({ sampleRate: RATE, channels: sounds }).tempoHits.map((hit) => hit.frame);
    expect(frames(channels)).toEqual(frames([left!]));
    expect(frames(channels)).toHaveLength(4);
  });

  it('are more at a higher sensitivity, and thinned to the least gap', () => {
    const starts = [0, 10_000, 13_500, 30_000];
    const { onsets } = analyseOnsets(mixToMono(burstLoop(50_000, starts)), RATE);
    const count = (sensitivity: number, minGapMs: number) =>
      selectOnsets(onsets, RATE, { sensitivity, minGapMs }).length;
    expect(count(0.9, 18)).toBeGreaterThanOrEqual(count(0.5, 18));
    expect(count(0.5, 18)).toBeGreaterThanOrEqual(count(0.1, 18));
    expect(count(0.9, 100)).toBeLessThan(count(0.9, 5));
  });

  it('are both strokes of a flam at high sensitivity, and one hit from its first stroke on at low', () => {
    for (const apartMs of [25, 32, 40]) {
      const strokes = [20_000, 20_000 + Math.round((apartMs / 1000) * RATE)];
      const { onsets } = analyseOnsets(mixToMono(burstLoop(60_000, strokes)), RATE);
      const found = (sensitivity: number) =>
        selectOnsets(onsets, RATE, { ...DEFAULT_SELECTION, sensitivity }).map((onset) => onset.frame);
      const two = found(0.9).filter((frame) => strokes.some((at) => Math.abs(frame - at) < 0.003 * RATE));
      expect({ apartMs, strokes: two.length }).toEqual({ apartMs, strokes: 2 });
      const one = found(0.2);
      expect(one).toHaveLength(1);
      expect(Math.abs(one[0]! - strokes[0]!)).toBeLessThan(0.003 * RATE);
    }
  });

  it('are none in silence or a steady tone', () => {
    expect(analyseOnsets(new Float32Array(RATE), RATE).onsets).toEqual([]);
    const steady = selectOnsets(analyseOnsets(sine(220, 2), RATE).onsets, RATE, DEFAULT_SELECTION);
    expect(steady.filter((onset) => onset.frame > 2000)).toEqual([]);
  });

  it.each([
    ['a 5 ms file', sine(440, 0.005)],
    ['one sample', Float32Array.of(0.5)],
    ['a constant', new Float32Array(RATE).fill(0.4)],
    ['a full-scale square', Float32Array.from({ length: RATE }, (_, i) => (Math.floor(i / 50) % 2 ? 1 : -1))],
  ])('are read from %s without trouble', (_name, signal) => {
    const audio = { sampleRate: RATE, channels: [signal] };
    const analysis = analyseSource(audio);
    const markers = cutAtHits(analysis, DEFAULT_SELECTION);
    expect(markers.length).toBeGreaterThan(0);
    expect(markers.every(({ frame }) => frame >= 0 && frame < signal.length)).toBe(true);
    const facts = describeSlices(
      analysis,
      markers.map(({ frame }) => ({ startFrame: frame, endFrame: signal.length })),
    );
    expect(facts.every(({ brightnessHz }) => Number.isFinite(brightnessHz))).toBe(true);
  });
});

describe('the landscape', () => {
  it('stands as high at a hit as the hit is strong', () => {
    const { onsets, landscape } = analyseOnsets(mixToMono(burstLoop(60_000, [20_000])), RATE);
    const hit = onsets.reduce((best, onset) => (onset.strength > best.strength ? onset : best));
    const around = Math.round(hit.frame / landscape.hopFrames);
    expect(Math.max(...landscape.values.subarray(around - 15, around + 15))).toBeCloseTo(hit.strength, 5);
    expect(landscape.values.every((value) => value >= 0 && value <= 1)).toBe(true);
  });
});
