import { feelStepTicks } from './feel-step.ts';
import { describe, expect, it } from 'vitest';
import {
  driftMs,
  grooveAccent,
  plainTiming,
  swung,
  timedLength,
  timedTicks,
  withFeel,
  withGroove,
  type TimingSettings,
} from './timing.ts';

const PLAIN: TimingSettings = { ...plainTiming(), groovePercent: 100 };

describe('swing', () => {
  // Common practice: 50% straight, 66.7% the last of three triplets, 75% a dotted eighth and a thirty-second pair.
  it.each([
    [50, 240],
    [66.667, 320],
    [75, 360],
    [54, 259.2],
  ])('of %f%% puts the off-beat sixteenth at %f of the pair of 480 ticks', (percent, ticks) => {
    expect(swung(240, percent)).toBeCloseTo(ticks, 2);
    expect(swung(960 + 240, percent)).toBeCloseTo(960 + ticks, 2);
  });

  it('leaves the lines of the pairs, keeps the order and covers everything', () => {
    let last = -1;
    for (let ticks = 0; ticks < 1920; ticks += 7) {
      const moved = swung(ticks, 62);
      expect(moved).toBeGreaterThan(last);
      last = moved;
    }
    for (const line of [0, 480, 960, 1440]) expect(swung(line, 70)).toBeCloseTo(line, 9);
  });
});

describe('feel', () => {
  it('is all kept at 100, half at 50 and none at 0', () => {
    const felt = (ticks: number, feelPercent: number) => withFeel(ticks, { ...PLAIN, feelPercent });
    expect(felt(262, 100)).toBe(262);
    expect(felt(262, 50)).toBe(251);
    expect(felt(262, 0)).toBe(240);
    expect(felt(230, 0)).toBe(240);
  });

  it('of triplets is drawn to triplets', () => {
    const settings = { ...PLAIN, feelPercent: 0, feelStepTicks: feelStepTicks('triplets') };
    expect([0, 310, 655, 950, 1290].map((ticks) => withFeel(ticks, settings))).toEqual([0, 320, 640, 960, 1280]);
    expect(feelStepTicks('short triplets')).toBe(160);
  });

  it('shows as early and late in milliseconds: a tick is 0.625 ms at 100 bpm', () => {
    expect(driftMs(250, 240, 100)).toBeCloseTo(6.25, 6);
    expect(driftMs(236, 240, 100)).toBeCloseTo(-2.5, 6);
    expect(driftMs(480, 240, 100)).toBe(0);
    expect(driftMs(328, 320, 100)).toBeCloseTo(5, 6);
  });
});

describe('a groove', () => {
  const groove = {
    stepTicks: 240,
    steps: [
      { shift: 0, accent: 1 },
      { shift: 24 / 240, accent: 0.5 },
      { shift: -10 / 240, accent: 1.5 },
      { shift: 0, accent: 1 },
    ],
  };

  it('draws timing and level by its strength, and goes round', () => {
    expect(withGroove(240, groove, 100)).toBe(264);
    expect(grooveAccent(240, groove, 100)).toBe(0.5);
    expect(withGroove(240, groove, 50)).toBeCloseTo(252, 9);
    expect(withGroove(960 + 240, groove, 100)).toBeCloseTo(960 + 264, 9);
    expect(withGroove(240, groove, 0)).toBe(240);
    expect(grooveAccent(240, groove, 0)).toBe(1);
  });

  it('laid over the loop it came from, drawn to the grid, brings its feel back', () => {
    const settings = { ...PLAIN, feelPercent: 0, groove };
    for (const ticks of [0, 264, 470]) expect(timedTicks(ticks, settings, 960)).toBeCloseTo(ticks, 6);
    expect([0, 264, 470].map((ticks) => grooveAccent(ticks, groove, 100))).toEqual([1, 0.5, 1.5]);
  });

  it('whose first step is early puts it before the round, and what is next to the end there, too', () => {
    const early = { stepTicks: 240, steps: [{ shift: -0.1, accent: 1 }, ...Array(3).fill({ shift: 0, accent: 1 })] };
    const settings = { ...PLAIN, groove: early };
    expect(timedTicks(0, settings, 960)).toBeCloseTo(-24, 9);
    // Drawn to the end, it is the first step of the next round: as early as that.
    expect(timedTicks(955, { ...settings, feelPercent: 0 }, 960)).toBeCloseTo(960 - 24, 9);
  });

  it('and every other timing keeps the order of events, round after round', () => {
    const settings = { ...PLAIN, feelPercent: 30, groove, groovePercent: 80, swingPercent: 66 };
    let last = -Infinity;
    for (let ticks = 0; ticks < 3 * 960; ticks += 3) {
      const at = Math.floor(ticks / 960) * 960 + timedTicks(ticks % 960, settings, 960);
      expect(at).toBeGreaterThanOrEqual(last - 1e-9);
      last = at;
    }
  });
});

describe('events in time', () => {
  it('are where they were written when nothing is asked', () => {
    for (const ticks of [0, 251.3, 959]) expect(timedTicks(ticks, PLAIN, 960)).toBeCloseTo(ticks, 9);
  });

  it('are swung with their lengths, so that neighbours still meet', () => {
    const settings = { ...PLAIN, swingPercent: 66 };
    const end = (ticks: number) => timedTicks(ticks, settings, 960) + timedLength(ticks, 240, settings, 960);
    expect(end(0)).toBeCloseTo(timedTicks(240, settings, 960), 9);
    expect(end(240)).toBeCloseTo(480, 9);
  });

  it('that a drawn feel puts onto the end begin the next round', () => {
    expect(timedTicks(950, { ...PLAIN, feelPercent: 0 }, 960)).toBe(960);
  });
});
