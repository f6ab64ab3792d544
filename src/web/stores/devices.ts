/** Keyboards: those that are plugged in, and one that is not there; they play the chosen part, in whatever place one is. */
import { defineStore } from 'pinia';
import { ref } from 'vue';
import { partValues } from '#core/queries/values.ts';
import { notes } from '../audio/services.ts';
import { connectMidi } from '../input/midi.ts';
import { DeviceKeys } from '../input/notes.ts';
import { playSimulatedPhrase, type MidiListener } from '../input/simulated-midi.ts';
import { useSession } from './session.ts';

export const useDevices = defineStore('devices', () => {
  const session = useSession();
  const keys = new DeviceKeys(notes);
  /** The keyboard that is not there plays its phrase. */
  const isSimulating = ref(false);
  let stopPhrase: (() => void) | null = null;

  const listener: MidiListener = {
    noteOn: (note, velocity, timeStamp) => {
      if (session.part) keys.down(note, session.part.id, note, velocity, timeStamp);
    },
    noteOff: (note, timeStamp) => keys.up(note, timeStamp),
  };

  function end(): void {
    isSimulating.value = false;
    stopPhrase = null;
  }

  /** Has the keyboard that is not there play, or stops it. */
  function toggleSimulated(): void {
    if (stopPhrase) {
      stopPhrase();
      end();
      return;
    }
    isSimulating.value = true;
    stopPhrase = playSimulatedPhrase(listener, session.part ? partValues(session.part).startKey : 48, end);
  }

  return { isSimulating, connect: () => connectMidi(listener), toggleSimulated };
});
