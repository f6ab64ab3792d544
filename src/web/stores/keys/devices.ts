/**
 * Keyboards: those that are plugged in, and one that is not there. Each plays the chosen part or one of its own; a light
 * tells when something arrives.
 */
import { useStorage } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, reactive, ref } from 'vue';
import { partValues } from '#core/queries/values.ts';
import { notes } from '../../audio/services.ts';
import { connectMidi, midiDevices, midiState, type MidiListener } from '../../devices/midi.ts';
import { DeviceKeys } from '../../devices/notes.ts';
import { playSimulatedPhrase, SIMULATED_CONTROL, SIMULATED_ID, SIMULATED_NAME } from '../../devices/simulated-midi.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';

/** How long a light stays on after something has come. */
const LIT_MS = 160;

export interface Device {
  id: string;
  name: string;
  /** Null: the chosen part. */
  partId: string | null;
}

export const useDevices = defineStore('devices', () => {
  const project = useProject();
  const session = useSession();
  const keysById = new Map<string, DeviceKeys>();
  /** Parts that devices were given, by the devices' names: ids of ports change. */
  const partByName = useStorage<Record<string, string>>('yappa.device-parts', {});
  /** Devices whose light is on. */
  const lit = reactive(new Set<string>());
  const darkAt = new Map<string, ReturnType<typeof setTimeout>>();
  /** The keyboard that is not there plays its phrase. */
  const isSimulating = ref(false);
  const controllerIsDown = ref(false);
  let stopPhrase: (() => void) | null = null;

  const devices = computed<Device[]>(() =>
    [...midiDevices.value, { id: SIMULATED_ID, name: SIMULATED_NAME }].map(({ id, name }) => ({
      id,
      name,
      partId: project.document?.parts[partByName.value[name] ?? ''] ? partByName.value[name]! : null,
    })),
  );
  const partOf = (deviceId: string): string | null =>
    devices.value.find(({ id }) => id === deviceId)?.partId ?? session.part?.id ?? null;

  /** The part on which a controller of a device was moved from its rest. */
  const controlledBy = new Map<string, string>();

  function keysOf(deviceId: string): DeviceKeys {
    let keys = keysById.get(deviceId);
    if (!keys) keysById.set(deviceId, (keys = new DeviceKeys(notes)));
    return keys;
  }

  function light(deviceId: string): void {
    lit.add(deviceId);
    clearTimeout(darkAt.get(deviceId));
    darkAt.set(
      deviceId,
      setTimeout(() => lit.delete(deviceId), LIT_MS),
    );
  }

  const listener: MidiListener = {
    noteOn: (deviceId, note, velocity, timeStamp) => {
      light(deviceId);
      const partId = partOf(deviceId);
      // No strength at all is how many keyboards let a key go (MIDI 1.0, "Note On" with velocity 0).
      if (velocity <= 0) keysOf(deviceId).up(note, timeStamp);
      else if (partId) keysOf(deviceId).down(note, partId, note, velocity, timeStamp);
    },
    noteOff: (deviceId, note, timeStamp) => keysOf(deviceId).up(note, timeStamp),
    control: (deviceId, control, value) => {
      light(deviceId);
      const name = `${deviceId} ${control}`;
      const partId = controlledBy.get(name) ?? partOf(deviceId);
      // What was moved away from its rest on a part comes back to it there, whatever part is chosen by then.
      if (value === 0) controlledBy.delete(name);
      else if (partId) controlledBy.set(name, partId);
      if (partId) notes.control(partId, control, value);
    },
    gone: (deviceId) => {
      keysById.get(deviceId)?.allUp();
      const names = [...controlledBy.keys()].filter((name) => name.startsWith(`${deviceId} `));
      const parts = new Set([partOf(deviceId), ...names.map((name) => controlledBy.get(name)!)]);
      for (const name of names) controlledBy.delete(name);
      for (const partId of parts) {
        if (!partId) continue;
        notes.control(partId, 64, 0);
        notes.releaseControllers(partId);
      }
    },
  };

  function give(name: string, partId: string | null): void {
    const { [name]: _before, ...others } = partByName.value;
    partByName.value = partId === null ? others : { ...others, [name]: partId };
  }

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

  /** Presses the pedal of the keyboard that is not there, or lets it go. */
  function toggleController(): void {
    controllerIsDown.value = !controllerIsDown.value;
    listener.control(SIMULATED_ID, SIMULATED_CONTROL, controllerIsDown.value ? 1 : 0);
  }

  return {
    devices,
    lit,
    isSimulating,
    state: midiState,
    connect: () => connectMidi(listener),
    give,
    toggleSimulated,
    controllerIsDown,
    toggleController,
  };
});
