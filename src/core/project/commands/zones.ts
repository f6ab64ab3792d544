/** Zones: which keys and strengths play them, what goes round in them, copies, and taking them away. */
import { ZONE_ROWS } from '../../params/tables.ts';
import { valueProblem, withValues } from '../../params/row.ts';
import type { KeyRange, ProjectDocument, SoundLoop, VelocityRange, Zone } from '../../document/schema.ts';
import { ALL_VELOCITIES } from '../../document/limits.ts';
import { newZone } from '../../document/defaults.ts';
import { withModulatorsCopied } from '../modulator-copies.ts';
import { withSwitchesMoved, withZonesMoved } from '../slice-zones.ts';
import { withoutDangling } from '../../document/references.ts';
import { done, find, refused, type Command, type CommandResult } from './command.ts';

/** Puts a zone on keys by hand, where it stays whatever happens to the cut; null takes it off its keys. */
export const layZone: Command<{ zoneId: string; keys: KeyRange | null }> = (document, { zoneId, keys }) => {
  const zone = find(document.zones, zoneId);
  if (!zone) return refused('this zone is gone');
  if (keys && !(keys.low >= 0 && keys.low <= keys.high && keys.high <= 127))
    return refused('keys go from 0 to 127, upwards');
  return done({ ...document, zones: { ...document.zones, [zoneId]: { ...zone, laid: 'hand', keys } } });
};

/** Lets a zone lay itself again: on the key that follows from its slice's place. */
export const layItself: Command<{ zoneId: string }> = (document, { zoneId }) => {
  const zone = find(document.zones, zoneId);
  if (!zone) return refused('this zone is gone');
  if (zone.plays.kind === 'loop') return refused('a whole loop has no place among the slices: lay it by hand');
  return done({ ...document, zones: { ...document.zones, [zoneId]: { ...zone, laid: 'itself', keys: null } } });
};

function withZoneAdded(document: ProjectDocument, zone: Zone): CommandResult {
  const part = document.parts[zone.partId]!;
  return done({
    ...document,
    zones: { ...document.zones, [zone.id]: zone },
    parts: { ...document.parts, [part.id]: { ...part, zoneOrder: [...part.zoneOrder, zone.id] } },
  });
}

/** The same slice once more, on keys of its own and with settings of its own. */
export const copyZone: Command<{ zoneId: string; keys: KeyRange | null }> = (document, { zoneId, keys }, env) => {
  const zone = find(document.zones, zoneId);
  if (!zone) return refused('this zone is gone');
  const copy: Zone = { ...zone, id: env.newId(), laid: 'hand', keys };
  const moved = withModulatorsCopied(document, new Map([[zoneId, [copy.id]]]), env);
  return withZoneAdded({ ...document, ...moved }, copy);
};

/** The whole loop of a cut on a range of keys: each starts it, in time with the song, as far from the root as it is. */
export const layWholeLoop: Command<{ cutId: string; keys: KeyRange }> = (document, { cutId, keys }, env) => {
  const cut = find(document.cuts, cutId);
  if (!cut) return refused('this cut is gone');
  if (!cut.loop) return refused('this sound is no loop: say how many bars it has first');
  if (!(keys.low >= 0 && keys.low <= keys.high && keys.high <= 127)) return refused('keys go from 0 to 127, upwards');
  return withZoneAdded(document, {
    ...newZone(env.newId(), cut.partId, cutId, '', { ...document.song.zoneDefaults, answer: 'gate' }),
    plays: { kind: 'loop', cutId, sliceId: null },
    laid: 'hand',
    keys,
  });
};

/**
 * Takes zones off the keys. One of several that play a slice goes for good, and events that played it play another of
 * them; the last of a slice stays without a key.
 */
export const takeOffKeys: Command<{ zoneIds: readonly string[] }> = (document, { zoneIds }) => {
  const chosen = new Set(zoneIds);
  const first = find(document.zones, zoneIds[0]);
  if (!first) return refused('this zone is gone');
  const part = document.parts[first.partId]!;
  const zones = { ...document.zones };
  const moved = new Map<string, string>();
  const nameOf = ({ plays }: Zone) => `${plays.cutId} ${plays.sliceId ?? ''}`;
  const left = new Map<string, string[]>();
  for (const zoneId of part.zoneOrder) {
    const name = nameOf(zones[zoneId]!);
    left.set(name, [...(left.get(name) ?? []), zoneId]);
  }
  for (const zoneId of part.zoneOrder.filter((id) => chosen.has(id))) {
    const zone = zones[zoneId]!;
    const others = left.get(nameOf(zone))!.filter((id) => id !== zoneId);
    if (others.length === 0 && zone.plays.kind === 'slice') {
      zones[zoneId] = { ...zone, laid: 'hand', keys: null };
      continue;
    }
    left.set(nameOf(zone), others);
    delete zones[zoneId];
    const stand = others[0];
    if (stand) moved.set(zoneId, stand);
  }
  // What stands in for a zone may have gone after it.
  const final = new Map([...moved].map(([from, to]) => [from, finalOf(moved, to)]));
  const laid = { ...part, zoneOrder: part.zoneOrder.filter((id) => Object.hasOwn(zones, id)) };
  const parts = { ...document.parts, [part.id]: withSwitchesMoved(laid, final) };
  return done(withoutDangling({ ...document, zones, parts, patterns: withZonesMoved(document, part.id, final) }));
};

function finalOf(moved: ReadonlyMap<string, string>, zoneId: string): string {
  let current = zoneId;
  for (let next = moved.get(current); next; next = moved.get(current)) current = next;
  return current;
}

/** Sets which strengths play zones. */
export const setVelocities: Command<{ zoneIds: readonly string[]; velocities: Partial<VelocityRange> }> = (
  document,
  { zoneIds, velocities },
) => {
  const zones = { ...document.zones };
  for (const zoneId of zoneIds) {
    const zone = find(zones, zoneId);
    if (!zone) continue;
    const next = { ...zone.velocities, ...velocities };
    if (!(next.low >= 1 && next.low <= next.high && next.high <= 127)) {
      return refused('strengths go from 1 to 127, the lower end first');
    }
    zones[zoneId] = { ...zone, velocities: { ...next, fade: Math.max(0, Math.min(126, Math.round(next.fade))) } };
  }
  return done({ ...document, zones });
};

/**
 * Lays several sounds on the key of the first, each for its share of the strengths: the first for soft presses, the last
 * for hard ones.
 * @param fade steps over which one becomes the other
 */
export const layerByStrength: Command<{ zoneIds: readonly string[]; keys: KeyRange; fade: number }> = (
  document,
  { zoneIds, keys, fade },
) => {
  if (zoneIds.length < 2) return refused('choose two sounds or more that are to share a key');
  if (zoneIds.some((zoneId) => !find(document.zones, zoneId))) return refused('one of these sounds is gone');
  const zones = { ...document.zones };
  const edge = (place: number) => Math.round((127 * place) / zoneIds.length);
  zoneIds.forEach((zoneId, i) => {
    const velocities = { low: edge(i) + 1, high: edge(i + 1), fade };
    zones[zoneId] = { ...zones[zoneId]!, laid: 'hand', keys, velocities };
  });
  return done({ ...document, zones });
};

/** All strengths again. */
export const allStrengths: Command<{ zoneIds: readonly string[] }> = (document, { zoneIds }, env) =>
  setVelocities(document, { zoneIds, velocities: ALL_VELOCITIES }, env);

/** What goes round inside a zone, in frames of its source; null: the whole of it. */
export const setZoneLoop: Command<{ zoneId: string; loop: SoundLoop | null }> = (document, { zoneId, loop }) => {
  const zone = find(document.zones, zoneId);
  const cut = zone && find(document.cuts, zone.plays.cutId);
  if (!zone || !cut) return refused('this zone is gone');
  if (!loop) return done({ ...document, zones: { ...document.zones, [zoneId]: { ...zone, loop: null } } });
  const { frames } = document.sources[cut.sourceId]!;
  const whole = {
    startFrame: Math.round(loop.startFrame),
    endFrame: Math.round(loop.endFrame),
    crossfadeFrames: Math.max(0, Math.round(loop.crossfadeFrames)),
  };
  if (!(whole.startFrame >= 0 && whole.endFrame <= frames)) return refused('a loop lies inside its sound');
  if (!(whole.endFrame > whole.startFrame)) return refused('a loop ends after its start');
  return done({ ...document, zones: { ...document.zones, [zoneId]: { ...zone, loop: whole } } });
};

/** Settings of one zone for others: pasted, each value as it is there. What is missing has its default. */
export const pasteValues: Command<{ zoneIds: readonly string[]; values: Zone['values'] }> = (
  document,
  { zoneIds, values },
) => {
  const problem = problemOf(values);
  if (problem) return refused(problem);
  const zones = { ...document.zones };
  for (const zoneId of zoneIds) if (find(zones, zoneId)) zones[zoneId] = { ...zones[zoneId]!, values };
  return zoneIds.length === 0 ? refused('choose what is to be set') : done({ ...document, zones });
};

/** What new zones of the project begin with; an empty record is as it was at first. */
export const setZoneDefaults: Command<{ values: Zone['values'] }> = (document, { values }) => {
  const problem = problemOf(values);
  if (problem) return refused(problem);
  return done({ ...document, song: { ...document.song, zoneDefaults: withValues(ZONE_ROWS, {}, values) } });
};

function problemOf(values: Zone['values']): string | null {
  for (const [param, value] of Object.entries(values)) {
    const row = Object.hasOwn(ZONE_ROWS, param) ? ZONE_ROWS[param as keyof typeof ZONE_ROWS] : null;
    const problem = row ? valueProblem(row, value) : `there is no setting "${param}" here`;
    if (problem) return problem;
  }
  return null;
}
