import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { takeTurn } from './turns.ts';

describe('turns', () => {
  const frames: FrameRequestCallback[] = [];
  const frame = () => frames.splice(0).forEach((callback) => callback(0));
  beforeEach(() => vi.stubGlobal('requestAnimationFrame', (callback: FrameRequestCallback) => frames.push(callback)));
  afterEach(() => vi.unstubAllGlobals());

  it('come one a frame, in their order; one that is given up leaves no gap', () => {
    const done: string[] = [];
    takeTurn(() => done.push('a'));
    const giveUp = takeTurn(() => done.push('b'));
    takeTurn(() => done.push('c'));
    expect(done).toEqual([]);
    frame();
    expect(done).toEqual(['a']);
    giveUp();
    frame();
    expect(done).toEqual(['a', 'c']);
    frame();
    takeTurn(() => done.push('d'));
    frame();
    expect(done).toEqual(['a', 'c', 'd']);
  });
});
