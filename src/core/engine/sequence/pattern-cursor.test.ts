import { describe, expect, it } from 'vitest';
import { eventColumns, type PatternFragment } from '../plan/fragments.ts';
import { PatternCursor } from './pattern-cursor.ts';
import { SongClock } from './song-clock.ts';
import { plainTiming } from '../../strips/timing.ts';

const RATE = 48_000;

function pattern(id: string, lengthTicks: number, positions: number[]): PatternFragment {
  const events = eventColumns(positions.length);
  events.positionTicks.set(positions);
  events.lengthTicks.fill(240);
  return { id, partId: 'p', handId: null, lengthTicks, zoneIds: ['z'], events };
}

function cursorOn(playing: PatternFragment, fromTicks = 0): PatternCursor {
  const cursor = new PatternCursor();
  cursor.choose(playing, null);
  cursor.seek(fromTicks);
  return cursor;
}

/** Song positions of the next starts, each taken on its own frame. */
function ticksOfNext(cursor: PatternCursor, clock: SongClock, count: number): number[] {
  return Array.from({ length: count }, () => {
    const frame = cursor.nextFrame(clock);
    cursor.changeAt(frame, clock);
    expect(cursor.take(frame, clock)).toBeGreaterThanOrEqual(0);
    return Math.round(clock.ticksAt(frame));
  });
}

describe('the pattern cursor', () => {
  it('goes round and round, each round in its order', () => {
    const cursor = cursorOn(pattern('a', 1920, [0, 480, 1440]));
    expect(ticksOfNext(cursor, new SongClock(RATE, 120), 7)).toEqual([0, 480, 1440, 1920, 2400, 3360, 3840]);
  });

  it('begins at the first start at or after where the song is', () => {
    const cursor = cursorOn(pattern('a', 1920, [0, 480]), 5 * 1920 + 481);
    expect(ticksOfNext(cursor, new SongClock(RATE, 120), 2)).toEqual([6 * 1920, 6 * 1920 + 480]);
  });

  it('counts from its anchor, and comes in later or earlier by its offset, going round from there', () => {
    const cursor = new PatternCursor();
    cursor.choose(pattern('a', 960, [0, 720]), null);
    cursor.anchorTicks = 100;
    cursor.seek(0);
    expect(ticksOfNext(cursor, new SongClock(RATE, 120), 3)).toEqual([100, 820, 1060]);
    for (const [offset, expected] of [
      [480, [240, 480, 1200]],
      [-240, [480, 720, 1440]],
    ] as const) {
      const shifted = new PatternCursor();
      shifted.choose(pattern('a', 960, [0, 720]), null);
      shifted.setTiming(plainTiming(), offset);
      shifted.seek(0);
      expect(ticksOfNext(shifted, new SongClock(RATE, 120), 3)).toEqual(expected);
    }
  });

  it('plays an early first step before each bar line, and loses it at the beginning of the song, neither', () => {
    const steps = [
      { shift: -0.25, accent: 1 },
      ...Array<{ shift: number; accent: number }>(3).fill({ shift: 0, accent: 1 }),
    ];
    const cursor = new PatternCursor();
    cursor.choose(pattern('a', 960, [0, 480]), null);
    const groove = { stepTicks: 240, steps };
    cursor.setTiming({ ...plainTiming(), groove, groovePercent: 100 }, 0);
    cursor.seek(0, true);
    expect(ticksOfNext(cursor, new SongClock(RATE, 120), 4)).toEqual([-60, 480, 900, 1440]);
    cursor.seek(0);
    expect(ticksOfNext(cursor, new SongClock(RATE, 120), 2)).toEqual([480, 900]);
  });

  it('lets another pattern in at the bar line it was chosen for, not at a later one', () => {
    const [a, b] = [pattern('a', 3840, [0, 1920]), pattern('b', 3840, [960, 2880])];
    const cursor = cursorOn(a);
    const clock = new SongClock(RATE, 120);
    expect(ticksOfNext(cursor, clock, 1)).toEqual([0]);
    cursor.choose(b, 3840);
    expect(cursor.waitingId).toBe('b');
    // Another plan in between does not put it off.
    cursor.choose(b, 7680);
    expect(ticksOfNext(cursor, clock, 1)).toEqual([1920]);
    expect(clock.ticksAt(cursor.nextFrame(clock))).toBe(3840);
    expect(cursor.changeAt(clock.frameAt(3840), clock)).toBe(true);
    expect(cursor.waitingId).toBeNull();
    expect(ticksOfNext(cursor, clock, 2)).toEqual([4800, 6720]);
  });

  it('knows the ends of its rounds, and is silent without events', () => {
    const cursor = cursorOn(pattern('a', 2880, []));
    const clock = new SongClock(RATE, 120);
    expect(cursor.nextFrame(clock)).toBe(Infinity);
    expect(cursor.take(0, clock)).toBe(-1);
    expect(cursor.roundEndFrame(clock, 0)).toBe(72_000);
    expect(cursor.roundEndFrame(clock, 72_000)).toBe(144_000);
    expect(cursor.endsRound(72_000, clock)).toBe(true);
    expect(cursor.endsRound(71_999, clock)).toBe(false);
    expect(cursor.endsRound(0, clock)).toBe(false);
  });
});
