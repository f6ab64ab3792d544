import { describe, expect, it } from 'vitest';
import { derive, isSameInput } from './derive.ts';

describe('inputs', () => {
  it('are the same when plain records and lists hold the same, however deep', () => {
    expect(isSameInput({ a: [1, { b: null }] }, { a: [1, { b: null }] })).toBe(true);
    expect(isSameInput({ a: [1, { b: null }] }, { a: [1, { b: undefined }] })).toBe(false);
    expect(isSameInput({ a: 1, b: undefined }, { a: 1, c: undefined })).toBe(false);
    expect(isSameInput([1, 2], [1, 2, 3])).toBe(false);
    expect(isSameInput({ a: NaN }, { a: NaN })).toBe(true);
    expect(isSameInput([], {})).toBe(false);
  });

  it('that are samples or have a class are the same when they are the very same', () => {
    const samples = new Float32Array(4);
    expect(isSameInput({ samples }, { samples })).toBe(true);
    expect(isSameInput({ samples }, { samples: new Float32Array(4) })).toBe(false);
    expect(isSameInput(new Map([[1, 2]]), new Map([[1, 2]]))).toBe(false);
  });
});

describe('a derived value', () => {
  it('is worked out again only when an input is another, each by its id', () => {
    let count = 0;
    const sums = derive(({ of }: { of: readonly number[] }) => {
      count++;
      return { sum: of.reduce((a, b) => a + b, 0) };
    });
    const first = sums.of('a', { of: [1, 2] });
    expect(sums.of('a', { of: [1, 2] })).toBe(first);
    expect(sums.of('b', { of: [1, 2] })).not.toBe(first);
    expect(count).toBe(2);
    expect(sums.of('a', { of: [1, 3] })).toEqual({ sum: 4 });
    expect(sums.last('a')).toEqual({ sum: 4 });
    expect(count).toBe(3);
  });

  it('that says the same as before stays the one before', () => {
    const lengths = derive(
      ({ text }: { text: string }) => ({ length: text.length }),
      (a, b) => a.length === b.length,
    );
    const before = lengths.of('', { text: 'kick' });
    expect(lengths.of('', { text: 'clap' })).toBe(before);
    expect(lengths.of('', { text: 'snare' })).toEqual({ length: 5 });
  });

  it('is let go of with what it is of', () => {
    const same = derive((inputs: { at: number }) => inputs);
    for (const [at, id] of ['a', 'b', 'c'].entries()) same.of(id, { at });
    expect(same.keepOnly(new Set(['b']))).toEqual(['a', 'c']);
    expect(same.last('a')).toBeUndefined();
    expect(same.values).toEqual([{ at: 1 }]);
  });
});
