import { describe, expect, it } from 'vitest';
import { clickTick } from './click.ts';
import { grooveTicks } from './groove-ticks.ts';

const RATE = 48_000;
/** A sixteenth at 100 bpm: 60 / 100 / 4 = 0.15 s. */
const STEP = 7_200;
const tick = clickTick('tick', false, RATE);
const loudest = Math.max(...tick.map(Math.abs));

/** Peak of a stretch of the round. */
function peak(samples: Float32Array, from: number, to: number): number {
  return samples.subarray(from, to).reduce((most, value) => Math.max(most, Math.abs(value)), 0);
}

describe('a groove that is heard', () => {
  const steps = [
    { shift: 0, accent: 1 },
    { shift: 0.25, accent: 0.5 },
    { shift: 0, accent: 0 },
    { shift: -0.1, accent: 2 },
  ];
  const [round] = grooveTicks({ stepTicks: 240, steps }, 100, RATE).channels as [Float32Array];

  it('has a tick a step, where it falls, to the frame, as loud as its accent', () => {
    expect(round).toHaveLength(4 * STEP);
    for (const [step, { shift, accent }] of steps.entries()) {
      const at = Math.round((step + shift) * STEP);
      expect(peak(round, at, at + tick.length)).toBeCloseTo(0.4 * accent * loudest, 6);
      expect(peak(round, Math.max(0, at - 400), at)).toBe(0);
    }
  });

  it('comes round: what is early for the first step ends the round before', () => {
    const early = grooveTicks({ stepTicks: 240, steps: [{ shift: -0.25, accent: 1 }, steps[2]!] }, 100, RATE);
    expect(peak(early.channels[0]!, 2 * STEP - STEP / 4, 2 * STEP)).toBeGreaterThan(0.1);
    expect(peak(early.channels[0]!, 0, 2 * STEP - STEP / 4)).toBe(0);
  });
});
