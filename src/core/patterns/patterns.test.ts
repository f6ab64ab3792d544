import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import type { PatternEvent } from '../document/schema.ts';
import { loopProject } from '../../../tests/support/documents.ts';
import { eightStepLoop } from '../../../tests/support/signals.ts';
import { dealEvents } from './deal/deal.ts';
import { gridLineBefore, GRID_CHOICES, nearestStepFrame, snapToGrid } from './grid.ts';
import { eventsOf, patternLengthTicks } from '../queries/patterns.ts';

function events(count: number, heldEvery = 0): PatternEvent[] {
  return Array.from({ length: count }, (_, i) => ({
    id: `e${i}`,
    zoneId: `s${i}`,
    positionTicks: i * 240,
    lengthTicks: 240,
    values: heldEvery > 0 && i % heldEvery === 0 ? { hold: true } : {},
  }));
}

/** As version 2 of the dealer gave them when it was written. */
const GOLDEN_HANDS = [
  ['s3', 's4', 's0', 's1', 's6', 's7', 's2', 's5'],
  ['s4', 's0', 's1', 's7', 's5', 's6', 's2', 's3'],
  ['s0', 's3', 's2', 's4', 's1', 's5', 's6', 's7'],
];

describe('home pattern', () => {
  it('puts every slice on its own musical moment', () => {
    const { audio, starts } = eightStepLoop();
    const { document, home: homeId } = loopProject(audio, starts);
    const home = { events: eventsOf(document, homeId), lengthTicks: patternLengthTicks(document, homeId) };
    expect(home.lengthTicks).toBe(3840);
    expect(home.events.map((event) => event.positionTicks)).toEqual([0, 480, 960, 1440, 1920, 2400, 2880, 3360]);
    expect(home.events.every((event) => Math.abs(event.lengthTicks - 480) < 1e-9)).toBe(true);
  });
});

describe('grid', () => {
  it('offers whole notes to sixty-fourths, straight, dotted, in triplets and quintuplets, and none', () => {
    const ticks = Object.fromEntries(GRID_CHOICES.map((choice) => [choice.label, choice.stepTicks]));
    expect(ticks).toMatchObject({ '1/4': 960, '1/8': 480, '1/16': 240, '1/32': 120, free: null });
    // Three triplets fill two straight steps.
    expect(ticks['1/8 triplet']! * 3).toBe(ticks['1/8']! * 2);
    // Five quintuplets fill four, and a dotted step is one and a half.
    expect(ticks['1/16 quintuplet']! * 5).toBe(ticks['1/16']! * 4);
    expect(ticks['1/4 dotted']).toBe(1440);
    expect([ticks['1/1'], ticks['1/64']]).toEqual([3840, 60]);
  });

  it('snaps to the nearest line or to the one before', () => {
    expect(snapToGrid(350, 240)).toBe(240);
    expect(snapToGrid(361, 240)).toBe(480);
    expect(snapToGrid(361.5, null)).toBe(361.5);
    expect(gridLineBefore(479.9, 240)).toBe(240);
    expect(gridLineBefore(480, 240)).toBe(480);
  });

  it('knows where its steps lie in the source', () => {
    // One bar of 4/4 in 88,200 frames: a sixteenth is 5512.5.
    const loop = { startFrame: 1000, endFrame: 89_200, bars: 1, beatsPerBar: 4 };
    expect(nearestStepFrame(loop, 240, 6000)).toBe(6513);
    expect(nearestStepFrame(loop, 240, 3700)).toBe(1000);
    expect(nearestStepFrame(loop, 960, 40_000)).toBe(45_100);
  });
});

describe('dealing', () => {
  it('gives the hands that it has always given: a seed is a promise', () => {
    const zones = (seed: number, reachPercent: number) =>
      dealEvents(events(8), { seed, reachPercent }).map(({ zoneId }) => zoneId);
    expect([zones(1, 100), zones(4711, 100), zones(4711, 40)]).toEqual(GOLDEN_HANDS);
  });

  it('keeps places, lengths and held steps, loses no slice, and moves no more than its reach', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0 }),
        fc.integer({ min: 0, max: 100 }),
        fc.integer({ min: 2, max: 40 }),
        fc.integer({ min: 0, max: 5 }),
        (seed, reachPercent, count, heldEvery) => {
          const before = events(count, heldEvery);
          const after = dealEvents(before, { seed, reachPercent });
          const free = before.filter((event) => !event.values.hold).length;
          const changed = after.filter((event, i) => event.zoneId !== before[i]!.zoneId);
          expect(after.map(({ zoneId: _zoneId, ...rest }) => rest)).toEqual(
            before.map(({ zoneId: _zoneId, ...rest }) => rest),
          );
          expect(after.map((event) => event.zoneId).sort()).toEqual(before.map((event) => event.zoneId).sort());
          expect(after.filter((event, i) => event.values.hold && event.zoneId !== before[i]!.zoneId)).toEqual([]);
          expect(changed.length).toBeLessThanOrEqual(
            reachPercent === 0 ? 0 : Math.max(2, Math.round((free * reachPercent) / 100)),
          );
        },
      ),
    );
  });

  it('gives no step its own slice when the reach is whole', () => {
    for (let seed = 1; seed < 200; seed++) {
      const before = events(16);
      const after = dealEvents(before, { seed, reachPercent: 100 });
      expect(after.every((event, i) => event.zoneId !== before[i]!.zoneId)).toBe(true);
    }
  });
});
