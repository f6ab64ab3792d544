/**
 * Keyboards and controllers: those that are plugged in, and stand-ins. Each plays the chosen part or one of its own; what
 * it moves by mappings comes first. A light tells when something arrives.
 */
import { useStorage } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, reactive, ref, shallowRef } from 'vue';
import { BEND_MIDDLE, MidiReader, type MidiMessage } from '#core/midi/messages.ts';
import type { ControlEvent } from '#core/engine/sequence/notes.ts';
import { partValues } from '#core/queries/values.ts';
import { notes } from '../../audio/services.ts';
import { connectMidi, midiDevices, midiState, type MidiDevice, type MidiListener } from '../../devices/midi.ts';
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

/** Who takes what comes before it is played: mappings, and what follows the clock of others. */
export interface MessageTaker {
  /** @returns whether it was for it */
  take(device: MidiDevice, message: MidiMessage, timeStamp?: number): boolean;
  /** Where a key of a device plays, if that is said; null: as it is. */
  routeOf?(device: MidiDevice, key: number): { partId: string; key: number } | null;
  gone?(device: MidiDevice): void;
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
  /** Devices that ship with the application and are open. */
  const standIns = shallowRef<readonly MidiDevice[]>([]);
  const takers = new Set<MessageTaker>();

  const devices = computed<Device[]>(() =>
    [...midiDevices.value, ...standIns.value, { id: SIMULATED_ID, name: SIMULATED_NAME }].map(({ id, name }) => ({
      id,
      name,
      partId: project.document?.parts[partByName.value[name] ?? ''] ? partByName.value[name]! : null,
    })),
  );
  const deviceOf = (id: string): Device => devices.value.find((one) => one.id === id) ?? { id, name: id, partId: null };
  const partOf = (deviceId: string): string | null => deviceOf(deviceId).partId ?? session.part?.id ?? null;

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

  function control(deviceId: string, what: ControlEvent['control'], value: number): void {
    const name = `${deviceId} ${what}`;
    const partId = controlledBy.get(name) ?? partOf(deviceId);
    // What was moved away from its rest on a part comes back to it there, whatever part is chosen by then.
    if (value === 0) controlledBy.delete(name);
    else if (partId) controlledBy.set(name, partId);
    if (partId) notes.control(partId, what, value);
  }

  function press(deviceId: string, key: number, velocity: number, timeStamp?: number): void {
    for (const taker of takers) {
      const route = taker.routeOf?.(deviceOf(deviceId), key);
      if (!route) continue;
      keysOf(deviceId).down(key, route.partId, route.key, velocity, timeStamp);
      return;
    }
    const partId = partOf(deviceId);
    if (partId) keysOf(deviceId).down(key, partId, key, velocity, timeStamp);
  }

  function play(deviceId: string, message: MidiMessage, timeStamp?: number): void {
    switch (message.kind) {
      case 'note-on':
        press(deviceId, message.key, message.velocity / 127, timeStamp);
        break;
      case 'note-off':
        keysOf(deviceId).up(message.key, timeStamp);
        break;
      case 'bend': {
        const away = message.value - BEND_MIDDLE;
        control(deviceId, 'bend', away / (away > 0 ? BEND_MIDDLE - 1 : BEND_MIDDLE));
        break;
      }
      case 'pressure':
      case 'key-pressure':
        control(deviceId, 'pressure', message.value / 127);
        break;
      case 'control':
        control(deviceId, message.control, message.value / 127);
        break;
      default:
    }
  }

  const listener: MidiListener = {
    message: (deviceId, message, timeStamp) => {
      if (message.kind !== 'clock') light(deviceId);
      const device = deviceOf(deviceId);
      for (const taker of takers) if (taker.take(device, message, timeStamp)) return;
      play(deviceId, message, timeStamp);
    },
    gone: (deviceId) => {
      const device = deviceOf(deviceId);
      for (const taker of takers) taker.gone?.(device);
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

  /** A stand-in is open; gives the way to send from it, and to close it. */
  function plugIn(device: MidiDevice): {
    send: (bytes: readonly number[], timeStamp?: number) => void;
    unplug: () => void;
  } {
    // As what is plugged in, it speaks in bytes.
    const reader = new MidiReader();
    standIns.value = [...standIns.value.filter(({ id }) => id !== device.id), device];
    return {
      send: (bytes, timeStamp) => {
        for (const message of reader.read(bytes)) listener.message(device.id, message, timeStamp);
      },
      unplug: () => {
        listener.gone(device.id);
        standIns.value = standIns.value.filter(({ id }) => id !== device.id);
      },
    };
  }

  /** @returns takes it off again */
  function takeFirst(taker: MessageTaker): () => void {
    takers.add(taker);
    return () => void takers.delete(taker);
  }

  function give(name: string, partId: string | null): void {
    const { [name]: _before, ...others } = partByName.value;
    partByName.value = partId === null ? others : { ...others, [name]: partId };
  }

  function end(): void {
    isSimulating.value = false;
    stopPhrase = null;
  }
  const simulate = (message: MidiMessage) => listener.message(SIMULATED_ID, message);

  /** Has the keyboard that is not there play, or stops it. */
  function toggleSimulated(): void {
    if (stopPhrase) {
      stopPhrase();
      end();
      return;
    }
    isSimulating.value = true;
    stopPhrase = playSimulatedPhrase(simulate, session.part ? partValues(session.part).startKey : 48, end);
  }

  /** Presses the pedal of the keyboard that is not there, or lets it go. */
  function toggleController(): void {
    controllerIsDown.value = !controllerIsDown.value;
    const value = controllerIsDown.value ? 127 : 0;
    simulate({ kind: 'control', channel: 0, control: SIMULATED_CONTROL, value });
  }

  return {
    devices,
    lit,
    isSimulating,
    state: midiState,
    connect: () => connectMidi(listener),
    plugIn,
    takeFirst,
    give,
    toggleSimulated,
    controllerIsDown,
    toggleController,
  };
});
