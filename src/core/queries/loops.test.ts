import { describe, expect, it } from 'vitest';
import { loopAsSaid } from './loops.ts';

const RATE = 44_100;
/** Five bars of 4/4 at 140, the last of them an echo. */
const bar = Math.round((4 * 60 * RATE) / 140);
const source = { frames: 5 * bar + 1_000, sampleRate: RATE };
const loop = { startFrame: 1_000, endFrame: 5 * bar + 1_000, bars: 5, beatsPerBar: 4 };

describe('a loop as it was said', () => {
  it('of bars alone is as long as it was', () => {
    expect(loopAsSaid(loop, source, { bars: 4 })).toEqual({ bars: 4, endFrame: loop.endFrame });
    expect(loopAsSaid(loop, source, {})).toEqual({ bars: 5, endFrame: loop.endFrame });
  });

  it('of a tempo alone has the bars that come nearest, or one less where those do not fit', () => {
    expect(loopAsSaid(loop, source, { tempoBpm: 140 })).toEqual({ bars: 5, endFrame: 1_000 + Math.round(5 * bar) });
    const slower = Math.round((5 * 4 * 60 * RATE) / 139);
    expect(slower).toBeGreaterThan(source.frames - 1_000);
    expect(loopAsSaid(loop, source, { tempoBpm: 139 })).toMatchObject({ bars: 4 });
  });

  it('of both ends where so many bars are over', () => {
    const end = 1_000 + Math.round((4 * 4 * 60 * RATE) / 140);
    expect(loopAsSaid(loop, source, { bars: 4, tempoBpm: 140 })).toEqual({ bars: 4, endFrame: end });
  });

  it('that does not fit tells what the sound lacks', () => {
    const missing = 1_000 + Math.round((8 * 4 * 60 * RATE) / 140) - source.frames;
    expect(loopAsSaid(loop, source, { bars: 8, tempoBpm: 140 })).toEqual({ bars: 8, missingFrames: missing });
    expect(loopAsSaid(loop, source, { tempoBpm: 20 })).toMatchObject({ bars: 1 });
    expect(loopAsSaid(loop, source, { tempoBpm: 20 })).toHaveProperty('missingFrames');
  });
});
