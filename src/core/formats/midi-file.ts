/**
 * Standard MIDI Files: notes, tempo, metre, names and markers ("Standard MIDI Files 1.0", MIDI Manufacturers Association,
 * 1996). The bytes are read and written by midi-file; times are in ticks of 960 a quarter note on this side.
 */
import { parseMidi, writeMidi, type MidiData, type MidiEvent } from 'midi-file';
import { AppError } from '../units/errors.ts';
import { bytesOfText, textOfBytes } from './chunk-text.ts';
import { plainMidi } from './midi-chunks.ts';
import { TICKS_PER_BEAT } from '../units/time.ts';

export interface MidiNote {
  /** 0..127 */
  key: number;
  /** 0..1, more than 0 */
  velocity: number;
  positionTicks: number;
  lengthTicks: number;
}

/** A controller that takes a value, both 0..127. */
export interface MidiControl {
  number: number;
  value: number;
  positionTicks: number;
}

export interface MidiTrack {
  name: string;
  notes: MidiNote[];
  /** Written only, as the channel: 0..15, that of the track's place where it is left out. */
  controls?: MidiControl[];
  channel?: number;
}

/** The channel of drums by agreement ("General MIDI System Level 1"): the tenth. */
export const DRUM_CHANNEL = 9;

export interface MidiSong {
  /** The first; null when the file has none. */
  tempoBpm: number | null;
  /** Quarter notes a bar, of the first metre; null when the file has none. */
  beatsPerBar: number | null;
  /** Where they change, the first among them; left out where they stay. Written only. */
  tempos?: { positionTicks: number; tempoBpm: number }[];
  metres?: { positionTicks: number; beatsPerBar: number }[];
  tracks: MidiTrack[];
  markers: { positionTicks: number; name: string }[];
}

export interface MidiWriteOptions {
  /** 0: all in one track, each on a channel of its own; 1: a track each, with tempo and metre in the first. */
  format: 0 | 1;
  /** Resolution, 96..960 ticks a quarter note. */
  ticksPerBeat: number;
}

/** More notes than a pattern can be worked with. */
export const MAX_MIDI_NOTES = 20_000;
const MICROSECONDS_PER_MINUTE = 60_000_000;
/** Numbers of a controller that ends all notes of a channel. */
const ALL_SOUND_OFF = 120;
const ALL_NOTES_OFF = 123;
const SUSTAIN_PEDAL = 64;
/** It is down from the middle of its way on. */
const PEDAL_DOWN = 64;

/**
 * Reads the notes of every track that has some; of a file with a single track those of every channel. Notes that never end
 * last to the end of their track; of several on one key the first end ends the first; while the pedal is down notes sound on,
 * until it comes up or their key is struck again.
 * @throws AppError 'format.broken' for what is no such file, is timed in SMPTE frames, has no notes or too many
 */
export function readMidiFile(bytes: Uint8Array): MidiSong {
  const data = parsed(bytes);
  const { ticksPerBeat } = data.header;
  if (!ticksPerBeat) {
    throw broken('It is timed in SMPTE frames, without beats. Save it with ticks a quarter note where it was made.');
  }
  const scale = TICKS_PER_BEAT / ticksPerBeat;
  const song: MidiSong = { tempoBpm: null, beatsPerBar: null, tracks: [], markers: [] };
  for (const events of data.tracks) {
    const { name, byChannel } = readTrack(events, scale, song);
    if (data.header.format !== 0) {
      const notes = [...byChannel.values()].flat().sort((a, b) => a.positionTicks - b.positionTicks);
      if (notes.length > 0) song.tracks.push({ name, notes });
      continue;
    }
    const isOne = byChannel.size === 1;
    for (const [channel, notes] of byChannel) {
      song.tracks.push({ name: isOne ? name : `${name} ${channel + 1}`.trim(), notes });
    }
  }
  const count = song.tracks.reduce((sum, { notes }) => sum + notes.length, 0);
  if (count === 0) throw broken('There are no notes in it.');
  if (count > MAX_MIDI_NOTES) {
    throw broken(
      `It holds ${count} notes, more than ${MAX_MIDI_NOTES}. Save a shorter stretch of it where it was made.`,
    );
  }
  return song;
}

function broken(reason: string): AppError {
  return new AppError('format.broken', reason, { reason });
}

function parsed(bytes: Uint8Array): MidiData {
  let data: MidiData;
  try {
    data = parseMidi(plainMidi(bytes));
  } catch {
    throw broken('It is no Standard MIDI File, or it is cut off.');
  }
  // Where the bytes end early, the reader gives events that are none.
  const isWhole = data.tracks.every((events) => events.every(({ deltaTime }) => Number.isFinite(deltaTime)));
  if (!isWhole || data.tracks.length === 0) throw broken('It is cut off.');
  return data;
}

interface ReadTrack {
  name: string;
  byChannel: Map<number, MidiNote[]>;
}

/** What sounds on the keys of a channel while it is read. */
class HeldNotes {
  /** By key, the earliest first. */
  private readonly held = new Map<number, MidiNote[]>();
  private readonly sustained = new Map<number, MidiNote[]>();
  private isPedalDown = false;

  /** @param end ends a note where the file is */
  constructor(private readonly end: (note: MidiNote) => void) {}

  press(key: number, note: MidiNote): void {
    this.endAll(this.sustained, key);
    this.held.set(key, [...(this.held.get(key) ?? []), note]);
  }

  letGo(key: number): void {
    const note = this.held.get(key)?.shift();
    if (!note) return;
    if (this.isPedalDown) this.sustained.set(key, [...(this.sustained.get(key) ?? []), note]);
    else this.end(note);
  }

  pedal(isDown: boolean): void {
    this.isPedalDown = isDown;
    if (!isDown) for (const key of this.sustained.keys()) this.endAll(this.sustained, key);
  }

  allOff(): void {
    for (const table of [this.held, this.sustained]) for (const key of table.keys()) this.endAll(table, key);
  }

  private endAll(table: Map<number, MidiNote[]>, key: number): void {
    for (const note of table.get(key) ?? []) this.end(note);
    table.delete(key);
  }
}

function readTrack(events: readonly MidiEvent[], scale: number, song: MidiSong): ReadTrack {
  const track: ReadTrack = { name: '', byChannel: new Map() };
  const channels = new Map<number, HeldNotes>();
  let ticks = 0;
  const end = (note: MidiNote) => (note.lengthTicks = Math.max(1, ticks * scale - note.positionTicks));
  const keysOf = (channel: number) => {
    const known = channels.get(channel) ?? new HeldNotes(end);
    channels.set(channel, known);
    return known;
  };
  for (const event of events) {
    ticks += event.deltaTime;
    if (event.type === 'noteOn' && event.velocity > 0) {
      const note: MidiNote = {
        key: event.noteNumber & 127,
        velocity: (event.velocity & 127) / 127,
        positionTicks: ticks * scale,
        lengthTicks: 0,
      };
      keysOf(event.channel).press(event.noteNumber, note);
      const notes = track.byChannel.get(event.channel);
      if (notes) notes.push(note);
      else track.byChannel.set(event.channel, [note]);
    } else if (event.type === 'noteOff' || event.type === 'noteOn') keysOf(event.channel).letGo(event.noteNumber);
    else if (event.type === 'controller') {
      const { controllerType, value } = event;
      if (controllerType === ALL_SOUND_OFF || controllerType === ALL_NOTES_OFF) keysOf(event.channel).allOff();
      else if (controllerType === SUSTAIN_PEDAL) keysOf(event.channel).pedal(value >= PEDAL_DOWN);
    } else if (event.type === 'trackName') track.name ||= words(event.text).trim();
    else if (event.type === 'setTempo') song.tempoBpm ??= tempoOf(event.microsecondsPerBeat);
    else if (event.type === 'timeSignature') song.beatsPerBar ??= (event.numerator * 4) / event.denominator;
    else if (event.type === 'marker') song.markers.push({ positionTicks: ticks * scale, name: words(event.text) });
  }
  for (const keys of channels.values()) keys.allOff();
  return track;
}

/** The library gives and takes words a letter a byte. */
const words = (text: string): string => textOfBytes(Uint8Array.from(text, (letter) => letter.charCodeAt(0) & 255));
const rawText = (text: string): string => Array.from(bytesOfText(text), (byte) => String.fromCharCode(byte)).join('');

/** Null for a tempo that no song can have. */
function tempoOf(microsecondsPerBeat: number): number | null {
  const tempoBpm = MICROSECONDS_PER_MINUTE / microsecondsPerBeat;
  return Number.isFinite(tempoBpm) && tempoBpm >= 1 && tempoBpm <= 1000 ? tempoBpm : null;
}

type Timed = { ticks: number; rank: number; event: MidiEvent };

/** Writes tracks as a Standard MIDI File. @returns its bytes */
export function writeMidiFile(song: MidiSong, { format, ticksPerBeat }: MidiWriteOptions): Uint8Array<ArrayBuffer> {
  const head = headOf(song, ticksPerBeat);
  const tracks =
    format === 0
      ? [[...head, ...song.tracks.flatMap((track, place) => trackEvents(track, ticksPerBeat, place))]]
      : [head, ...song.tracks.map((track, place) => namedTrack(track, ticksPerBeat, place))];
  const data: MidiData = {
    header: { format, numTracks: tracks.length, ticksPerBeat },
    tracks: tracks.map(withDeltas),
  };
  return Uint8Array.from(writeMidi(data));
}

function headOf(song: MidiSong, ticksPerBeat: number): Timed[] {
  const { tracks, tempoBpm, beatsPerBar, markers } = song;
  const tempos = song.tempos ?? (tempoBpm === null ? [] : [{ positionTicks: 0, tempoBpm }]);
  const metres = song.metres ?? (beatsPerBar === null ? [] : [{ positionTicks: 0, beatsPerBar }]);
  const at = (positionTicks: number, event: MidiEvent): Timed => {
    return { ticks: Math.round((positionTicks * ticksPerBeat) / TICKS_PER_BEAT), rank: 0, event };
  };
  return [
    at(0, { deltaTime: 0, meta: true, type: 'trackName', text: rawText(tracks[0]?.name ?? '') }),
    ...tempos.map((one) => {
      const microsecondsPerBeat = Math.round(MICROSECONDS_PER_MINUTE / one.tempoBpm);
      return at(one.positionTicks, { deltaTime: 0, meta: true, type: 'setTempo', microsecondsPerBeat });
    }),
    ...metres.map((one) => at(one.positionTicks, metreEvent(one.beatsPerBar))),
    ...markers.map(({ positionTicks, name }) =>
      at(positionTicks, { deltaTime: 0, meta: true, type: 'marker', text: rawText(name) }),
    ),
  ];
}

function metreEvent(beatsPerBar: number): MidiEvent {
  const isWhole = Number.isInteger(beatsPerBar);
  const numerator = isWhole ? beatsPerBar : beatsPerBar * 2;
  const denominator = isWhole ? 4 : 8;
  // A click of the metronome each 24 MIDI clocks; eight 1/32 notes a quarter.
  const clock = { metronome: 24, thirtyseconds: 8 };
  return { deltaTime: 0, meta: true, type: 'timeSignature', numerator, denominator, ...clock };
}

function namedTrack(track: MidiTrack, ticksPerBeat: number, place: number): Timed[] {
  const text = rawText(track.name);
  const head: Timed = { ticks: 0, rank: 0, event: { deltaTime: 0, meta: true, type: 'trackName', text } };
  return [head, ...trackEvents(track, ticksPerBeat, place)];
}

function trackEvents(track: MidiTrack, ticksPerBeat: number, place: number): Timed[] {
  const channel = track.channel ?? place % 16;
  const controls = (track.controls ?? []).map(({ number, value, positionTicks }): Timed => {
    const event = { deltaTime: 0, channel, type: 'controller' as const, controllerType: number, value };
    // Before the notes of their tick.
    return { ticks: Math.round((positionTicks * ticksPerBeat) / TICKS_PER_BEAT), rank: 0, event };
  });
  return [...controls, ...noteEvents(track.notes, ticksPerBeat, channel)];
}

/** Starts and ends; of one key a note ends at the latest where the next begins, and ends come before starts. */
function noteEvents(notes: readonly MidiNote[], ticksPerBeat: number, channel: number): Timed[] {
  const scale = ticksPerBeat / TICKS_PER_BEAT;
  const ordered = [...notes].sort((a, b) => a.positionTicks - b.positionTicks);
  const nextStart = new Map<number, number>();
  const out: Timed[] = [];
  for (const { key, velocity, positionTicks, lengthTicks } of ordered.reverse()) {
    const start = Math.round(positionTicks * scale);
    const next = nextStart.get(key) ?? Infinity;
    // Two of one key on one tick are one.
    if (next === start) continue;
    nextStart.set(key, start);
    const end = Math.min(next, Math.max(start + 1, Math.round((positionTicks + lengthTicks) * scale)));
    const strength = Math.max(1, Math.min(127, Math.round(velocity * 127)));
    const note = { deltaTime: 0, channel, noteNumber: key };
    out.push({ ticks: start, rank: 2, event: { ...note, type: 'noteOn', velocity: strength } });
    out.push({ ticks: end, rank: 1, event: { ...note, type: 'noteOff', velocity: 64 } });
  }
  return out;
}

function withDeltas(events: readonly Timed[]): MidiEvent[] {
  let last = 0;
  const ordered = [...events].sort((a, b) => a.ticks - b.ticks || a.rank - b.rank);
  const out = ordered.map(({ ticks, event }): MidiEvent => {
    const deltaTime = ticks - last;
    last = ticks;
    return { ...event, deltaTime };
  });
  return [...out, { deltaTime: 0, meta: true, type: 'endOfTrack' }];
}
