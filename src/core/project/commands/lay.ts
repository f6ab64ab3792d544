/** Laying zones out on the keyboard: in a row, by drum, each on many keys, one over a range, moved and swapped. */
import { isBlackKey } from '../../units/pitch.ts';
import { percussionKeys } from '../../queries/percussion-keys.ts';
import { oneKey } from '../../queries/free-keys.ts';
import { padsOf, zonesOfPart, type PlacedZone } from '../../queries/zones.ts';
import type { KeyRange, ProjectDocument, Zone } from '../../document/schema.ts';
import { withModulatorsCopied } from '../modulator-copies.ts';
import { done, find, refused, type Command, type CommandResult } from './command.ts';

const LAST_KEY = 127;

/** The zones as they lie now, in the order of the ids; null when one of them is gone. */
export function placedZones(document: ProjectDocument, zoneIds: readonly string[]): PlacedZone[] | null {
  const parts = new Set(zoneIds.map((zoneId) => find(document.zones, zoneId)?.partId));
  const byId = new Map<string, PlacedZone>();
  for (const partId of parts) {
    const part = find(document.parts, partId);
    if (part) for (const placed of zonesOfPart(document, part)) byId.set(placed.zone.id, placed);
  }
  const found = zoneIds.flatMap((zoneId) => byId.get(zoneId) ?? []);
  return found.length === zoneIds.length ? found : null;
}

/** Puts zones on keys by hand. @param keys by zone id; null takes one off */
function withKeys(document: ProjectDocument, keys: ReadonlyMap<string, KeyRange | null>): CommandResult {
  const zones = { ...document.zones };
  for (const [zoneId, range] of keys) zones[zoneId] = { ...zones[zoneId]!, laid: 'hand', keys: range };
  return done({ ...document, zones });
}

const GONE = 'one of these sounds is gone';

/**
 * Sounds by the pad that they are of, in the order in which each pad comes first: its layers move together, those too that
 * were not named.
 */
function padsOfZones(document: ProjectDocument, placed: readonly PlacedZone[]): PlacedZone[][] {
  const pads: PlacedZone[][] = [];
  const seen = new Set<string>();
  for (const { zone } of placed) {
    if (seen.has(zone.id)) continue;
    const pad = [...padsOf(zonesOfPart(document, document.parts[zone.partId]!)).get(zone.id)!];
    for (const one of pad) seen.add(one.zone.id);
    pads.push(pad);
  }
  return pads;
}

/** Puts whole pads on keys. @param keys in the order of the pads; null, or none, for one that finds no key */
function withPadsOn(
  document: ProjectDocument,
  pads: readonly (readonly PlacedZone[])[],
  keys: readonly (number | null | undefined)[],
): CommandResult {
  const next = pads.flatMap((pad, i) => {
    const key = keys[i] ?? null;
    return pad.map(({ zone }): [string, KeyRange | null] => [zone.id, key === null ? null : oneKey(key)]);
  });
  return withKeys(document, new Map(next));
}

/** Lays zones on keys one after another, in the order of their ids; what finds no key any more has none. */
export const layInRow: Command<{ zoneIds: readonly string[]; startKey: number; keys: 'all' | 'white' }> = (
  document,
  { zoneIds, startKey, keys },
) => {
  const placed = placedZones(document, zoneIds);
  if (!placed) return refused(GONE);
  if (zoneIds.length === 0) return refused('choose what is to be laid on keys');
  if (!(Number.isInteger(startKey) && startKey >= 0 && startKey <= LAST_KEY)) return refused('keys go from 0 to 127');
  const pads = padsOfZones(document, placed);
  const free: number[] = [];
  for (let key = startKey; key <= LAST_KEY && free.length < pads.length; key++) {
    if (keys === 'all' || !isBlackKey(key)) free.push(key);
  }
  return withPadsOn(document, pads, free);
};

/**
 * Puts a sound on a key by hand. What laid itself there does not fall off: it takes the key that comes free, or stays beside
 * it where none does.
 */
export const putOnKey: Command<{ zoneId: string; key: number }> = (document, { zoneId, key }) => {
  const placed = placedZones(document, [zoneId]);
  if (!placed) return refused(GONE);
  if (!(Number.isInteger(key) && key >= 0 && key <= LAST_KEY)) return refused('keys go from 0 to 127');
  const [{ zone, keys: before }] = placed as [PlacedZone];
  const there = zonesOfPart(document, document.parts[zone.partId]!).filter(
    (one) => one.zone.id !== zoneId && one.zone.laid === 'itself' && one.keys?.low === key,
  );
  const stays = before ?? oneKey(key);
  return withKeys(document, new Map([...there.map((one) => [one.zone.id, stays] as const), [zoneId, oneKey(key)]]));
};

/** Lays zones on the keys that drums have by agreement; what is no drum comes after them. */
export const layByDrum: Command<{ zoneIds: readonly string[] }> = (document, { zoneIds }) => {
  const placed = placedZones(document, zoneIds);
  if (!placed) return refused(GONE);
  if (zoneIds.length === 0) return refused('choose what is to be laid on keys');
  const pads = padsOfZones(document, placed);
  return withPadsOn(document, pads, percussionKeys(pads.map(([first]) => first!.at.slice.role)));
};

/** Lays each note on its own key; of several of one note the first. What has no note keeps its place. */
export const layByNote: Command<{ zoneIds: readonly string[] }> = (document, { zoneIds }) => {
  const placed = placedZones(document, zoneIds);
  if (!placed) return refused(GONE);
  const taken = new Set<number>();
  const keys = new Map<string, KeyRange | null>();
  for (const { zone, at } of placed) {
    const { midi } = at.slice;
    if (midi === null || taken.has(midi)) continue;
    taken.add(midi);
    keys.set(zone.id, oneKey(midi));
  }
  return keys.size === 0 ? refused('no note was heard in any of these') : withKeys(document, keys);
};

/** Moves zones along the keyboard, all by as many keys; none past its ends. */
export const moveZones: Command<{ zoneIds: readonly string[]; by: number }> = (document, { zoneIds, by }) => {
  const placed = placedZones(document, zoneIds);
  if (!placed) return refused(GONE);
  const laid = placed.flatMap(({ zone, keys }) => (keys ? [{ zone, keys }] : []));
  if (laid.length === 0) return refused('these sounds have no key to be moved from');
  const lowest = Math.min(...laid.map(({ keys }) => keys.low));
  const highest = Math.max(...laid.map(({ keys }) => keys.high));
  const fits = Math.max(-lowest, Math.min(LAST_KEY - highest, Math.round(by)));
  if (fits === 0) return refused(by < 0 ? 'this is the lowest key' : 'this is the highest key');
  const moved = (key: number) => Math.max(0, Math.min(LAST_KEY, key + fits));
  return withKeys(
    document,
    new Map(
      laid.map(({ zone, keys }) => [zone.id, { low: moved(keys.low), high: moved(keys.high), root: moved(keys.root) }]),
    ),
  );
};

/** Two zones change places. */
export const swapZones: Command<{ zoneId: string; otherId: string }> = (document, { zoneId, otherId }) => {
  const placed = placedZones(document, [zoneId, otherId]);
  if (!placed) return refused(GONE);
  const [one, other] = placed;
  return withKeys(
    document,
    new Map([
      [zoneId, other!.keys],
      [otherId, one!.keys],
    ]),
  );
};

/** One zone over a range of keys, in tune around its root; other zones of the part that lie there keep their place. */
export const spreadZone: Command<{ zoneId: string; keys: KeyRange; tuneCents?: number }> = (
  document,
  { zoneId, keys, tuneCents },
) => {
  const zone = find(document.zones, zoneId);
  if (!zone) return refused(GONE);
  if (!(keys.low >= 0 && keys.low <= keys.high && keys.high <= LAST_KEY)) {
    return refused('keys go from 0 to 127, upwards');
  }
  if (!(keys.root >= 0 && keys.root <= LAST_KEY)) return refused('the root is a key from 0 to 127');
  const { tuneCents: before = 0, followsKey: _always, ...rest } = zone.values;
  const cents = tuneCents ?? before;
  const values = cents === 0 ? rest : { ...rest, tuneCents: cents };
  return done({ ...document, zones: { ...document.zones, [zoneId]: { ...zone, laid: 'hand', keys, values } } });
};

/** The same sound on further keys, each with settings of its own from then on. */
export const layOnKeys: Command<{ zoneId: string; keys: readonly number[] }> = (document, { zoneId, keys }, env) => {
  const zone = find(document.zones, zoneId);
  if (!zone) return refused(GONE);
  if (keys.length === 0 || keys.some((key) => !(Number.isInteger(key) && key >= 0 && key <= LAST_KEY))) {
    return refused('keys go from 0 to 127');
  }
  const copies = keys.map((key): Zone => ({ ...zone, id: env.newId(), laid: 'hand', keys: oneKey(key) }));
  const part = document.parts[zone.partId]!;
  return done({
    ...document,
    ...withModulatorsCopied(document, new Map([[zoneId, copies.map(({ id }) => id)]]), env),
    zones: { ...document.zones, ...Object.fromEntries(copies.map((copy) => [copy.id, copy])) },
    parts: {
      ...document.parts,
      [part.id]: { ...part, zoneOrder: [...part.zoneOrder, ...copies.map(({ id }) => id)] },
    },
  });
};

/** Lets zones lay themselves again: on the keys that follow from the places of their slices. */
export const layThemselves: Command<{ zoneIds: readonly string[] }> = (document, { zoneIds }) => {
  if (!placedZones(document, zoneIds)) return refused(GONE);
  const zones = { ...document.zones };
  const standing = new Set<string>();
  for (const zoneId of zoneIds) {
    const zone = zones[zoneId]!;
    const { plays } = zone;
    // One zone for each slice: copies stay where they were laid.
    if (plays.kind !== 'slice' || standing.has(plays.sliceId)) continue;
    standing.add(plays.sliceId);
    zones[zoneId] = { ...zone, laid: 'itself', keys: null };
  }
  return done({ ...document, zones });
};
