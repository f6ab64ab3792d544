import { describe, expect, it } from 'vitest';
import { loopProject } from '../../../../tests/support/documents.ts';
import { LiveSong, set } from '../../../../tests/support/playing.ts';
import { NoteLog, NoteQueue, type NoteEvent } from './notes.ts';

const RATE = 44100;
const on = (frame: number, noteId: number): NoteEvent => ({
  kind: 'on',
  noteId,
  partId: 'p',
  key: 48,
  velocity: 1,
  frame,
});

function flat() {
  const audio = { sampleRate: RATE, channels: [new Float32Array(2 * RATE).fill(0.5)] };
  return set(loopProject(audio, [0, RATE]), { oneAtATime: false });
}

describe('the queue of notes', () => {
  it('gives them in the order of their frames, each when it is due', () => {
    const queue = new NoteQueue();
    for (const [frame, noteId] of [
      [30, 1],
      [10, 2],
      [20, 3],
      [10, 4],
    ] as const) {
      queue.add(on(frame, noteId));
    }
    expect([queue.nextFrame, queue.take(9)]).toEqual([10, null]);
    expect([10, 10, 25, 25].map((frame) => queue.take(frame)?.noteId ?? null)).toEqual([2, 4, 3, null]);
    expect(queue.take(1_000)?.noteId).toBe(1);
    expect(queue.nextFrame).toBe(Infinity);
  });
});

describe('keys', () => {
  it('sound on the frame at which they were played, in the middle of a block', () => {
    const made = flat();
    const song = new LiveSong(made.document, made.assets);
    const event = { ...on(777, 1), partId: made.partId };
    song.renderer.addNote(event);
    const out = song.next(2_000);
    expect(out.findIndex((sample) => sample !== 0)).toBe(777);
  });

  it('that come late sound at once, and are told with the frame of the press', () => {
    const made = flat();
    const song = new LiveSong(made.document, made.assets);
    song.next(1_000);
    song.renderer.addNote({ ...on(400, 1), partId: made.partId });
    expect(song.next(100)[0]).not.toBe(0);
    expect(song.renderer.log.takeAll()).toMatchObject([{ origin: 'key', frame: 400, noteId: 1, songTicks: null }]);
  });
});

describe('the log of what sounded', () => {
  it('has what a pattern played, with the song’s position, and what keys played between', () => {
    const made = flat();
    const song = new LiveSong(made.document, made.assets);
    song.renderer.play();
    song.next(RATE / 2);
    song.renderer.addNote({ ...on(RATE / 2 + 50, 9), partId: made.partId, velocity: 0.6 });
    song.renderer.addNote({ ...on(RATE / 2 + 90, 9), kind: 'off' });
    song.next(RATE);
    const [first, second] = made.document.parts[made.partId]!.zoneOrder;
    // 2 s for a bar of 3840 ticks: half a second is a beat.
    expect(song.renderer.log.takeAll()).toMatchObject([
      { kind: 'on', origin: 'pattern', frame: 0, songTicks: 0, zoneId: first, lengthTicks: 1920 },
      { kind: 'on', origin: 'key', frame: RATE / 2 + 50, zoneId: first, key: 48, velocity: 0.6, noteId: 9 },
      { kind: 'off', origin: 'key', frame: RATE / 2 + 90, noteId: 9 },
      { kind: 'on', origin: 'pattern', frame: RATE, songTicks: 1920, zoneId: second },
    ]);
    expect(song.renderer.log.takeAll()).toEqual([]);
  });

  it('forgets the oldest when nobody fetches', () => {
    const log = new NoteLog();
    for (let note = 0; note < 3000; note++) log.write().noteId = note;
    const kept = log.takeAll();
    expect([kept[0]!.noteId, kept.at(-1)!.noteId, kept.length]).toEqual([3000 - 1024, 2999, 1024]);
  });
});
