import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import tone from '@tonejs/midi';
import { MAX_MIDI_NOTES, readMidiFile, writeMidiFile, type MidiSong } from './midi-file.ts';

const SONG: MidiSong = {
  tempoBpm: 96,
  beatsPerBar: 3.5,
  tracks: [
    {
      name: 'break',
      notes: [
        { key: 36, velocity: 1, positionTicks: 0, lengthTicks: 480 },
        { key: 38, velocity: 64 / 127, positionTicks: 960, lengthTicks: 240 },
        { key: 36, velocity: 100 / 127, positionTicks: 1440, lengthTicks: 120 },
      ],
    },
    { name: 'bass', notes: [{ key: 60, velocity: 0.5, positionTicks: 20, lengthTicks: 3000 }] },
  ],
  markers: [{ positionTicks: 1920, name: 'second half' }],
};

/** Bytes written as in the specification's own example: text of four letters, numbers. */
function bytes(...items: (string | number)[]): Uint8Array {
  return Uint8Array.from(items.flatMap((item) => (typeof item === 'string' ? [...Buffer.from(item)] : item)));
}

describe('Standard MIDI Files', () => {
  it('reads the example of the specification: format 1, four tracks, 96 ticks a quarter', () => {
    // "Standard MIDI Files 1.0", MIDI Manufacturers Association (1996), the example after the meta events: a file of
    // format 1 with tempo and metre in the first track (4/4, 500,000 microseconds) and three short voices, of which
    // one uses running status. From memory.
    const file = bytes(
      ...['MThd', 0, 0, 0, 6, 0, 1, 0, 4, 0, 0x60],
      ...['MTrk', 0, 0, 0, 0x14],
      ...[0, 0xff, 0x58, 4, 4, 2, 0x18, 8],
      ...[0, 0xff, 0x51, 3, 7, 0xa1, 0x20],
      ...[0x83, 0, 0xff, 0x2f, 0],
      ...['MTrk', 0, 0, 0, 0x10, 0, 0xc0, 5, 0x81, 0x40, 0x90, 0x4c, 0x20, 0x81, 0x40, 0x4c, 0, 0, 0xff, 0x2f, 0],
      ...['MTrk', 0, 0, 0, 0x0f, 0, 0xc1, 0x2e, 0x60, 0x91, 0x43, 0x40, 0x82, 0x20, 0x43, 0, 0, 0xff, 0x2f, 0],
      ...['MTrk', 0, 0, 0, 0x15, 0, 0xc2, 0x46, 0, 0x92, 0x30, 0x60, 0, 0x3c, 0x60, 0x83, 0, 0x30, 0, 0, 0x3c, 0],
      ...[0, 0xff, 0x2f, 0],
    );
    const song = readMidiFile(file);
    expect(song).toMatchObject({ tempoBpm: 120, beatsPerBar: 4 });
    // A quarter is 96 ticks there and 960 here.
    expect(
      song.tracks.map(({ notes }) =>
        notes.map(({ key, positionTicks, lengthTicks }) => [key, positionTicks, lengthTicks]),
      ),
    ).toEqual([
      [[76, 1920, 1920]],
      [[67, 960, 2880]],
      [
        [48, 0, 3840],
        [60, 0, 3840],
      ],
    ]);
    expect(song.tracks[1]!.notes[0]!.velocity).toBeCloseTo(64 / 127, 12);
  });

  it('writes the header, tempo and metre as the specification has them', () => {
    const file = writeMidiFile(
      { ...SONG, tracks: SONG.tracks.slice(0, 1), markers: [] },
      { format: 0, ticksPerBeat: 480 },
    );
    // "MThd", length 6, format 0, one track, 480 = 0x01E0 ticks a quarter.
    expect([...file.subarray(0, 14)]).toEqual([0x4d, 0x54, 0x68, 0x64, 0, 0, 0, 6, 0, 0, 0, 1, 1, 0xe0]);
    const text = Buffer.from(file).toString('hex');
    // 60,000,000 / 96 = 625,000 = 0x0989680 >> 4: FF 51 03 09 89 68.
    expect(text).toContain('ff5103098968');
    // Three and a half quarters are 7/8: the denominator is told as a power of two.
    expect(text).toContain('ff5804070318');
    expect(text.endsWith('ff2f00')).toBe(true);
  });

  it.each([0, 1] as const)('of format %i is read back by two readers', (format) => {
    const file = writeMidiFile(SONG, { format, ticksPerBeat: 960 });
    const ours = readMidiFile(file);
    expect(ours.tempoBpm).toBeCloseTo(96, 3);
    expect(ours.beatsPerBar).toBe(3.5);
    expect(ours.markers).toEqual(SONG.markers);
    // In one track the channels tell them apart.
    const all = format === 1 ? SONG.tracks : SONG.tracks.map((track, i) => ({ ...track, name: `break ${i + 1}` }));
    const sorted = all.map(({ name, notes }) => ({
      name,
      notes: [...notes].sort((a, b) => a.positionTicks - b.positionTicks),
    }));
    expect(ours.tracks.map(({ name }) => name)).toEqual(sorted.map(({ name }) => name));
    ours.tracks.forEach(({ notes }, track) =>
      notes.forEach((note, place) => {
        const { velocity, ...rest } = sorted[track]!.notes[place]!;
        expect(note).toMatchObject(rest);
        expect(Math.abs(note.velocity - velocity)).toBeLessThan(0.5 / 127 + 1e-9);
      }),
    );
    const other = new tone.Midi(file);
    expect(other.header.ppq).toBe(960);
    expect(other.header.tempos[0]!.bpm).toBeCloseTo(96, 3);
    expect(other.header.timeSignatures[0]!.timeSignature).toEqual([7, 8]);
    const theirs = other.tracks.flatMap(({ notes }) =>
      notes.map(({ midi, ticks, durationTicks }) => [midi, ticks, durationTicks]),
    );
    const wanted = sorted.flatMap(({ notes }) => notes.map((note) => [note.key, note.positionTicks, note.lengthTicks]));
    expect(theirs.sort()).toEqual(wanted.sort());
  });

  it('at a coarser resolution every note is within half a tick of its place', () => {
    const notes = fc.array(
      fc.record({
        key: fc.integer({ min: 0, max: 127 }),
        velocity: fc.double({ min: 0.01, max: 1, noNaN: true }),
        positionTicks: fc.double({ min: 0, max: 100_000, noNaN: true }),
        lengthTicks: fc.double({ min: 0.1, max: 4000, noNaN: true }),
      }),
      { minLength: 1, maxLength: 40 },
    );
    fc.assert(
      fc.property(notes, fc.constantFrom(96, 120, 480, 960), (drawn, ticksPerBeat) => {
        const track = { name: '', notes: drawn };
        const back = readMidiFile(writeMidiFile({ ...SONG, tracks: [track] }, { format: 1, ticksPerBeat }));
        for (const note of back.tracks[0]!.notes) {
          const near = drawn.some(
            ({ key, positionTicks }) =>
              key === note.key && Math.abs(positionTicks - note.positionTicks) <= 480 / ticksPerBeat + 1e-6,
          );
          expect(near).toBe(true);
          expect(note.lengthTicks).toBeGreaterThan(0);
        }
      }),
    );
  });

  it('says what is wrong with a file that cannot be used', () => {
    const good = writeMidiFile(SONG, { format: 1, ticksPerBeat: 480 });
    expect(() => readMidiFile(bytes('no MIDI file at all'))).toThrow('no Standard MIDI File');
    expect(() => readMidiFile(good.subarray(0, good.length - 20))).toThrow(/cut off/);
    expect(() => readMidiFile(new Uint8Array(0))).toThrow(/no Standard MIDI File|cut off/);
    const smpte = good.slice();
    // 25 frames a second of 40 ticks: the division's high byte is minus 25.
    smpte.set([0xe7, 0x28], 12);
    expect(() => readMidiFile(smpte)).toThrow('SMPTE');
    const empty = writeMidiFile({ ...SONG, tracks: [{ name: 'none', notes: [] }] }, { format: 0, ticksPerBeat: 96 });
    expect(() => readMidiFile(empty)).toThrow('no notes');
    const many = Array.from({ length: MAX_MIDI_NOTES + 1 }, (_, i) => ({
      key: 60,
      velocity: 1,
      positionTicks: i * 10,
      lengthTicks: 5,
    }));
    const crowd = writeMidiFile({ ...SONG, tracks: [{ name: '', notes: many }] }, { format: 0, ticksPerBeat: 960 });
    expect(() => readMidiFile(crowd)).toThrow(`${MAX_MIDI_NOTES + 1} notes`);
  });

  it('tempo 0 is no tempo, and a note that never ends lasts to the end of its track', () => {
    const file = bytes(
      ...['MThd', 0, 0, 0, 6, 0, 0, 0, 1, 3, 0xc0],
      ...['MTrk', 0, 0, 0, 17, 0, 0xff, 0x51, 3, 0, 0, 0, 0, 0x90, 60, 100, 0x87, 0x40, 0xff, 0x2f, 0],
    );
    const song = readMidiFile(file);
    expect(song.tempoBpm).toBeNull();
    // 0x87 0x40 is 7 * 128 + 64 = 960.
    expect(song.tracks[0]!.notes).toEqual([{ key: 60, velocity: 100 / 127, positionTicks: 0, lengthTicks: 960 }]);
  });
});

/** A file of one track of events. */
function fileOf(format: number, ...events: number[]): Uint8Array {
  const body = [...events, 0, 0xff, 0x2f, 0];
  return bytes('MThd', 0, 0, 0, 6, 0, format, 0, 1, 3, 0xc0, 'MTrk', 0, 0, 0, body.length, ...body);
}
const notesOf = (file: Uint8Array) =>
  readMidiFile(file).tracks.map(({ notes }) =>
    notes.map(({ key, positionTicks: at, lengthTicks }) => [key, at, lengthTicks]),
  );

describe('files of others', () => {
  it('keep words beyond Latin letters, there and back, and read what was written letter by letter', () => {
    const names = ['Über 太鼓 🥁', 'café'];
    const song = { ...SONG, tracks: SONG.tracks.map((track, i) => ({ ...track, name: names[i]! })) };
    const again = readMidiFile(
      writeMidiFile({ ...song, markers: [{ positionTicks: 0, name: '二番' }] }, { format: 1, ticksPerBeat: 960 }),
    );
    expect(again.tracks.map(({ name }) => name)).toEqual(names);
    expect(again.markers[0]!.name).toBe('二番');
    const latin = fileOf(1, 0, 0xff, 3, 4, 0x63, 0x61, 0x66, 0xe9, 0, 0x90, 60, 64, 96, 0x80, 60, 64);
    expect(readMidiFile(latin).tracks[0]!.name).toBe('café');
  });

  it('of one track have a track here for every channel, and are written so', () => {
    const file = fileOf(0, 0, 0x90, 36, 64, 0, 0x91, 60, 64, 96, 0x80, 36, 64, 0, 0x81, 60, 64);
    expect(notesOf(file)).toEqual([[[36, 0, 96]], [[60, 0, 96]]]);
    const again = readMidiFile(writeMidiFile(SONG, { format: 0, ticksPerBeat: 960 }));
    expect(again.tracks.map(({ notes }) => notes.length)).toEqual([3, 1]);
  });

  it('may hold further chunks, or stand in a RIFF file', () => {
    const plain = fileOf(1, 0, 0x90, 60, 64, 96, 0x80, 60, 64);
    const between = bytes('XFIH', 0, 0, 0, 2, 1, 2);
    const mixed = Uint8Array.from([...plain.subarray(0, 14), ...between, ...plain.subarray(14)]);
    expect(notesOf(mixed)).toEqual(notesOf(plain));
    const size = plain.length;
    const riff = Uint8Array.from([...bytes('RIFF', size + 12, 0, 0, 0, 'RMID', 'data', size, 0, 0, 0), ...plain]);
    expect(notesOf(riff)).toEqual(notesOf(plain));
  });

  it('notes of one key that overlap end each by its own end', () => {
    const file = fileOf(1, 0, 0x90, 60, 64, 48, 0x90, 60, 80, 48, 0x80, 60, 64, 96, 0x80, 60, 64);
    expect(notesOf(file)).toEqual([
      [
        [60, 0, 96],
        [60, 48, 144],
      ],
    ]);
  });

  it('the pedal holds notes, until it comes up or their key is struck again', () => {
    const press = [0xb0, 64, 127];
    const lift = [0xb0, 64, 0];
    const held = fileOf(1, 0, ...press, 0, 0x90, 60, 64, 48, 0x80, 60, 64, 96, ...lift);
    expect(notesOf(held)).toEqual([[[60, 0, 144]]]);
    const again = fileOf(
      1,
      0,
      ...press,
      0,
      0x90,
      60,
      64,
      48,
      0x80,
      60,
      64,
      48,
      0x90,
      60,
      64,
      48,
      0x80,
      60,
      64,
      48,
      ...lift,
    );
    expect(notesOf(again)).toEqual([
      [
        [60, 0, 96],
        [60, 96, 96],
      ],
    ]);
  });
});
