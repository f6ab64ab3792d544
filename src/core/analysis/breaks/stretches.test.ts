import { describe, expect, it } from 'vitest';
import { findStretches } from './stretches.ts';

const RATE = 1000;
const hitsAt = (frames: readonly number[]) =>
  frames.map((frame) => ({ frame, attackFrame: frame, strength: 1, drums: 1, kick: 0, snare: 0 }));

describe('stretches of what is looked for', () => {
  const even = Array.from({ length: 40 }, (_, n) => n * 200);

  it('bridge a single hit that is another, and a single one makes none', () => {
    const wanted = even.map((_, n) => (n >= 10 && n < 30 && n !== 17 ? 0.99 : 0.2));
    expect(findStretches(hitsAt(even), wanted, RATE)).toEqual([{ firstHit: 10, endHit: 30 }]);
    expect(
      findStretches(
        hitsAt(even),
        even.map((_, n) => (n === 20 ? 0.999 : 0.3)),
        RATE,
      ),
    ).toEqual([]);
  });

  it('are the whole where all is wanted, and none where nothing is', () => {
    expect(
      findStretches(
        hitsAt(even),
        even.map(() => 1),
        RATE,
      ),
    ).toEqual([{ firstHit: 0, endHit: 40 }]);
    expect(
      findStretches(
        hitsAt(even),
        even.map(() => 0),
        RATE,
      ),
    ).toEqual([]);
    expect(findStretches([], [], RATE)).toEqual([]);
  });
});
