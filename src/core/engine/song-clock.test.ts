import { describe, expect, it } from 'vitest';
import { PatternPlayer } from './pattern-player.ts';
import type { PlanEvent, PlanPart, PlanPattern } from './render-plan.ts';
import { SongClock } from './song-clock.ts';

const RATE = 48_000;

function event(positionTicks: number): PlanEvent {
  return {
    positionTicks,
    lengthTicks: 240,
    sliceIndex: 0,
    gain: 1,
    reverse: false,
    joinsNext: false,
    joinsPrevious: false,
    ringsOut: false,
  };
}

const pattern = (id: string, lengthTicks: number, positions: number[]): PlanPattern => ({
  id,
  lengthTicks,
  events: positions.map(event),
});

function partWith(patterns: PlanPattern[], activePatternId: string): PlanPart {
  return { patterns, activePatternId } as unknown as PlanPart;
}

/** Song positions of the next events, each taken on its own frame. */
function ticksOfNext(player: PatternPlayer, clock: SongClock, count: number): number[] {
  return Array.from({ length: count }, () => {
    const frame = player.nextFrame(clock);
    player.changeAt(frame, clock);
    expect(player.take(frame, clock)).not.toBeNull();
    return Math.round(clock.ticksAt(frame));
  });
}

describe('the song clock', () => {
  it('puts beats where they are worked out by hand', () => {
    // 60 / 120 s a beat at 48 kHz: 24,000 frames; a beat is 960 ticks.
    const clock = new SongClock(RATE, 120);
    expect([0, 960, 3840].map((ticks) => clock.frameAt(ticks))).toEqual([0, 24_000, 96_000]);
    expect(clock.ticksAt(12_000)).toBe(480);
    // At 93 a beat lasts 30,967.74 frames: to the nearest, never added up.
    const odd = new SongClock(RATE, 93);
    expect([1, 2, 3, 31].map((beat) => odd.frameAt(beat * 960))).toEqual([30_968, 61_935, 92_903, 960_000]);
  });

  it('goes on from where it is when the tempo changes, and comes back to the frame', () => {
    const clock = new SongClock(RATE, 120);
    clock.setTempo(60, 24_000);
    expect(clock.ticksAt(24_000)).toBe(960);
    expect(clock.frameAt(1920)).toBe(24_000 + 48_000);
    // The same tempo again moves nothing.
    clock.setTempo(60, 50_001);
    expect(clock.frameAt(1920)).toBe(72_000);
    clock.locate(1_000, -3840);
    expect(clock.frameAt(0)).toBe(1_000 + 4 * 48_000);
  });

  it('rounds so that every position has one frame, and every frame leads back to it', () => {
    for (const tempo of [20, 70.3, 136, 171, 400]) {
      const clock = new SongClock(44_100, tempo);
      for (let ticks = 0; ticks < 20_000; ticks += 37) {
        const frame = clock.frameAt(ticks);
        expect(Math.abs(clock.ticksAt(frame) - ticks)).toBeLessThanOrEqual((0.51 * tempo * 960) / (60 * 44_100));
        expect(clock.ticksRoundingTo(frame)).toBeLessThanOrEqual(ticks + 1e-9);
      }
    }
  });
});

describe('the pattern player', () => {
  it('goes round and round, each round in its order', () => {
    const player = new PatternPlayer();
    player.setPart(partWith([pattern('a', 1920, [0, 480, 1440])], 'a'), null);
    player.seek(0);
    expect(ticksOfNext(player, new SongClock(RATE, 120), 7)).toEqual([0, 480, 1440, 1920, 2400, 3360, 3840]);
  });

  it('begins at the first event at or after where the song is', () => {
    const player = new PatternPlayer();
    player.setPart(partWith([pattern('a', 1920, [0, 480])], 'a'), null);
    player.seek(5 * 1920 + 481);
    expect(ticksOfNext(player, new SongClock(RATE, 120), 2)).toEqual([6 * 1920, 6 * 1920 + 480]);
  });

  it('lets another pattern in at the bar line it was chosen for, not at a later one', () => {
    const patterns = [pattern('a', 3840, [0, 1920]), pattern('b', 3840, [960, 2880])];
    const player = new PatternPlayer();
    player.setPart(partWith(patterns, 'a'), null);
    player.seek(0);
    const clock = new SongClock(RATE, 120);
    expect(ticksOfNext(player, clock, 1)).toEqual([0]);
    player.setPart(partWith(patterns, 'b'), 3840);
    expect(player.waitingId).toBe('b');
    // Another plan in between does not put it off.
    player.setPart(partWith(patterns, 'b'), 7680);
    expect(ticksOfNext(player, clock, 1)).toEqual([1920]);
    expect(clock.ticksAt(player.nextFrame(clock))).toBe(3840);
    expect(player.changeAt(clock.frameAt(3840), clock)).toBe(true);
    expect(player.waitingId).toBeNull();
    expect(ticksOfNext(player, clock, 2)).toEqual([4800, 6720]);
  });

  it('knows the ends of its rounds, and is silent without events', () => {
    const player = new PatternPlayer();
    player.setPart(partWith([pattern('a', 2880, [])], 'a'), null);
    player.seek(0);
    const clock = new SongClock(RATE, 120);
    expect(player.nextFrame(clock)).toBe(Infinity);
    expect(player.take(0, clock)).toBeNull();
    expect(player.roundEndFrame(clock, 0)).toBe(72_000);
    expect(player.roundEndFrame(clock, 72_000)).toBe(144_000);
    expect(player.endsRound(72_000, clock)).toBe(true);
    expect(player.endsRound(71_999, clock)).toBe(false);
    expect(player.endsRound(0, clock)).toBe(false);
  });
});
