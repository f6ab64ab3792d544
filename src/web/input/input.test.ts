import { beforeEach, describe, expect, it, vi } from 'vitest';
import { NoteInput } from '../devices/notes.ts';
import { BEND_MIDDLE, type MidiMessage } from '#core/midi/messages.ts';
import { playSimulatedPhrase } from '../devices/simulated-midi.ts';
import { TapTempo } from '../devices/tap-tempo.ts';
import { typingKeyOffset } from '../devices/typing-keys.ts';

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
    const listener = (message: MidiMessage) => {
      if (message.kind === 'note-on') pressed++;
      if (message.kind === 'note-on') held.add(message.key);
      else if (message.kind === 'note-off') held.delete(message.key);
      else if (message.kind === 'bend') bend = message.value;
    };
    playSimulatedPhrase(listener, 60, () => (ended = true));
    vi.advanceTimersByTime(5000);
    expect({ pressed, held: held.size, ended }).toEqual({ pressed: 8, held: 0, ended: true });
    expect(bend).toBe(BEND_MIDDLE);
    const stop = playSimulatedPhrase(listener, 126);
    vi.advanceTimersByTime(500);
    stop();
    expect(held.size).toBe(0);
  });
});

describe('a controller that switches', () => {
  const made = () => {
    const sent: unknown[] = [];
    const told: string[] = [];
    const input = new NoteInput({
      resume: () => Promise.resolve(),
      send: (message) => sent.push(message),
      timeAt: () => null,
    });
    input.switches = {
      isOne: (_partId, { control }) => control === 20,
      press: (partId, { control }, noteId) => control === 20 && told.push(`${partId} on ${noteId}`) > 0,
      release: (noteId) => told.push(`off ${noteId}`),
    };
    return { input, sent, told };
  };

  it('is pressed at the middle of its way, and let go below it, once each', () => {
    const { input, sent, told } = made();
    for (const value of [0, 0.3, 0.5, 0.9, 1, 0.6, 0.49, 0.2, 0]) input.control('part', 20, value);
    expect(told).toEqual(['part on 1', 'off 1']);
    expect(sent).toEqual([]);
  });

  it('leaves other controllers and other wheels to the engine', () => {
    const { input, sent, told } = made();
    input.control('part', 64, 1);
    input.control('part', 'bend', 1);
    expect(sent).toHaveLength(2);
    expect(told).toEqual([]);
  });

  it('is let go when its keyboard is gone', () => {
    const { input, told } = made();
    input.control('part', 20, 1);
    input.control('other', 20, 1);
    input.releaseControllers('part');
    expect(told).toEqual(['part on 1', 'other on 2', 'off 1']);
    input.control('part', 20, 1);
    expect(told.at(-1)).toBe('part on 3');
  });

  it('is learned like a key', () => {
    const { input, told } = made();
    const places: unknown[] = [];
    input.awaits = (_partId, place) => places.push(place) > 0;
    input.control('part', 33, 0.1);
    input.control('part', 33, 0.8);
    expect(places).toEqual([{ key: null, control: 33 }]);
    expect(told).toEqual([]);
  });
});
