import { describe, expect, it } from 'vitest';
import { loopProject } from '../../../tests/support/documents.ts';
import { burstLoop } from '../../../tests/support/signals.ts';
import { buildPeaks } from '../dsp/peaks.ts';
import { grooveOfLoop, grooveWords, liftGroove } from './groove.ts';
import { slicesOfPart } from '../../../tests/support/edits.ts';

describe('a groove lifted out of events', () => {
  const groove = liftGroove(
    [
      { positionTicks: 0, level: 1 },
      { positionTicks: 264, level: 0.5 },
      { positionTicks: 470, level: 1.5 },
    ],
    960,
    'late second',
    240,
  );

  it('is the shift and the accent of each step; empty steps keep the grid', () => {
    expect(groove.steps).toHaveLength(4);
    expect(groove.steps.map(({ shift }) => Math.round(shift * 1000) / 1000)).toEqual([0, 0.1, -0.042, 0]);
    expect(groove.steps.map(({ accent }) => accent)).toEqual([1, 0.5, 1.5, 1]);
  });

  it('is told in words', () => {
    expect(grooveWords(groove)).toBe('4 steps, 1 late, 1 early, at most by 10% of a step');
    const straight = { shift: 0.01, accent: 1 };
    expect(grooveWords({ ...groove, steps: [straight] })).toBe('1 step, all on the grid');
    expect(grooveWords({ ...groove, steps: [straight, { shift: -0.3, accent: 1 }] })).toBe(
      '2 steps, 1 early, at most by 30% of a step',
    );
  });
});

describe('a groove lifted out of a loop', () => {
  it('has the shifts of its slices and the levels of their first moments', () => {
    // A bar of four beats in a second: sixteenths of 2756.25 frames; the third slice is a quarter of one late.
    const RATE = 44_100;
    const step = RATE / 16;
    const starts = [0, 4, 8.25, 12].map((place) => Math.round(place * step));
    const audio = burstLoop(RATE, starts, RATE, 1);
    // The second slice is half as loud as the others.
    const [channel] = audio.channels as [Float32Array];
    for (let i = starts[1]!; i < starts[2]!; i++) channel[i]! /= 2;
    const { document, partId, cutId } = loopProject(audio, starts);
    const part = document.parts[partId]!;
    const { steps } = grooveOfLoop(
      slicesOfPart(document, part),
      document.cuts[cutId]!.loop!,
      buildPeaks(audio),
      RATE,
      'beats',
      240,
    );
    expect(steps).toHaveLength(16);
    expect(steps.map(({ shift }) => Math.round(shift * 100) / 100)).toEqual([
      0, 0, 0, 0, 0, 0, 0, 0, 0.25, 0, 0, 0, 0, 0, 0, 0,
    ]);
    const [first, second, third] = [steps[0]!, steps[4]!, steps[8]!].map(({ accent }) => accent);
    expect(second! / first!).toBeCloseTo(0.5, 1);
    expect(third! / first!).toBeCloseTo(1, 1);
  });
});
