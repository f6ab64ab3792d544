import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fMeasure, matchOnsets, scoreLoop, type TrueLoop } from './score-onsets.ts';

const loop = (frames: number[], extra: Partial<TrueLoop> = {}): TrueLoop => ({
  sampleRate: 1000,
  frames: 4000,
  bpm: 120,
  beatsPerBar: 4,
  bars: 2,
  tags: [],
  onsets: frames.map((frame) => ({ frame, roles: ['kick'] })),
  ...extra,
});

describe('scoring', () => {
  it('counts worked examples as one would by hand', () => {
    // Four onsets; one found exactly, one 8 ms late, one missed, one of two markers near the last is too many.
    const score = scoreLoop(loop([0, 500, 1000, 1500]), [0, 508, 1498, 1503], 10);
    expect(score).toMatchObject({ found: 3, missed: 1, invented: 1 });
    expect(score.errorsMs.map(Math.round).sort((a, b) => a - b)).toEqual([-2, 0, 8]);
    expect(fMeasure(score)).toBeCloseTo(0.75, 9);
    expect(fMeasure({ found: 0, missed: 3, invented: 0 })).toBe(0);
  });

  it('matches close strokes each to its own marker', () => {
    expect(matchOnsets([1, 1.03], [1.01, 1.035], 0.05)).toHaveLength(2);
  });

  it('excuses a marker at the start of the file or loop, and drowned onsets either way', () => {
    expect(scoreLoop(loop([500]), [0, 500], 10).invented).toBe(0);
    expect(scoreLoop(loop([900], { loopStart: 700 }), [702, 900], 10).invented).toBe(0);
    const masked = loop([500]);
    masked.onsets.push({ frame: 800, roles: ['kick'], masked: true });
    expect(scoreLoop(masked, [500, 800], 10)).toMatchObject({ found: 1, missed: 0, invented: 0 });
    expect(scoreLoop(masked, [500], 10)).toMatchObject({ found: 1, missed: 0, invented: 0 });
  });

  it('lets a soft onset count as a span', () => {
    const soft = loop([1000]);
    soft.onsets[0]!.riseMs = 60;
    expect(scoreLoop(soft, [1055], 10).found).toBe(0);
    expect(scoreLoop(soft, [1055], 10, true).found).toBe(1);
  });

  it('never matches more than there are, nor beyond the tolerance', () => {
    const times = fc
      .array(fc.double({ min: 0, max: 10, noNaN: true }), { maxLength: 12 })
      .map((list) => [...list].sort((a, b) => a - b));
    fc.assert(
      fc.property(times, times, fc.double({ min: 0.001, max: 0.5, noNaN: true }), (truth, markers, tolerance) => {
        const pairs = matchOnsets(truth, markers, tolerance);
        expect(new Set(pairs.map(([a]) => a)).size).toBe(pairs.length);
        expect(new Set(pairs.map(([, b]) => b)).size).toBe(pairs.length);
        for (const [a, b] of pairs) expect(Math.abs(truth[a]! - markers[b]!)).toBeLessThanOrEqual(tolerance + 1e-9);
      }),
    );
  });
});
