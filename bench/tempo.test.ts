/** The tempo of loops made by arithmetic: a few of those that `npm run bench` measures. */
import { describe, expect, it } from 'vitest';
import { analyseSource } from '#core/analysis/analyse-source.ts';
import { isRight, madeLoops } from './tempo.ts';
import { madeKit } from './tempo-kits.ts';
import { RATE } from './tempo-material.ts';

describe('of loops of many kinds', () => {
  const loops = madeLoops(madeKit, 4000, 1).map((loop) => {
    const [best] = analyseSource({ sampleRate: RATE, channels: [loop.samples] }).tempoReadings;
    return { loop, isRight: isRight(best, loop) };
  });
  const wrong = (isTrimmed: boolean) =>
    loops.filter((one) => one.loop.isTrimmed === isTrimmed && !one.isRight).map(({ loop }) => loop.style);

  it('all but two trimmed ones are read right', () => {
    expect(loops.length).toBeGreaterThan(40);
    expect(wrong(true).length, wrong(true).join(', ')).toBeLessThanOrEqual(2);
  });

  it('six of seven with silence, noise and tails around them are', () => {
    expect(wrong(false).length, wrong(false).join(', ')).toBeLessThanOrEqual(3);
  });
});
