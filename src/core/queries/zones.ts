/** Which key plays what: the zones of a part with their slices and keys. */
import { fullValues } from '../params/row.ts';
import { PART_ROWS } from '../params/tables.ts';
import type { Cut, KeyRange, Part, ProjectDocument, Zone } from '../document/schema.ts';
import { isSameList } from '../units/same-list.ts';
import { slicesOfCut, type PlacedSlice } from './slices.ts';

export interface PlacedZone {
  zone: Zone;
  cut: Cut;
  /** The slice that it plays; for a whole loop a range in the manner of a slice, see {@link wholeLoop}. */
  at: PlacedSlice;
  /** Null: no key plays it. */
  keys: KeyRange | null;
}

const LAST_KEY = 127;
const placedByPart = new WeakMap<Part, { from: readonly unknown[]; placed: PlacedZone[] }>();

/**
 * The zones of a part in their order. A zone that lays itself stands on the start key plus its slice's place, cut after
 * cut; where another was put by hand it gives way. The same array as long as nothing that it follows from has changed.
 */
export function zonesOfPart(document: ProjectDocument, part: Part): readonly PlacedZone[] {
  const cuts = part.cutOrder.map((cutId) => document.cuts[cutId]!);
  const zones = part.zoneOrder.map((zoneId) => document.zones[zoneId]!);
  const from = [...cuts, ...cuts.map((cut) => document.sources[cut.sourceId]), ...zones];
  const known = placedByPart.get(part);
  if (known && isSameList(known.from, from)) return known.placed;
  const placed = place(document, part, cuts, zones);
  placedByPart.set(part, { from, placed });
  return placed;
}

function place(document: ProjectDocument, part: Part, cuts: readonly Cut[], zones: readonly Zone[]): PlacedZone[] {
  const taken = new Set<number>();
  for (const { keys } of zones) if (keys) for (let note = keys.low; note <= keys.high; note++) taken.add(note);
  const bySlice = new Map<string, { at: PlacedSlice; cut: Cut; key: number }>();
  let key = fullValues(PART_ROWS, part.values).startKey;
  for (const cut of cuts) {
    for (const at of slicesOfCut(document, cut.id)) bySlice.set(`${cut.id} ${at.slice.id}`, { at, cut, key: key++ });
  }
  return zones.flatMap((zone) => {
    if (zone.plays.kind === 'loop') {
      const cut = cuts.find(({ id }) => id === zone.plays.cutId);
      return cut ? [{ zone, cut, at: wholeLoop(document, cut), keys: zone.keys }] : [];
    }
    const found = bySlice.get(`${zone.plays.cutId} ${zone.plays.sliceId}`);
    if (!found) return [];
    const itself = found.key <= LAST_KEY && !taken.has(found.key);
    const keys =
      zone.laid === 'hand' ? zone.keys : itself ? { low: found.key, high: found.key, root: found.key } : null;
    return [{ zone, cut: found.cut, at: found.at, keys }];
  });
}

const wholeByCut = new WeakMap<Cut, PlacedSlice>();

/** A cut's whole loop in the manner of a slice, of no place among them. */
function wholeLoop(document: ProjectDocument, cut: Cut): PlacedSlice {
  const known = wholeByCut.get(cut);
  if (known) return known;
  const { frames } = document.sources[cut.sourceId]!;
  const startFrame = cut.loop?.startFrame ?? 0;
  const endFrame = cut.loop?.endFrame ?? frames;
  const placed = slicesOfCut(document, cut.id);
  const first = placed[0]!.slice;
  const slice = { ...first, id: `loop-${cut.id}`, startFrame, endFrame, name: 'whole loop', role: 'other' as const };
  const at: PlacedSlice = { slice, index: -1, startFrame, endFrame, label: 'whole loop' };
  wholeByCut.set(cut, at);
  return at;
}

/** The zones that a MIDI note plays. */
export function zonesOnKey(placed: readonly PlacedZone[], note: number): PlacedZone[] {
  return placed.filter(({ keys }) => keys !== null && note >= keys.low && note <= keys.high);
}

const padsByPlaced = new WeakMap<readonly PlacedZone[], ReadonlyMap<string, readonly PlacedZone[]>>();

/**
 * The sounds that one pad plays, by the ids of each of them: those that lie on the very same keys, in the order of the
 * part. What lies on no key is a pad by itself.
 */
export function padsOf(placed: readonly PlacedZone[]): ReadonlyMap<string, readonly PlacedZone[]> {
  const known = padsByPlaced.get(placed);
  if (known) return known;
  const byKeys = new Map<string, PlacedZone[]>();
  const pads = new Map<string, readonly PlacedZone[]>();
  for (const one of placed) {
    const { keys, zone } = one;
    const name = keys && zone.plays.kind === 'slice' ? `${keys.low} ${keys.high} ${keys.root}` : zone.id;
    const pad = byKeys.get(name) ?? [];
    pad.push(one);
    byKeys.set(name, pad);
    pads.set(zone.id, pad);
  }
  padsByPlaced.set(placed, pads);
  return pads;
}

/** The zones that stand for slices, by the slices' ids: those that laid themselves, else the first that plays one. */
export function zonesBySlice(placed: readonly PlacedZone[]): Map<string, PlacedZone> {
  const bySlice = new Map<string, PlacedZone>();
  for (const candidate of placed) {
    const known = bySlice.get(candidate.at.slice.id);
    if (!known || (known.zone.laid !== 'itself' && candidate.zone.laid === 'itself')) {
      bySlice.set(candidate.at.slice.id, candidate);
    }
  }
  return bySlice;
}
