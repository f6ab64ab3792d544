import { describe, expect, it } from 'vitest';
import {
  barFramesOf,
  barLines,
  barTempi,
  beatShares,
  evenLoop,
  loopFrameAt,
  loopTicksAt,
  nearestBarLine,
  rangeShare,
  withBarLine,
} from './loop-time.ts';

const even = { startFrame: 1_000, endFrame: 9_000, bars: 4, beatsPerBar: 4 };
/** Bars of 1,500, 2,500, 1,800 and 2,200 frames. */
const own = { ...even, barFrames: [2_500, 5_000, 6_800] };
const BAR_TICKS = 3_840;

describe('time within a loop', () => {
  it('goes evenly from its start to its end, and on beyond both', () => {
    expect(barLines(even)).toEqual([1_000, 3_000, 5_000, 7_000, 9_000]);
    expect(loopTicksAt(even, 2_000)).toBeCloseTo(BAR_TICKS / 2, 9);
    expect(loopTicksAt(even, 0)).toBeCloseTo(-BAR_TICKS / 2, 9);
    expect(loopFrameAt(even, 5 * BAR_TICKS)).toBeCloseTo(11_000, 9);
  });

  it('or from line to line, where each bar has its own; beyond the ends as in the bar beside', () => {
    expect(barLines(own).map((line) => loopTicksAt(own, line))).toEqual([0, 1, 2, 3, 4].map((bar) => bar * BAR_TICKS));
    // A third of the second bar: 2,500 frames long.
    expect(loopTicksAt(own, 2_500 + 2_500 / 3)).toBeCloseTo(BAR_TICKS * (1 + 1 / 3), 9);
    expect(loopTicksAt(own, 1_000 - 750)).toBeCloseTo(-BAR_TICKS / 2, 9);
    expect(loopTicksAt(own, 9_000 + 1_100)).toBeCloseTo(4.5 * BAR_TICKS, 9);
    for (let frame = 0; frame < 10_500; frame += 37) {
      expect(loopFrameAt(own, loopTicksAt(own, frame))).toBeCloseTo(frame, 6);
    }
  });

  it('tells how much longer a range lasts than on the average', () => {
    expect(rangeShare(even, 1_000, 2_000)).toBe(1);
    // A bar of 1,500 frames in the time of 2,000; two bars of 4,000 in the time of 4,000.
    expect(rangeShare(own, 1_000, 2_500)).toBeCloseTo(2_000 / 1_500, 9);
    expect(rangeShare(own, 1_000, 5_000)).toBeCloseTo(1, 9);
    expect(rangeShare(own, 3_000, 3_000)).toBe(1);
    // 4 beats in 2,500 and in 1,500 frames, at 1,000 frames a second.
    const { slowestBpm, fastestBpm } = barTempi(own, 1_000);
    expect([slowestBpm, fastestBpm]).toEqual([96, 160]);
  });
});

describe('the beats of a loop', () => {
  it('are even, or lie between the lines of their bar; eighths in a metre of an odd number of them', () => {
    expect(beatShares({ ...even, bars: 1 })).toEqual([0, 0.25, 0.5, 0.75]);
    const shares = beatShares(own);
    expect(shares).toHaveLength(16);
    // The second bar goes from frame 2,500 to 5,000, of a loop from 1,000 to 9,000.
    [2_500, 3_125, 3_750, 4_375].forEach((frame, beat) => {
      expect(shares[4 + beat]).toBeCloseTo((frame - 1_000) / 8_000, 9);
    });
    expect(beatShares({ ...even, bars: 1, beatsPerBar: 3.5 })).toHaveLength(7);
  });
});

describe('a bar line that is set', () => {
  it('shares what is before and behind it among the bars there, as long as they have one length', () => {
    expect(withBarLine(even, 2, 5_400)!.barFrames).toEqual([3_200, 5_400, 7_200]);
  });

  it('leaves the others where each has its own, and stays between them', () => {
    expect(withBarLine(own, 2, 5_400)!.barFrames).toEqual([2_500, 5_400, 6_800]);
    expect(withBarLine(own, 2, 2_500)).toBeNull();
    expect(withBarLine(own, 2, 6_900)).toBeNull();
    expect(withBarLine(own, 0, 1_200)).toBeNull();
    expect(withBarLine(own, 4, 8_000)).toBeNull();
  });

  it('is the one that a frame is nearest to', () => {
    expect([1_000, 3_600, 3_800, 6_700, 9_000].map((frame) => nearestBarLine(own, frame))).toEqual([1, 1, 2, 3, 3]);
    expect(nearestBarLine({ ...even, bars: 1 }, 5_000)).toBeNull();
  });

  it('goes where the bars are made even', () => {
    expect(evenLoop(own)).toEqual(even);
    expect('barFrames' in evenLoop(own)).toBe(false);
  });
});

describe('the bar lines of a loop that is read anew', () => {
  it('stay where its ends move a little, or its metre is another', () => {
    expect(barFramesOf(own, { ...own, startFrame: 1_300, endFrame: 9_500 })).toEqual(own.barFrames);
    expect(barFramesOf(own, { ...own, beatsPerBar: 3 })).toEqual(own.barFrames);
  });

  it('are halved and doubled with the number of bars', () => {
    expect(barFramesOf(own, { ...own, bars: 2 })).toEqual([5_000]);
    expect(barFramesOf(own, { ...own, bars: 8 })).toEqual([1_750, 2_500, 3_750, 5_000, 5_900, 6_800, 7_900]);
    expect(barFramesOf({ ...own, bars: 2, barFrames: [5_200] }, { ...own, bars: 1 })).toBeUndefined();
  });

  it('are left out where they say nothing of it', () => {
    expect(barFramesOf(own, { ...own, bars: 3 })).toBeUndefined();
    expect(barFramesOf(own, { ...own, startFrame: 2_000 })).toBeUndefined();
    expect(barFramesOf(own, { ...own, endFrame: 7_000 })).toBeUndefined();
    expect(barFramesOf(even, { ...even, bars: 2 })).toBeUndefined();
  });
});
