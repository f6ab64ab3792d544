import { describe, expect, it } from 'vitest';
import { samplesOf, withoutRoom } from './room.ts';

describe('samples without room', () => {
  const sizes = new Map([
    ['a', 40],
    ['b', 30],
    ['c', 20],
    ['d', 10],
  ]);

  it('are the oldest that nobody needs, and no more than must go', () => {
    expect(withoutRoom(sizes, () => false, 60)).toEqual(['a']);
    expect(withoutRoom(sizes, () => false, 59)).toEqual(['a', 'b']);
    expect(withoutRoom(sizes, () => false, 29)).toEqual(['a', 'b', 'c']);
    expect(withoutRoom(sizes, (id) => id === 'a', 30)).toEqual(['b']);
  });

  it('are none where all is needed, or there is room', () => {
    expect(withoutRoom(sizes, () => true, 0)).toEqual([]);
    expect(withoutRoom(sizes, () => false, 100)).toEqual([]);
  });

  it('are counted over all channels', () => {
    expect(samplesOf({ channels: [new Float32Array(3), new Float32Array(3)] })).toBe(6);
  });
});
