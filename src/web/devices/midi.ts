/** MIDI keyboards, through Web MIDI where the browser has it; they are asked for, never taken. */
import { ref } from 'vue';
import type { Input } from 'webmidi';
import type { ControlEvent } from '#core/engine/sequence/notes.ts';

export type MidiState = 'off' | 'asking' | 'on' | 'none' | 'refused' | 'missing';

/** What a keyboard tells, by its id. Times are those of `performance.now()`; now when left out. */
export interface MidiListener {
  noteOn(deviceId: string, note: number, velocity: number, timeStamp?: number): void;
  noteOff(deviceId: string, note: number, timeStamp?: number): void;
  /** @param value 0..1, of the wheel -1..1 */
  control(deviceId: string, control: ControlEvent['control'], value: number): void;
  /** It was unplugged: what it held has to be let go. */
  gone(deviceId: string): void;
}

export interface MidiDevice {
  id: string;
  name: string;
}

/** State of the connection, and the keyboards that are heard. */
export const midiState = ref<MidiState>('off');
export const midiDevices = ref<MidiDevice[]>([]);

function listenTo(input: Input, listener: MidiListener): void {
  const { id } = input;
  input.removeListener();
  input.addListener('noteon', (event) => listener.noteOn(id, event.note.number, event.note.attack, event.timestamp));
  input.addListener('noteoff', (event) => listener.noteOff(id, event.note.number, event.timestamp));
  input.addListener('pitchbend', (event) => listener.control(id, 'bend', Number(event.value)));
  input.addListener('channelaftertouch', (event) => listener.control(id, 'pressure', Number(event.value)));
  input.addListener('controlchange', (event) => listener.control(id, event.controller.number, Number(event.value)));
}

/** Asks the browser for MIDI and listens to every keyboard, also to those plugged in later. */
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
    midiDevices.value = WebMidi.inputs.map(({ id, name }) => ({ id, name }));
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
      return 'No keyboard found: plug one in and it is heard at once';
    case 'refused':
      return 'MIDI was refused: allow it in the browser’s page settings';
    case 'missing':
      return 'This browser has no MIDI: use the computer keyboard or the simulated one';
    case 'off':
      return 'Connect a MIDI keyboard';
  }
}
