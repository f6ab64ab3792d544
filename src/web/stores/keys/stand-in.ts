/** The stand-in controller: eight pads, eight dials, two wheels, two octaves, that speak as a device that is plugged in. */
import { defineStore } from 'pinia';
import { computed, reactive, ref } from 'vue';
import { BEND_MIDDLE, BEND_MOST, MidiReader, midiBytes, type MidiMessage } from '#core/midi/messages.ts';
import { isSameMoved, mappedWords } from '#core/queries/mappings.ts';
import type { MappingSource } from '#core/document/schema.ts';
import { partValues } from '#core/queries/values.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';
import { useControllers } from './controllers.ts';
import { useDevices } from './devices.ts';

export const STAND_IN_NAME = 'Stand-in controller';
const STAND_IN_ID = 'stand-in-controller';
export const DIALS = 8;
export const PADS = 8;
/** Its dials are controllers from here on, of those that MIDI 1.0 leaves undefined; its modulation is the usual one. */
export const FIRST_DIAL = 21;
export const MODULATION = 1;
const KEYS_SHOWN = 25;
const CHANNEL = 0;

export const useStandIn = defineStore('stand-in', () => {
  const project = useProject();
  const session = useSession();
  const devices = useDevices();
  const controllers = useControllers();
  /** 0..127 */
  const dials = reactive(Array.from({ length: DIALS }, () => 0));
  const modulation = ref(0);
  /** -1..1 */
  const bend = ref(0);
  const octave = ref(0);
  const isPlugged = ref(false);
  /** What is down: keys, by the strength. */
  const held = reactive(new Map<number, number>());
  let port: ReturnType<typeof devices.plugIn> | null = null;

  const firstKey = computed(() => (session.part ? partValues(session.part).startKey : 48));
  /** Its lowest key: a C. */
  const lowest = computed(() =>
    Math.max(0, Math.min(127 - KEYS_SHOWN + 1, Math.floor(firstKey.value / 12) * 12 + 12 * octave.value)),
  );
  const keys = computed(() => Array.from({ length: KEYS_SHOWN }, (_, place) => lowest.value + place));
  /** Pads press the part's own keys, from the first on. */
  const padKey = (pad: number) => Math.min(127, firstKey.value + pad);

  function send(message: MidiMessage, timeStamp?: number): void {
    port?.send(midiBytes(message), timeStamp);
  }

  /** It shows where its settings stand. */
  const back = new MidiReader();
  const output = {
    id: STAND_IN_ID,
    name: STAND_IN_NAME,
    turnsDials: true,
    send: (bytes: readonly number[]) => {
      for (const message of back.read(bytes)) {
        if (message.kind !== 'control') continue;
        const dial = message.control - FIRST_DIAL;
        if (dial >= 0 && dial < DIALS) dials[dial] = message.value;
        else if (message.control === MODULATION) modulation.value = message.value;
      }
    },
  };

  function plugIn(): void {
    if (port) return;
    port = devices.plugIn({ id: STAND_IN_ID, name: STAND_IN_NAME });
    controllers.standInOutputs = [output];
    isPlugged.value = true;
  }

  function unplug(): void {
    for (const key of [...held.keys()]) release(key);
    port?.unplug();
    port = null;
    controllers.standInOutputs = [];
    isPlugged.value = false;
  }

  function turn(dial: number, to: number): void {
    const value = Math.max(0, Math.min(127, Math.round(to)));
    if (dials[dial] === value) return;
    dials[dial] = value;
    send({ kind: 'control', channel: CHANNEL, control: FIRST_DIAL + dial, value });
  }

  function modulate(to: number): void {
    modulation.value = Math.max(0, Math.min(127, Math.round(to)));
    send({ kind: 'control', channel: CHANNEL, control: MODULATION, value: modulation.value });
  }

  function bendTo(to: number): void {
    bend.value = Math.max(-1, Math.min(1, to));
    const away = bend.value * (bend.value > 0 ? BEND_MOST - BEND_MIDDLE : BEND_MIDDLE);
    send({ kind: 'bend', channel: CHANNEL, value: Math.round(BEND_MIDDLE + away) });
  }

  /** @param strength 0..1 */
  function press(key: number, strength: number, timeStamp?: number): void {
    const velocity = Math.max(1, Math.round(strength * 127));
    held.set(key, velocity);
    send({ kind: 'note-on', channel: CHANNEL, key, velocity }, timeStamp);
  }

  function release(key: number, timeStamp?: number): void {
    if (!held.delete(key)) return;
    send({ kind: 'note-off', channel: CHANNEL, key, velocity: 64 }, timeStamp);
  }

  /** How hard a pad is pressed while it is down, 0..1. */
  function lean(share: number): void {
    send({ kind: 'pressure', channel: CHANNEL, value: Math.round(Math.max(0, Math.min(1, share)) * 127) });
  }

  /** What something of it moves, in words; empty for nothing. */
  function wordsOf(source: MappingSource): string {
    const { document } = project;
    if (!document) return '';
    return controllers
      .mappingsOf(STAND_IN_NAME)
      .filter((one) => isSameMoved(one.source, source))
      .map(({ target }) => mappedWords(document, target))
      .join(', ');
  }

  return {
    dials,
    modulation,
    bend,
    octave,
    keys,
    lowest,
    held,
    isPlugged,
    padKey,
    plugIn,
    unplug,
    turn,
    modulate,
    bendTo,
    press,
    release,
    lean,
    wordsOf,
  };
});
