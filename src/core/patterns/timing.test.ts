import { describe, expect, it } from 'vitest';
import type { Groove, PatternEvent } from '../project/schema.ts';
import { driftMs, swung, timedEvents, withFeel, withGroove, type TimingSettings } from './timing.ts';

const PLAIN: TimingSettings = { feelPercent: 100, groove: null, groovePercent: 100, startOffsetTicks: 0 };

function at(positionTicks: number, lengthTicks = 240): PatternEvent {
  return {
    id: `e${positionTicks}`,
    sliceId: 's',
    positionTicks,
    lengthTicks,
    velocity: 0.5,
    reverse: false,
    repeats: 1,
    held: false,
  };
}

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
    expect(withFeel(262, 100)).toBe(262);
    expect(withFeel(262, 50)).toBe(251);
    expect(withFeel(262, 0)).toBe(240);
    expect(withFeel(230, 0)).toBe(240);
  });

  it('shows as early and late in milliseconds: a tick is 0.625 ms at 100 bpm', () => {
    expect(driftMs(250, 100)).toBeCloseTo(6.25, 6);
    expect(driftMs(236, 100)).toBeCloseTo(-2.5, 6);
    expect(driftMs(480, 100)).toBe(0);
  });
});

describe('a groove', () => {
  const groove: Groove = {
    name: 'late second',
    stepTicks: 240,
    steps: [
      { shift: 0, accent: 1 },
      { shift: 24 / 240, accent: 0.5 },
      { shift: -10 / 240, accent: 1.5 },
      { shift: 0, accent: 1 },
    ],
  };

  it('draws timing and level by its strength, and goes round', () => {
    expect(withGroove(240, groove, 100)).toEqual({ ticks: 264, accent: 0.5 });
    expect(withGroove(240, groove, 50).ticks).toBeCloseTo(252, 9);
    expect(withGroove(960 + 240, groove, 100).ticks).toBeCloseTo(960 + 264, 9);
    expect(withGroove(240, groove, 0)).toEqual({ ticks: 240, accent: 1 });
  });

  it('laid over the loop it came from, drawn to the grid, brings its feel back', () => {
    const events = [at(0), at(264), at(470)];
    const back = timedEvents(events, 960, { ...PLAIN, feelPercent: 0, groove }, 50);
    back.forEach((event, index) => expect(event.positionTicks).toBeCloseTo(events[index]!.positionTicks, 6));
    expect(back.map((event) => event.velocity)).toEqual([0.5, 0.25, 0.75]);
  });
});

describe('events in time', () => {
  it('are the very events where nothing is asked', () => {
    const events = [at(0), at(251.3)];
    expect(timedEvents(events, 960, PLAIN, 50)).toEqual(events);
  });

  it('start later, or earlier, and go round', () => {
    const events = [at(0), at(720)];
    const later = timedEvents(events, 960, { ...PLAIN, startOffsetTicks: 480 }, 50);
    expect(later.map((event) => event.positionTicks)).toEqual([240, 480]);
    const earlier = timedEvents(events, 960, { ...PLAIN, startOffsetTicks: -240 }, 50);
    expect(earlier.map((event) => event.positionTicks)).toEqual([480, 720]);
  });

  it('are swung with their lengths, so that neighbours still meet', () => {
    const [first, second] = timedEvents([at(0), at(240)], 960, PLAIN, 66);
    expect(first!.positionTicks + first!.lengthTicks).toBeCloseTo(second!.positionTicks, 9);
    expect(second!.positionTicks + second!.lengthTicks).toBeCloseTo(480, 9);
  });

  it('that a drawn feel puts onto the end begin the round', () => {
    const [only] = timedEvents([at(950, 10)], 960, { ...PLAIN, feelPercent: 0 }, 50);
    expect(only!.positionTicks).toBe(0);
  });
});
