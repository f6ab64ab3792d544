/** Slices and what plays them: when slices of a cut come and go, its zones and the events that play them follow. */
import { placeSlices, sliceAtFrame } from '../queries/slices.ts';
import { newZone } from '../document/defaults.ts';
import { withoutDangling } from '../document/references.ts';
import type { Cut, Part, Pattern, PatternEvent, ProjectDocument, Slice, Zone } from '../document/schema.ts';

/**
 * The document with the slices of a cut replaced. A slice that nothing plays yet gets a zone that lays itself. Zones that
 * laid themselves go with their slice; a zone that was laid by hand stays on its key and plays the slice that now covers
 * where its own began, and so do events whose zone went.
 */
export function withSlices(
  document: ProjectDocument,
  cutId: string,
  slices: Record<string, Slice>,
  newId: () => string,
): ProjectDocument {
  const before = document.cuts[cutId]!;
  const cut: Cut = { ...before, slices };
  const current = { ...document, cuts: { ...document.cuts, [cutId]: cut } };
  const part = current.parts[cut.partId]!;
  const zones = part.zoneOrder.map((zoneId) => current.zones[zoneId]!);
  const played = new Set(zones.filter((zone) => zone.plays.cutId === cutId).map((zone) => zone.plays.sliceId));
  const isGone = (zone: Zone) =>
    zone.plays.cutId === cutId && zone.plays.sliceId !== null && !Object.hasOwn(slices, zone.plays.sliceId);
  const unplayed = Object.keys(slices).filter((sliceId) => !played.has(sliceId));
  const gone = zones.filter(isGone);
  if (unplayed.length === 0 && gone.length === 0) return current;

  const added = unplayed.map((sliceId) => newZone(newId(), part.id, cutId, sliceId, current.song.zoneDefaults));
  const placed = placeSlices(cut, current.sources[cut.sourceId]!.frames);
  const coverOf = (zone: Zone) =>
    sliceAtFrame(placed, before.slices[zone.plays.sliceId ?? '']?.startFrame ?? 0)!.slice.id;
  const nextZones = { ...current.zones };
  for (const zone of gone) {
    if (zone.laid === 'itself') delete nextZones[zone.id];
    else nextZones[zone.id] = { ...zone, plays: { kind: 'slice', cutId, sliceId: coverOf(zone) } };
  }
  for (const zone of added) nextZones[zone.id] = zone;
  const zoneOrder = [...part.zoneOrder.filter((zoneId) => nextZones[zoneId]), ...added.map(({ id }) => id)];

  const zoneBySlice = new Map<string, string>();
  for (const zoneId of zoneOrder) {
    const { plays } = nextZones[zoneId]!;
    if (plays.kind !== 'slice' || plays.cutId !== cutId) continue;
    if (!zoneBySlice.has(plays.sliceId)) zoneBySlice.set(plays.sliceId, zoneId);
  }
  const moved = new Map(
    gone.filter((zone) => zone.laid === 'itself').map((zone) => [zone.id, zoneBySlice.get(coverOf(zone))!]),
  );
  const parts = { ...current.parts, [part.id]: withSwitchesMoved({ ...part, zoneOrder }, moved) };
  return withoutDangling({ ...current, parts, zones: nextZones, patterns: withZonesMoved(current, part.id, moved) });
}

/** A part whose switches mute others of the zones, and whose doubles lie under others. */
export function withSwitchesMoved(part: Part, moved: ReadonlyMap<string, string>): Part {
  return withMutesMoved(withDoublesMoved(part, moved), moved);
}

function withDoublesMoved(part: Part, moved: ReadonlyMap<string, string>): Part {
  const isMoved = (id: string) => moved.has(id);
  if (!part.doubles?.some(({ zoneIds, soundId }) => isMoved(soundId) || zoneIds.some(isMoved))) return part;
  const follow = (id: string) => moved.get(id) ?? id;
  /** A zone is a hit of one double at most. */
  const taken = new Set<string>();
  const doubles = part.doubles.map((one) => {
    const soundId = follow(one.soundId);
    const zoneIds = [...new Set(one.zoneIds.map(follow))].filter((id) => id !== soundId && !taken.has(id));
    for (const id of zoneIds) taken.add(id);
    return { ...one, soundId, zoneIds };
  });
  return { ...part, doubles: doubles.filter(({ zoneIds }) => zoneIds.length > 0) };
}

function withMutesMoved(part: Part, moved: ReadonlyMap<string, string>): Part {
  if (!part.switches?.some(({ zoneId }) => moved.has(zoneId ?? ''))) return part;
  const switches = part.switches.map((one) => {
    const zoneId = moved.get(one.zoneId ?? '');
    return zoneId === undefined ? one : { ...one, zoneId };
  });
  return { ...part, switches };
}

/** The patterns with events that play others of the zones. @param moved from old to new zone ids */
export function withZonesMoved(
  document: ProjectDocument,
  partId: string,
  moved: ReadonlyMap<string, string>,
): ProjectDocument['patterns'] {
  if (moved.size === 0) return document.patterns;
  const patterns = { ...document.patterns };
  for (const patternId of document.parts[partId]!.patternOrder)
    patterns[patternId] = withEventsMoved(patterns[patternId]!, moved);
  return patterns;
}

/** A pattern, its ground and its hands with events that play others of the zones. */
export function withEventsMoved(pattern: Pattern, moved: ReadonlyMap<string, string>): Pattern {
  const move = <Event extends PatternEvent | null>(events: Record<string, Event>): Record<string, Event> => {
    let next = events;
    for (const [key, event] of Object.entries(events)) {
      const zoneId = event && moved.get(event.zoneId);
      if (!zoneId) continue;
      if (next === events) next = { ...events };
      next[key] = { ...event, zoneId };
    }
    return next;
  };
  const hands = Object.fromEntries(
    Object.entries(pattern.hands).map(([id, hand]) => {
      const differs = move(hand.differs);
      return [id, differs === hand.differs ? hand : { ...hand, differs }];
    }),
  );
  return { ...pattern, events: move(pattern.events), ground: pattern.ground && move(pattern.ground), hands };
}
