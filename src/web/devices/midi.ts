/** MIDI devices, through Web MIDI where the browser has it; they are asked for, never taken. */
import { ref } from 'vue';
import type { Input } from 'webmidi';
import { MidiReader, type MidiMessage } from '#core/midi/messages.ts';

export type MidiState = 'off' | 'asking' | 'on' | 'none' | 'refused' | 'missing';

/** What a device tells, by its id. Times are those of `performance.now()`; now when left out. */
export interface MidiListener {
  message(deviceId: string, message: MidiMessage, timeStamp?: number): void;
  /** It was unplugged: what it held has to be let go. */
  gone(deviceId: string): void;
}

export interface MidiDevice {
  id: string;
  name: string;
}

/** Something that takes messages: a plugged in device, or a stand-in. */
export interface MidiOutput extends MidiDevice {
  /** @param timeStamp when it is to go out, as `performance.now()` tells it; at once when left out */
  send(bytes: readonly number[], timeStamp?: number): void;
  /** Its dials stand where it is told that they stand. */
  turnsDials?: boolean;
}

/** State of the connection, and the devices that are heard and told. */
export const midiState = ref<MidiState>('off');
export const midiDevices = ref<MidiDevice[]>([]);
export const midiOutputs = ref<MidiOutput[]>([]);

/** Two ports of one name are told apart by numbers. */
export function named<T extends MidiDevice>(ports: readonly T[]): T[] {
  const seen = new Map<string, number>();
  return ports.map((port) => {
    const count = (seen.get(port.name) ?? 0) + 1;
    seen.set(port.name, count);
    return count === 1 ? port : { ...port, name: `${port.name} ${count}` };
  });
}

function listenTo(input: Input, listener: MidiListener): void {
  const { id } = input;
  const reader = new MidiReader();
  input.removeListener();
  input.addListener('midimessage', ({ message, timestamp }) => {
    for (const one of reader.read(message.rawData)) listener.message(id, one, timestamp);
  });
}

/** Asks the browser for MIDI and listens to every device, also to those plugged in later. */
export async function connectMidi(listener: MidiListener): Promise<void> {
  if (!('requestMIDIAccess' in navigator)) {
    midiState.value = 'missing';
    return;
  }
  midiState.value = 'asking';
  const { WebMidi } = await import('webmidi');
  try {
    await WebMidi.enable();
  } catch {
    midiState.value = 'refused';
    return;
  }
  const listen = () => {
    const before = midiDevices.value;
    midiDevices.value = named(WebMidi.inputs.map(({ id, name }) => ({ id, name })));
    midiOutputs.value = named(
      WebMidi.outputs.map((port) => ({
        id: port.id,
        name: port.name,
        send: (bytes, timeStamp) => void port.send([...bytes], timeStamp === undefined ? {} : { time: timeStamp }),
      })),
    );
    midiState.value = WebMidi.inputs.length > 0 ? 'on' : 'none';
    for (const { id } of before) if (!midiDevices.value.some((one) => one.id === id)) listener.gone(id);
    for (const input of WebMidi.inputs) listenTo(input, listener);
  };
  WebMidi.addListener('portschanged', listen);
  listen();
}

/** The state in words that say what to do. */
export function midiWords(): string {
  switch (midiState.value) {
    case 'on':
      return `Listening to ${midiDevices.value.map(({ name }) => name).join(', ')}`;
    case 'asking':
      return 'Waiting for the browser to allow MIDI';
    case 'none':
      return 'No device found: plug one in and it is heard at once';
    case 'refused':
      return 'MIDI was refused: allow it in the browser’s page settings';
    case 'missing':
      return 'This browser has no MIDI: use the computer keyboard or the stand-in controller';
    case 'off':
      return 'Connect a MIDI keyboard or controller';
  }
}
