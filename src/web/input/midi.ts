/** MIDI keyboards, through Web MIDI where the browser has it; they are asked for, never taken. */
import { ref } from 'vue';
import type { MidiListener } from './simulated-midi.ts';

export type MidiState = 'off' | 'asking' | 'on' | 'none' | 'refused' | 'missing';

/** State of the connection, and the names of the keyboards that are heard. */
export const midiState = ref<MidiState>('off');
export const midiInputs = ref<string[]>([]);

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
    midiInputs.value = WebMidi.inputs.map((input) => input.name);
    midiState.value = WebMidi.inputs.length > 0 ? 'on' : 'none';
    for (const input of WebMidi.inputs) {
      input.removeListener('noteon');
      input.removeListener('noteoff');
      input.addListener('noteon', (event) => listener.noteOn(event.note.number, event.note.attack, event.timestamp));
      input.addListener('noteoff', (event) => listener.noteOff(event.note.number, event.timestamp));
    }
  };
  WebMidi.addListener('portschanged', listen);
  listen();
}

/** The state in words that say what to do. */
export function midiWords(): string {
  switch (midiState.value) {
    case 'on':
      return `Listening to ${midiInputs.value.join(', ')}`;
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
