/**
 * Messages of MIDI 1.0 as bytes and back ("MIDI 1.0 Detailed Specification", MIDI Manufacturers Association, document
 * version 4.2.1, 1996): channel voice messages, and those of the clock. What is not used here is passed over.
 */
export type MidiMessage =
  | { kind: 'note-on' | 'note-off'; channel: number; key: number; velocity: number }
  /** Of one key. */
  | { kind: 'key-pressure'; channel: number; key: number; value: number }
  | { kind: 'control'; channel: number; control: number; value: number }
  | { kind: 'program'; channel: number; program: number }
  | { kind: 'pressure'; channel: number; value: number }
  /** 0..16383, 8192 is the middle. */
  | { kind: 'bend'; channel: number; value: number }
  /** In sixteenths from the song's beginning. */
  | { kind: 'position'; sixteenths: number }
  | { kind: 'clock' | 'start' | 'continue' | 'stop' | 'reset' };

export const BEND_MIDDLE = 8192;
export const BEND_MOST = 16_383;
/** Clocks to a quarter note, and to a sixteenth. */
export const CLOCKS_PER_BEAT = 24;
export const CLOCKS_PER_SIXTEENTH = 6;

const NOTE_OFF = 0x80;
const NOTE_ON = 0x90;
const KEY_PRESSURE = 0xa0;
const CONTROL = 0xb0;
const PROGRAM = 0xc0;
const PRESSURE = 0xd0;
const BEND = 0xe0;
const EXCLUSIVE = 0xf0;
const POSITION = 0xf2;
const END_OF_EXCLUSIVE = 0xf7;
const REAL_TIME: Readonly<Record<number, 'clock' | 'start' | 'continue' | 'stop' | 'reset'>> = {
  0xf8: 'clock',
  0xfa: 'start',
  0xfb: 'continue',
  0xfc: 'stop',
  0xff: 'reset',
};
const REAL_TIME_BYTES = Object.fromEntries(Object.entries(REAL_TIME).map(([byte, kind]) => [kind, Number(byte)]));

/** How many data bytes follow a status (table II and III of the specification); system exclusive ends by itself. */
function dataLength(status: number): number {
  const kind = status & 0xf0;
  if (kind === PROGRAM || kind === PRESSURE) return 1;
  if (kind !== 0xf0) return 2;
  if (status === POSITION) return 2;
  // Time code and song select; all others have none.
  return status === 0xf1 || status === 0xf3 ? 1 : 0;
}

/**
 * Reads a stream of bytes, however it is cut: a status that is not repeated counts on ("running status"), and messages of
 * the clock may stand between the bytes of another. Bytes without a status are passed over.
 */
export class MidiReader {
  private status = 0;
  private readonly data: number[] = [];
  private isExclusive = false;

  read(bytes: Iterable<number>): MidiMessage[] {
    const messages: MidiMessage[] = [];
    for (const byte of bytes) {
      const message = this.take(byte);
      if (message) messages.push(message);
    }
    return messages;
  }

  private take(byte: number): MidiMessage | null {
    const kind = REAL_TIME[byte];
    if (kind) return { kind };
    if (byte >= 0xf8) return null;
    if (byte & 0x80) {
      this.data.length = 0;
      this.isExclusive = byte === EXCLUSIVE;
      this.status = byte === END_OF_EXCLUSIVE ? 0 : byte;
      return null;
    }
    if (this.isExclusive || this.status === 0) return null;
    this.data.push(byte);
    if (this.data.length < dataLength(this.status)) return null;
    const message = messageOf(this.status, this.data);
    this.data.length = 0;
    // A message of the system ends what counts on (page 5 of the specification).
    if (this.status >= 0xf0) this.status = 0;
    return message;
  }
}

function messageOf(status: number, [first = 0, second = 0]: readonly number[]): MidiMessage | null {
  const channel = status & 0x0f;
  const value = first + second * 128;
  switch (status & 0xf0) {
    case NOTE_OFF:
      return { kind: 'note-off', channel, key: first, velocity: second };
    case NOTE_ON:
      // Without strength it lets go.
      return { kind: second === 0 ? 'note-off' : 'note-on', channel, key: first, velocity: second === 0 ? 64 : second };
    case KEY_PRESSURE:
      return { kind: 'key-pressure', channel, key: first, value: second };
    case CONTROL:
      return { kind: 'control', channel, control: first, value: second };
    case PROGRAM:
      return { kind: 'program', channel, program: first };
    case PRESSURE:
      return { kind: 'pressure', channel, value: first };
    case BEND:
      return { kind: 'bend', channel, value };
    default:
      return status === POSITION ? { kind: 'position', sixteenths: value } : null;
  }
}

/** The bytes of a message; numbers are brought into their ranges. */
export function midiBytes(message: MidiMessage): number[] {
  const seven = (value: number) => Math.max(0, Math.min(127, Math.round(value)));
  const fourteen = (value: number) => {
    const whole = Math.max(0, Math.min(BEND_MOST, Math.round(value)));
    return [whole & 0x7f, whole >> 7];
  };
  switch (message.kind) {
    case 'note-on':
      return [NOTE_ON | message.channel, seven(message.key), Math.max(1, seven(message.velocity))];
    case 'note-off':
      return [NOTE_OFF | message.channel, seven(message.key), seven(message.velocity)];
    case 'key-pressure':
      return [KEY_PRESSURE | message.channel, seven(message.key), seven(message.value)];
    case 'control':
      return [CONTROL | message.channel, seven(message.control), seven(message.value)];
    case 'program':
      return [PROGRAM | message.channel, seven(message.program)];
    case 'pressure':
      return [PRESSURE | message.channel, seven(message.value)];
    case 'bend':
      return [BEND | message.channel, ...fourteen(message.value)];
    case 'position':
      return [POSITION, ...fourteen(message.sixteenths)];
    default:
      return [REAL_TIME_BYTES[message.kind]!];
  }
}
