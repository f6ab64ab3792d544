import { describe, expect, it } from 'vitest';
import { rehearsal } from '../../../../tests/support/recording.ts';
import { noise, sine } from '../../../../tests/support/signals.ts';
import { runToEnd } from '../../units/steps.ts';
import { DEFAULT_BREAK_WISH, findBreaks, type BreakWish } from './find-breaks.ts';

const RATE = 44100;
const find = (signal: Float32Array, wish: Partial<BreakWish> = {}, sampleRate = RATE) =>
  runToEnd(findBreaks(signal, sampleRate, { ...DEFAULT_BREAK_WISH, ...wish }));

describe('breaks in a long recording', () => {
  const { samples, breaks } = rehearsal();
  const byWorth = find(samples);

  it('are found where drums play alone, from a bar line on, in whole bars, to within 10 ms', () => {
    const found = byWorth.toSorted((a, b) => a.startFrame - b.startFrame);
    expect(found).toHaveLength(2);
    for (const [place, { startFrame, endFrame, barFrames }] of breaks.entries()) {
      const one = found[place]!;
      const bar = Math.round((one.startFrame - startFrame) / barFrames);
      expect(Math.abs(one.startFrame - startFrame - bar * barFrames)).toBeLessThan(0.01 * RATE);
      expect(Math.abs(one.endFrame - one.startFrame - one.bars * barFrames)).toBeLessThan(0.01 * RATE);
      expect(one.endFrame).toBeLessThan(endFrame + 0.01 * RATE);
      expect(one.bpm).toBeCloseTo([98, 121][place]!, 0);
      expect(one.others).toBeLessThan(0.15);
    }
  });

  it('are ranked by how seamless they are, and tell what comes after their end', () => {
    expect(byWorth.map(({ seamless }) => seamless).every((one, n, all) => n === 0 || one <= all[n - 1]! + 0.1)).toBe(
      true,
    );
    const [best] = byWorth;
    expect(best!.seamless).toBeGreaterThan(0.75);
    expect(best!.start).toHaveLength(50);
    expect(Math.max(...best!.start, ...best!.after)).toBeCloseTo(1, 6);
  });

  it('have the lengths and tempi that are wished for', () => {
    const slow = find(samples, { bars: [1], fromBpm: 90, toBpm: 105 });
    for (const { bars } of slow) expect(bars).toBe(1);
    expect(slow).toHaveLength(1);
    expect(slow[0]!.bpm).toBeCloseTo(98, 0);
  });

  it('may be anything that goes round', () => {
    const loops = find(samples, { lookFor: 'loops' });
    for (const { startFrame, endFrame } of breaks) {
      expect(loops.some((one) => one.startFrame < endFrame && one.endFrame > startFrame)).toBe(true);
    }
  });

  it('are told of as the work goes on, and can be given up', () => {
    const steps = findBreaks(samples, RATE, DEFAULT_BREAK_WISH);
    const shares: number[] = [];
    for (let step = steps.next(); !step.done && shares.length < 20; step = steps.next()) shares.push(step.value);
    expect(shares[0]).toBe(0);
    expect(shares.every((share, n) => share >= 0 && share <= 1 && (n === 0 || share >= shares[n - 1]! - 1e-9))).toBe(
      true,
    );
  });

  it.each([
    ['silence', new Float32Array(10 * RATE)],
    ['nothing', new Float32Array(0)],
    ['one sample', new Float32Array(1)],
    ['noise', noise(10 * RATE, 1)],
    ['a pure tone', sine(440, 10)],
    ['a single click', new Float32Array(5 * RATE).fill(1, 1000, 1001)],
  ])('are not in %s', (_, signal) => {
    expect(find(signal)).toEqual([]);
    expect(find(signal, { lookFor: 'loops' })).toEqual([]);
  });

  it('are looked for at other sample rates, too', () => {
    const double = new Float32Array(2 * 12 * RATE);
    const from = breaks[0]!.startFrame - RATE;
    for (let i = 0; i < double.length; i++) double[i] = samples[from + (i >> 1)]!;
    const found = find(double, {}, 2 * RATE);
    expect(found).toHaveLength(1);
    expect(found[0]!.bpm).toBeCloseTo(98, 0);
  });

  it('a wish for nothing is refused with a word', () => {
    expect(() => find(samples, { bars: [] })).toThrow('at least one length');
    expect(() => find(samples, { fromBpm: 120, toBpm: 100 })).toThrow('120 to 100 bpm');
  });
});
