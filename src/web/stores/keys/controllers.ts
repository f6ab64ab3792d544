/**
 * What controllers of devices move: mappings of the project, and those that a device brings as its own. A setting that is
 * moved goes to the audio thread at once, and into the document with the next frame of the screen; all of one turn is one
 * step of undo.
 */
import { defineStore } from 'pinia';
import { computed, shallowRef } from 'vue';
import { BEND_MOST, type MidiMessage } from '#core/midi/messages.ts';
import { centredTurn, ControllerPairs, mappedShare, PickUp, signedTurn } from '#core/midi/controllers.ts';
import { MAPPING_ROWS, type MappedAction } from '#core/params/mapping-rows.ts';
import { fullValues, packValue, type Row } from '#core/params/row.ts';
import { shareOf, turnStep, valueAt, type WayValue } from '#core/params/ways.ts';
import type { ValueChange } from '#core/engine/plan/fragments.ts';
import { rowsOfMapped } from '#core/document/owners.ts';
import type { Mapping, MappingSource, MappingTarget } from '#core/document/schema.ts';
import { addMapping, removeMapping, setKeyRange } from '#core/project/commands/mappings.ts';
import { setValue, type Owner } from '#core/project/commands/values.ts';
import { mappedOwners, mappedRow, mappedValue, mappedWords } from '#core/queries/mappings.ts';
import { engine } from '../../audio/services.ts';
import { midiOutputs, type MidiDevice, type MidiOutput } from '../../devices/midi.ts';
import { useNotices } from '../frame/notices.ts';
import { useProject } from '../document/project.ts';
import { actOn } from './mapped-actions.ts';
import { useDeviceHabits } from './device-habits.ts';
import { useDevices } from './devices.ts';
import { useLearning, type Moved } from './learning.ts';
import { watchTelling, type Told } from './telling.ts';

type Setting = Extract<MappingTarget, { kind: 'setting' }>;

/** A pause so long ends a turn: what is moved after it is another step. */
const TURN_ENDS_MS = 900;
/** Pressed from the middle of its way on. */
const PRESSED = 0.5;

/** A controller as it has just been moved. */
interface Move {
  source: MappingSource;
  channel: number;
  /** 0..1, coarsely and finely. */
  share: number;
  fineShare: number;
  /** As it came, 0..127. */
  value: number;
}

export const useControllers = defineStore('controllers', () => {
  const project = useProject();
  const notices = useNotices();
  const devices = useDevices();
  const learning = useLearning();
  /** What devices bring along for every project. */
  const habits = useDeviceHabits();
  const pairs = new Map<string, ControllerPairs>();
  const pickUps = new Map<string, PickUp>();
  /** Controllers that are down, and keys that were pressed for a mapping. */
  const down = new Set<string>();
  const standInOutputs = shallowRef<readonly MidiOutput[]>([]);

  const mappings = computed(() => Object.values(project.document?.mappings ?? {}));
  const nameOf = ({ source }: Pick<Mapping, 'source'>) => JSON.stringify(source);

  /** By the device: those of the project first; what it says nothing of, the device may say. */
  const byDevice = computed(() => {
    const all = new Map<string, Mapping[]>();
    const add = (one: Mapping) => all.set(one.device, [...(all.get(one.device) ?? []), one]);
    mappings.value.forEach(add);
    const taken = new Set(mappings.value.map((one) => `${one.device} ${nameOf(one)}`));
    habits.here.filter((one) => !taken.has(`${one.device} ${nameOf(one)}`)).forEach(add);
    return all;
  });
  const mappingsOf = (device: string): readonly Mapping[] => byDevice.value.get(device) ?? [];

  function moveOf(device: MidiDevice, message: MidiMessage): Move | null {
    const { kind } = message;
    if (kind === 'control') {
      const { channel, control, value } = message;
      let known = pairs.get(device.id);
      if (!known) pairs.set(device.id, (known = new ControllerPairs()));
      const pair = known.take(channel, control, value);
      const fineShare = known.fineShare(channel, pair);
      return { source: { kind, number: control }, channel, share: value / 127, fineShare, value };
    }
    if (kind === 'note-on' || kind === 'note-off') {
      const share = kind === 'note-on' ? message.velocity / 127 : 0;
      const value = kind === 'note-on' ? message.velocity : 0;
      return { source: { kind: 'key', number: message.key }, channel: message.channel, share, fineShare: share, value };
    }
    if (kind === 'bend') {
      const share = message.value / BEND_MOST;
      return { source: { kind }, channel: message.channel, share, fineShare: share, value: share * 127 };
    }
    if (kind === 'pressure') {
      const share = message.value / 127;
      return { source: { kind }, channel: message.channel, share, fineShare: share, value: message.value };
    }
    return null;
  }

  function isMeant({ source, channel, values }: Mapping, move: Move): boolean {
    if (channel !== null && channel !== move.channel) return false;
    if (source.kind !== move.source.kind) return false;
    if (source.kind !== 'control' || move.source.kind !== 'control') return nameOf({ source }) === nameOf(move);
    if (source.number === move.source.number) return true;
    // The finer half of it.
    return values.tells === 'fine' && source.number < 32 && move.source.number === source.number + 32;
  }

  function take(device: MidiDevice, message: MidiMessage): boolean {
    const move = moveOf(device, message);
    if (!move) return false;
    if (learning.isOn && listens(device, move)) return true;
    const meant = mappingsOf(device.name).filter((one) => isMeant(one, move));
    for (const one of meant) follow(device, one, move);
    return meant.length > 0;
  }

  /** While it is learned which moves what, a key is pressed for that and nothing else. */
  function listens(device: MidiDevice, { source, channel, value }: Move): boolean {
    if (source.kind === 'key' && value === 0) return true;
    // The first half of a pair tells which it is.
    const number = source.kind === 'control' ? source.number : -1;
    if (number >= 32 && number < 64 && learning.moved?.source.kind === 'control') return true;
    const moved: Moved = { device: device.name, channel: null, source };
    const before = learning.moved;
    if (before && !learning.target && before.device === moved.device && nameOf(before) === nameOf(moved)) return true;
    lastMoved = { deviceId: device.id, channel };
    learning.hear(moved);
    return true;
  }
  let lastMoved: { deviceId: string; channel: number } | null = null;

  function follow(device: MidiDevice, mapping: Mapping, move: Move): void {
    const { target } = mapping;
    movedAt.set(mapping.id, performance.now());
    // What it was told it stands no longer at.
    told.delete(mapping.id);
    if (target.kind === 'setting') moveSetting(device, mapping, target, move);
    else if (target.kind === 'action' && isPressed(device, mapping, move)) {
      actOn(target.does as MappedAction, target.id);
    }
  }

  /** It has just been pressed: a second message of the same press is none. */
  function isPressed(device: MidiDevice, mapping: Mapping, { share, source }: Move): boolean {
    const name = `${device.id} ${mapping.id}`;
    const isDown = source.kind === 'key' ? share > 0 : share >= PRESSED;
    if (!isDown) down.delete(name);
    else if (!down.has(name)) {
      down.add(name);
      return true;
    }
    return false;
  }

  function moveSetting(device: MidiDevice, mapping: Mapping, target: Setting, move: Move): void {
    const { document } = project;
    const row = document && mappedRow(document, target);
    if (!document || !row) return;
    const values = fullValues(MAPPING_ROWS, mapping.values);
    const standing = standingOf(mapping, row, target);
    // What is on or off, or one of a few, changes with each press of a key or pad.
    if (move.source.kind === 'key' && row.kind !== 'number') {
      if (!isPressed(device, mapping, move)) return;
      const count = row.kind === 'choice' ? row.choices.length : 2;
      const at = Math.floor(standing * count - 1e-9 * count);
      put(mapping, target, row, ((at + 1) % count) / count + 0.5 / count);
      return;
    }
    if (move.source.kind === 'key' && move.share === 0) return;
    if (values.tells === 'turn' || values.tells === 'turn-64') {
      const turn = values.tells === 'turn' ? signedTurn(move.value) : centredTurn(move.value);
      const [least, most] = [Math.min(values.from, values.to), Math.max(values.from, values.to)];
      const by = turn * turnStep(row) * Math.sign(values.to - values.from || 1);
      put(mapping, target, row, Math.max(least, Math.min(most, standing + by)));
      return;
    }
    const wanted = mappedShare(values, values.tells === 'fine' ? move.fineShare : move.share);
    const isMet = pickUpOf(mapping).follows(wanted, standing);
    const jumps = values.meets === 'jump' || row.kind !== 'number' || move.source.kind === 'key';
    if (isMet || jumps) put(mapping, target, row, wanted);
  }

  function pickUpOf({ id }: Mapping): PickUp {
    const known = pickUps.get(id) ?? new PickUp();
    pickUps.set(id, known);
    return known;
  }

  /** Where the setting stands: as it will be put, if that is on its way into the document. */
  function standingOf(mapping: Mapping, row: Row, target: Setting): number {
    const waiting = pending.get(mapping.id);
    if (waiting) return waiting.share;
    // A choice stands in the middle of its stretch; a number where it was put, and not where its digits end.
    const known = lastPut.get(mapping.id);
    const value = mappedValue(project.document!, target);
    return known && known.value === value ? known.share : shareOf(row, value);
  }

  interface Put {
    mapping: Mapping;
    target: Setting;
    value: WayValue;
    share: number;
  }
  const pending = new Map<string, Put>();
  const lastPut = new Map<string, Put>();
  const movedAt = new Map<string, number>();
  /** What each output was told last, by the mapping. */
  const told: Told = new Map();
  let frame = 0;
  let turns = 0;
  let lastTurnAt = -Infinity;

  function put(mapping: Mapping, target: Setting, row: Row, share: number): void {
    if (project.viewing) return;
    const value = valueAt(row, share);
    const one = { mapping, target, value, share };
    pending.set(mapping.id, one);
    lastPut.set(mapping.id, one);
    if (project.shownInstead === null) sendNow(target, row, value);
    frame ||= requestAnimationFrame(flush);
  }

  /** To the audio thread, past the document: it is there with the next block. */
  function sendNow(target: Setting, row: Row, value: WayValue): void {
    const { document } = project;
    const rows = document && rowsOfMapped(document, target);
    if (!rows || target.owner === 'cut') return;
    const slot = Object.keys(rows).indexOf(target.paramId);
    const packed = packValue(row, value);
    const changes = mappedOwners(document, target).map(({ kind, id }): ValueChange => ({
      kind: kind as ValueChange['kind'],
      id,
      slot,
      value: packed,
    }));
    engine.send({ type: 'values', values: changes });
  }

  function flush(): void {
    frame = 0;
    const now = performance.now();
    if (now - lastTurnAt > TURN_ENDS_MS) turns++;
    lastTurnAt = now;
    const all = [...pending.values()];
    pending.clear();
    const { document } = project;
    if (!document) return;
    const [first] = all;
    const label = all.length === 1 ? mappedWords(document, first!.target) : 'settings by hand';
    for (const { target, value, mapping } of all) {
      const owners = mappedOwners(document, target) as Owner[];
      const joins = `turn ${turns} of ${mapping.device}`;
      project.run(label, setValue, { owners, param: target.paramId, change: { to: value } }, joins);
    }
  }

  // Both are there: it moves that from now on.
  learning.onComplete(() => {
    const { target, moved, words } = learning;
    if (!target || !moved) return;
    const isPart = target.kind === 'part';
    const source = isPart ? ({ kind: 'keys', low: 0, high: 127 } as const) : moved.source;
    const made = project.run(`${words} by hand`, addMapping, {
      ...moved,
      source,
      target,
      values: tellsOf(moved),
    });
    if (made) notices.info(`${moved.device} ${target.kind === 'action' ? 'does' : 'moves'} “${words}” now.`);
    learning.target = null;
    learning.moved = null;
  });

  /** The wheel comes back to its middle by itself: it takes over at once. */
  function tellsOf({ source }: Moved): Mapping['values'] {
    return source.kind === 'bend' || source.kind === 'pressure' ? { meets: 'jump' } : {};
  }

  watchTelling({
    mappingsOf,
    outputs: computed(() => [...midiOutputs.value, ...standInOutputs.value]),
    movedAt: (mapping) => movedAt.get(mapping.id),
    turnedTo: (mapping, share) => pickUpOf(mapping).turnedTo(share),
    told,
  });

  devices.takeFirst({
    take,
    routeOf: (device, key) => {
      for (const { source, target } of mappingsOf(device.name)) {
        if (source.kind !== 'keys' || target.kind !== 'part' || key < source.low || key > source.high) continue;
        const shifted = key + target.shiftKeys;
        return shifted >= 0 && shifted <= 127 ? { partId: target.id, key: shifted } : null;
      }
      return null;
    },
    gone: ({ id }) => {
      pairs.delete(id);
      for (const name of down) if (name.startsWith(`${id} `)) down.delete(name);
    },
  });

  function remove(mapping: Mapping): void {
    if (Object.hasOwn(project.document?.mappings ?? {}, mapping.id)) {
      project.run(`${mappedWords(project.document!, mapping.target)} no longer by hand`, removeMapping, {
        mappingId: mapping.id,
      });
      return;
    }
    void habits.forget(mapping.device, mapping.id);
  }

  function setRange(mapping: Mapping, range: { low?: number; high?: number; shiftKeys?: number }): void {
    project.run('range of keys', setKeyRange, { mappingId: mapping.id, ...range });
  }

  return {
    mappings,
    mappingsOf,
    remove,
    setRange,
    standInOutputs,
    lastMoved: () => lastMoved,
  };
});
