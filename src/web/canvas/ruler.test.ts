import { describe, expect, it } from 'vitest';
import { rulerTicks } from './ruler.ts';

const RATE = 44100;
const loop = { startFrame: 1000, endFrame: 1000 + 2 * RATE * 2, bars: 2, beatsPerBar: 4 };
const named = (ticks: ReturnType<typeof rulerTicks>) => ticks.filter(({ label }) => label !== null);

describe('the ruler', () => {
  it('names bars and beats where the loop has them', () => {
    const ticks = named(rulerTicks({ startFrame: 0, endFrame: 5 * RATE }, 1000, 'bars', RATE, loop));
    // 120 bpm: a beat is half a second.
    expect(ticks.slice(0, 6).map(({ label, frame }) => [label, frame])).toEqual([
      ['1.1', 1000],
      ['1.2', 1000 + RATE / 2],
      ['1.3', 1000 + RATE],
      ['1.4', 1000 + 1.5 * RATE],
      ['2.1', 1000 + 2 * RATE],
      ['2.2', 1000 + 2.5 * RATE],
    ]);
    expect(ticks.filter(({ isStrong }) => isStrong).map(({ label }) => label)).toEqual(['1.1', '2.1', '3.1']);
  });

  it('names whole bars only when beats would stand too close, and has sixteenths close by', () => {
    const far = named(rulerTicks({ startFrame: 0, endFrame: 120 * RATE }, 1000, 'bars', RATE, loop));
    expect(far.map(({ label }) => label).slice(0, 3)).toEqual(['1.1', '5.1', '9.1']);
    const near = rulerTicks({ startFrame: 1000, endFrame: 1000 + RATE }, 1000, 'bars', RATE, loop);
    expect(near.length).toBe(9);
    expect(named(near).map(({ label }) => label)).toEqual(['1.1', '1.2', '1.3']);
  });

  it('goes by round numbers of seconds, or of frames, whatever is looked at', () => {
    const seconds = named(rulerTicks({ startFrame: 0, endFrame: 10 * RATE }, 1000, 'seconds', RATE, null));
    expect(seconds.map(({ label }) => label).slice(0, 3)).toEqual(['0 s', '1 s', '2 s']);
    const close = named(rulerTicks({ startFrame: 0, endFrame: 0.01 * RATE }, 1000, 'seconds', RATE, null));
    expect(close.map(({ label }) => label).slice(0, 2)).toEqual(['0.000 s', '0.001 s']);
    const frames = named(rulerTicks({ startFrame: 100, endFrame: 132 }, 1000, 'frames', RATE, null));
    expect(frames.map(({ label, frame }) => [label, frame]).slice(0, 2)).toEqual([
      ['100', 100],
      ['105', 105],
    ]);
  });

  it('has nothing to show without room, and counts seconds where there is no loop', () => {
    expect(rulerTicks({ startFrame: 0, endFrame: 10 }, 0, 'bars', RATE, loop)).toEqual([]);
    expect(named(rulerTicks({ startFrame: 0, endFrame: RATE }, 300, 'bars', RATE, null))[0]!.label).toBe('0.0 s');
  });

  it('of a loop in triplets has two lines between beats', () => {
    const near = rulerTicks({ startFrame: 1000, endFrame: 1000 + RATE }, 1000, 'bars', RATE, loop, 3);
    const beats = near.flatMap(({ label }, place) => (label === null ? [] : [place]));
    expect(beats).toEqual([0, 3, 6]);
    expect(near[1]!.frame).toBeCloseTo(1000 + RATE / 6, 6);
  });
});
