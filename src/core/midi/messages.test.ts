/**
 * Against "MIDI 1.0 Detailed Specification" (MIDI Manufacturers Association, document version 4.2.1, 1996), tables I to VII;
 * the bytes are quoted from memory.
 */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { BEND_MIDDLE, MidiReader, midiBytes, type MidiMessage } from './messages.ts';

const read = (...bytes: number[]) => new MidiReader().read(bytes);

describe('MIDI messages', () => {
  it.each<[string, number[], MidiMessage]>([
    ['note off', [0x83, 60, 64], { kind: 'note-off', channel: 3, key: 60, velocity: 64 }],
    ['note on', [0x90, 60, 100], { kind: 'note-on', channel: 0, key: 60, velocity: 100 }],
    ['note on without strength lets go', [0x9f, 60, 0], { kind: 'note-off', channel: 15, key: 60, velocity: 64 }],
    ['pressure of a key', [0xa1, 36, 90], { kind: 'key-pressure', channel: 1, key: 36, value: 90 }],
    ['a controller', [0xb0, 1, 127], { kind: 'control', channel: 0, control: 1, value: 127 }],
    ['a program', [0xc0, 5], { kind: 'program', channel: 0, program: 5 }],
    ['pressure', [0xd2, 70], { kind: 'pressure', channel: 2, value: 70 }],
    ['the wheel in its middle, low byte first', [0xe0, 0x00, 0x40], { kind: 'bend', channel: 0, value: BEND_MIDDLE }],
    ['song position', [0xf2, 0x10, 0x01], { kind: 'position', sixteenths: 144 }],
    ['clock', [0xf8], { kind: 'clock' }],
    ['start', [0xfa], { kind: 'start' }],
    ['continue', [0xfb], { kind: 'continue' }],
    ['stop', [0xfc], { kind: 'stop' }],
  ])('%s', (_words, bytes, message) => {
    expect(read(...bytes)).toEqual([message]);
  });

  it('a status counts on until another comes', () => {
    expect(read(0x90, 60, 100, 62, 90, 60, 0).map(({ kind }) => kind)).toEqual(['note-on', 'note-on', 'note-off']);
    expect(read(0xb4, 7, 1, 39, 2)).toEqual([
      { kind: 'control', channel: 4, control: 7, value: 1 },
      { kind: 'control', channel: 4, control: 39, value: 2 },
    ]);
  });

  it('a clock may stand between the bytes of another message', () => {
    expect(read(0x90, 0xf8, 60, 0xfa, 100)).toEqual([
      { kind: 'clock' },
      { kind: 'start' },
      { kind: 'note-on', channel: 0, key: 60, velocity: 100 },
    ]);
  });

  it('passes over system exclusive, active sensing, time code, undefined ones, and bytes without a status', () => {
    expect(read(1, 2, 0xf0, 0x7e, 0x7f, 6, 1, 0xf7, 0xfe, 0xf1, 0x22, 0xf9, 0xfd, 0xf6)).toEqual([]);
    // What ended it counts on no more: a new status is needed.
    expect(read(0x90, 60, 100, 0xf2, 1, 0, 62, 90)).toEqual([
      { kind: 'note-on', channel: 0, key: 60, velocity: 100 },
      { kind: 'position', sixteenths: 1 },
    ]);
  });

  const seven = fc.nat(127);
  const channel = fc.nat(15);
  const message = fc.oneof(
    fc.record({
      kind: fc.constant('note-on' as const),
      channel,
      key: seven,
      velocity: fc.integer({ min: 1, max: 127 }),
    }),
    fc.record({ kind: fc.constant('note-off' as const), channel, key: seven, velocity: seven }),
    fc.record({ kind: fc.constant('key-pressure' as const), channel, key: seven, value: seven }),
    fc.record({ kind: fc.constant('control' as const), channel, control: seven, value: seven }),
    fc.record({ kind: fc.constant('bend' as const), channel, value: fc.nat(16_383) }),
    fc.record({ kind: fc.constant('position' as const), sixteenths: fc.nat(16_383) }),
    fc.record({ kind: fc.constantFrom('clock' as const, 'start' as const, 'stop' as const, 'continue' as const) }),
  );
  it('what was written is read, however the bytes come', () => {
    fc.assert(
      fc.property(fc.array(message), fc.array(fc.integer({ min: 1, max: 5 })), (messages, sizes) => {
        const bytes = messages.flatMap(midiBytes);
        const reader = new MidiReader();
        const got: MidiMessage[] = [];
        for (let at = 0, turn = 0; at < bytes.length; turn++) {
          const size = sizes[turn % Math.max(1, sizes.length)] ?? 3;
          got.push(...reader.read(bytes.slice(at, at + size)));
          at += size;
        }
        expect(got).toEqual(messages);
      }),
    );
  });

  it('no bytes at all throw', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 200 }), (bytes) => {
        for (const one of new MidiReader().read(bytes)) expect(typeof one.kind).toBe('string');
      }),
    );
  });
});
