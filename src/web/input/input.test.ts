import { beforeEach, describe, expect, it, vi } from 'vitest';
import { playSimulatedPhrase } from './simulated-midi.ts';
import { TapTempo } from './tap-tempo.ts';
import { typingKeyOffset } from './typing-keys.ts';

describe('tapping', () => {
  it('reads the tempo from the mean distance of the taps', () => {
    const tapper = new TapTempo();
    expect(tapper.tap(0)).toBeNull();
    expect(tapper.tap(500)).toBe(120);
    expect(tapper.tap(1010)).toBeCloseTo(118.8, 1);
  });
  it('begins anew after a pause', () => {
    const tapper = new TapTempo();
    tapper.tap(0);
    tapper.tap(500);
    expect(tapper.tap(5000)).toBeNull();
    expect(tapper.tap(6000)).toBe(60);
  });
});

describe('typing keys', () => {
  it('are two rows of a piano, by place and not by letter', () => {
    expect(['KeyZ', 'KeyS', 'KeyX'].map(typingKeyOffset)).toEqual([0, 1, 2]);
    expect(['KeyQ', 'Digit2', 'KeyW'].map(typingKeyOffset)).toEqual([12, 13, 14]);
    expect(typingKeyOffset('F1')).toBeNull();
  });
});

describe('the keyboard that is not there', () => {
  beforeEach(() => {
    vi.useFakeTimers();
    return () => vi.useRealTimers();
  });
  it('lets every key go that it pressed', () => {
    const held = new Set<number>();
    let pressed = 0;
    let ended = false;
    let bend = 0;
    const listener = {
      noteOn: (_device: string, note: number) => (pressed++, void held.add(note)),
      noteOff: (_device: string, note: number) => void held.delete(note),
      control: (_device: string, control: unknown, value: number) => void (bend = control === 'bend' ? value : bend),
      gone: () => undefined,
    };
    playSimulatedPhrase(listener, 60, () => (ended = true));
    vi.advanceTimersByTime(5000);
    expect({ pressed, held: held.size, ended }).toEqual({ pressed: 8, held: 0, ended: true });
    expect(bend).toBe(0);
    const stop = playSimulatedPhrase(listener, 126);
    vi.advanceTimersByTime(500);
    stop();
    expect(held.size).toBe(0);
  });
});
