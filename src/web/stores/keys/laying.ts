/**
 * Sounds laid on keys, whichever hand asks for it: in rows, by drum, over a range, on the next key that is pressed. What
 * is laid are the chosen sounds, or all of the part where none is chosen.
 */
import { oneKey } from '#core/queries/free-keys.ts';
import { defineStore } from 'pinia';
import { computed, shallowRef } from 'vue';
import type { KeyRange, Zone } from '#core/document/schema.ts';
import {
  layByDrum,
  layByNote,
  layInRow,
  layOnKeys,
  layThemselves,
  moveZones,
  putOnKey,
  spreadZone,
  swapZones,
} from '#core/project/commands/lay.ts';
import { layerByStrength, layWholeLoop, layZone, takeOffKeys } from '#core/project/commands/zones.ts';
import { freeRange } from '#core/queries/free-keys.ts';
import { partValues } from '#core/queries/values.ts';
import type { PlacedZone } from '#core/queries/zones.ts';
import { keyName } from '../../canvas/key-names.ts';
import { notes } from '../../audio/services.ts';
import { useNotices } from '../frame/notices.ts';
import { useProject, type Change } from '../document/project.ts';
import { useSession } from '../document/session.ts';
import { useTransport } from '../sound/transport.ts';

/** What the next key that is pressed is for. */
export interface AwaitedKey {
  words: string;
  take: (key: number) => void;
  /** A MIDI controller will do, too. */
  takeControl?: (control: number) => void;
}

/** Strengths over which one layer becomes the next. */
const LAYER_FADE = 12;
/** An instrument of one slice reaches so far around its root. */
const SPREAD_KEYS = 24;
/** A whole loop is laid on so many keys, from an octave above all that lies there. */
const LOOP_KEYS = 13;
const LAST_KEY = 127;
/** The plan of what was laid is in the audio thread by then. */
const HEARD_AFTER_MS = 80;

export const useLaying = defineStore('laying', () => {
  const project = useProject();
  const session = useSession();
  const notices = useNotices();
  const transport = useTransport();
  const awaited = shallowRef<AwaitedKey | null>(null);

  const laid = computed<readonly PlacedZone[]>(() =>
    session.selectedZones.length > 0
      ? session.selectedZones
      : onTheirKeys(session.zones.filter(({ zone }) => zone.plays.kind === 'slice')),
  );
  /** What was taken off its key does not come back unasked, unless all was. */
  function onTheirKeys(all: readonly PlacedZone[]): readonly PlacedZone[] {
    const left = all.filter(({ zone, keys }) => keys !== null || zone.laid === 'itself');
    return left.length > 0 ? left : all;
  }
  const zoneIds = computed(() => laid.value.map(({ zone }) => zone.id));
  const words = computed(() => {
    const count = laid.value.length;
    return session.selectedZones.length === 0 ? 'all' : `${count} chosen`;
  });
  const startKey = () => (session.part ? partValues(session.part).startKey : 48);

  notes.awaits = (partId, { key, control }) => {
    const { value: wanted } = awaited;
    if (!wanted || partId !== session.part?.id) return false;
    if (key === null && !wanted.takeControl) return false;
    awaited.value = null;
    if (key !== null) wanted.take(key);
    else wanted.takeControl?.(control!);
    return true;
  };

  /** Waits for a key, from now on: any device, the drawn keyboard, the letters. */
  function awaitKey(wanted: AwaitedKey): void {
    awaited.value = wanted;
  }

  function awaitKeyFor(name: string, take: (key: number) => void): void {
    awaitKey({ words: `Press the key for ${name}`, take });
  }

  function giveUp(): boolean {
    const was = awaited.value !== null;
    awaited.value = null;
    return was;
  }

  function hearSoon(zoneId: string | undefined): void {
    if (zoneId) setTimeout(() => transport.playZone(zoneId), HEARD_AFTER_MS);
  }

  function upwards(keys: 'all' | 'white', from = startKey()): void {
    project.run(keys === 'white' ? 'lay on white keys' : 'lay upwards', layInRow, {
      zoneIds: zoneIds.value,
      startKey: from,
      keys,
    });
  }

  function byDrum(): void {
    project.run('lay by drum', layByDrum, { zoneIds: zoneIds.value });
  }

  function byNote(): void {
    project.run('lay by note', layByNote, { zoneIds: zoneIds.value });
  }

  function themselves(): void {
    project.run('lay as cut', layThemselves, { zoneIds: zoneIds.value });
  }

  /** The chosen sounds from the next key on that is pressed. */
  function learn(): void {
    const ids = zoneIds.value;
    const [first] = laid.value;
    if (!first) return;
    const what = ids.length === 1 ? first.at.label : words.value;
    awaitKeyFor(what, (key) => {
      if (ids.length === 1) project.run(`lay on ${keyName(key)}`, putOnKey, { zoneId: ids[0]!, key });
      else project.run(`lay on ${keyName(key)}`, layInRow, { zoneIds: ids, startKey: key, keys: 'all' });
      hearSoon(ids[0]);
    });
  }

  /** The chosen sound on the next key too, with settings of its own. */
  function onKeyOfItsOwn(): void {
    const [first] = session.selectedZones;
    if (!first) return;
    awaitKey({
      words: `Press a further key for ${first.at.label}`,
      take: (key) => onKeys(first.zone.id, [key]),
    });
  }

  /** The sounds among what a command made, which may be modulators, too. */
  function zonesOf({ made }: Change): string[] {
    return made.filter((id) => session.zoneById.has(id));
  }

  function onKeys(zoneId: string, keys: readonly number[]): void {
    const laid = project.run('lay on further keys', layOnKeys, { zoneId, keys });
    if (!laid) return;
    session.selectZones(zonesOf(laid));
    hearSoon(zonesOf(laid)[0]);
  }

  /** The same sound on so many keys after its own: each with a start and an end of its own from then on. */
  function onNextKeys({ zone, keys }: PlacedZone, count: number): void {
    const from = (keys?.high ?? startKey() - 1) + 1;
    const next = Array.from({ length: count }, (_, i) => from + i).filter((key) => key <= LAST_KEY);
    if (next.length > 0) onKeys(zone.id, next);
  }

  /** One slice over the keyboard, in tune: around the note that was heard in it, if one was. */
  function spread(placed: PlacedZone | undefined = session.selectedZones[0]): void {
    if (!placed) {
      notices.info('Choose the sound that is to be spread over the keys.');
      return;
    }
    const { midi, cents } = placed.at.slice;
    const root = midi ?? placed.keys?.root ?? startKey();
    const keys = freeRange(session.zones, placed.zone.id, root, SPREAD_KEYS);
    if (!keys) {
      notices.info('Something lies on every key: take some sounds off theirs first.');
      return;
    }
    const tuneCents = midi === null ? undefined : -(cents ?? 0);
    if (!project.run('spread over the keys', spreadZone, { zoneId: placed.zone.id, keys, tuneCents })) return;
    session.selectZones([placed.zone.id]);
    const where = `${keyName(keys.low)} to ${keyName(keys.high)}, where nothing else lies`;
    if (keys.root !== root)
      notices.info(`Its own key is taken: it lies on ${where}; ${keyName(keys.root)} plays it as it is.`);
    else if (midi === null) notices.info(`No note was heard in it: ${keyName(root)} plays it as it is.`);
    else if (keys.high - keys.low < 2 * SPREAD_KEYS) notices.info(`It lies on ${where}.`);
  }

  /** The whole loop of the shown sound on keys of its own. */
  function wholeLoop(): void {
    const { cut } = session;
    if (!cut) return;
    const highest = Math.max(0, ...session.zones.map(({ keys }) => keys?.high ?? 0));
    const low = Math.min(LAST_KEY - LOOP_KEYS + 1, highest + 1);
    const keys = { low, high: low + LOOP_KEYS - 1, root: Math.min(LAST_KEY, low + 6) };
    const laid = project.run('whole loop on keys', layWholeLoop, { cutId: cut.id, keys });
    if (laid) session.selectZones(zonesOf(laid));
  }

  /** The chosen sounds on one key, soft to hard in their order. */
  function layers(): void {
    const [first] = session.selectedZones;
    if (!first) return;
    const keys = first.keys ?? oneKey(startKey());
    project.run('layer by strength', layerByStrength, { zoneIds: zoneIds.value, keys, fade: LAYER_FADE });
  }

  function move(by: number): void {
    if (session.selectedZones.length > 0) project.run('move on the keys', moveZones, { zoneIds: zoneIds.value, by });
  }

  function swap(zoneId: string, otherId: string): void {
    project.run('swap keys', swapZones, { zoneId, otherId });
  }

  function setKeys(zone: Zone, keys: KeyRange): void {
    project.run('keys', layZone, { zoneId: zone.id, keys });
  }

  function takeOff(): void {
    if (session.selectedZones.length === 0) return;
    if (project.run('take off the keys', takeOffKeys, { zoneIds: zoneIds.value })) session.selectZones([]);
  }

  return {
    awaited,
    laid,
    words,
    awaitKey,
    awaitKeyFor,
    giveUp,
    hearSoon,
    upwards,
    byDrum,
    byNote,
    themselves,
    learn,
    onKeyOfItsOwn,
    onKeys,
    onNextKeys,
    spread,
    wholeLoop,
    layers,
    move,
    swap,
    setKeys,
    takeOff,
  };
});
