/** Modulators belong to zones or parts that are there, and routes lead from them to what may be moved, in no ring. */
import { ownRecord } from '../changed-keys.ts';
import { SONG_OWNER } from '../../params/modulators.ts';
import { findDouble, rowsOfTarget } from '../owners.ts';
import { partIdOfPattern } from '../pattern-part.ts';
import type { Modulator, ProjectDocument, Route } from '../schema.ts';

export function brokenModulationRule(document: ProjectDocument): string | null {
  const { modulators, routes } = document;
  for (const modulator of Object.values(modulators)) {
    const { id, points, ownerId } = modulator;
    if (points?.some(({ at }, place) => at < (points[place - 1]?.at ?? 0))) {
      return `the points of curve ${id} are not in order`;
    }
    if (!hasOwner(document, modulator)) return `modulator ${id} belongs to the unknown ${ownerId}`;
  }
  for (const route of Object.values(routes)) {
    const modulator = ownRecord(modulators, route.modulatorId);
    if (!modulator) return `route ${route.id} comes from the unknown modulator ${route.modulatorId}`;
    const problem = problemOfTarget(document, modulator, route);
    if (problem) return `route ${route.id}: ${problem}`;
  }
  const ring = ringOf(document);
  return ring === null ? null : `modulator ${ring} would move itself, by way of others`;
}

function hasOwner(document: ProjectDocument, { kind, ownerId }: Modulator): boolean {
  if (kind === 'macro') return ownerId === SONG_OWNER;
  if (kind === 'lane') return isOverSection(document, ownerId) || partIdOfPattern(document, ownerId) !== null;
  return Boolean(ownRecord(document.zones, ownerId) ?? ownRecord(document.parts, ownerId));
}

function isOverSection({ sections }: ProjectDocument, ownerId: string): boolean {
  return ownRecord(sections, ownerId) !== undefined;
}

/** Why a modulator cannot move a setting, in words; null when it can. */
export function problemOfTarget(
  document: ProjectDocument,
  modulator: Modulator,
  { target, paramId }: Pick<Route, 'target' | 'paramId'>,
): string | null {
  const rows = rowsOfTarget(document, target);
  if (!rows) return 'what it moves is gone';
  const row = ownRecord(rows, paramId);
  if (!row) return `there is no setting "${paramId}" to move`;
  if (row.kind !== 'number' || row.movedBy === 0) return `${row.label} cannot be moved`;
  return problemOfReach(document, modulator, target);
}

/** What a macro, or a lane over a section, reaches is all of the song; a lane over a pattern, what its part has and is heard through; others, their own sounds. */
function problemOfReach(
  document: ProjectDocument,
  { kind: by, ownerId }: Modulator,
  { kind, id }: Route['target'],
): string | null {
  const { zones, parts, modulators } = document;
  const movedId = kind === 'route' ? ownRecord(document.routes, id!)?.modulatorId : kind === 'modulator' ? id : null;
  const moved = movedId ? ownRecord(modulators, movedId) : undefined;
  if (moved?.kind === 'lane') return 'a lane is drawn, and not moved';
  if (by === 'macro') return id === null ? 'a dial has no sounds of its own' : null;
  if (by === 'lane' && isOverSection(document, ownerId))
    return id === null ? 'a section has no sounds of its own' : null;
  const partId = by === 'lane' ? partIdOfPattern(document, ownerId) : ownerId;
  if (kind === 'zone' || kind === 'sounds') {
    if (id === null) return null;
    const isOfPart = by === 'lane' && kind === 'zone' && ownRecord(zones, id)?.partId === partId;
    return isOfPart ? null : 'only what moves the same sounds can be moved by it';
  }
  if (kind === 'double') {
    return findDouble(document, id!)?.part.id === partId ? null : 'only doubles of the same part can be moved by it';
  }
  if (kind === 'helper') {
    return ownRecord(document.helpers, id!)?.partId === partId
      ? null
      : 'only what is on the way to the keys of the same part can be moved by it';
  }
  if (kind !== 'modulator' && kind !== 'route') {
    // A sound of its own may begin many times over: there is one channel.
    return partId !== null && ownRecord(parts, partId)
      ? null
      : 'what moves a single sound moves nothing beside it: let it move all of the part';
  }
  if (!moved) return 'what it moves is gone';
  if (moved.kind === 'macro' && partId !== null && ownRecord(parts, partId)) return null;
  const isOfPart = by === 'lane' && (moved.ownerId === partId || ownRecord(zones, moved.ownerId)?.partId === partId);
  return isOfPart || moved.ownerId === ownerId ? null : 'only what moves the same sounds can be moved by it';
}

/** A modulator that is moved by what it moves; null when there is none. */
export function ringOf({ modulators, routes }: Pick<ProjectDocument, 'modulators' | 'routes'>): string | null {
  const moves = new Map<string, string[]>();
  for (const { modulatorId, target } of Object.values(routes)) {
    const to =
      target.kind === 'modulator' ? target.id : target.kind === 'route' ? routes[target.id!]?.modulatorId : null;
    if (to) moves.set(modulatorId, [...(moves.get(modulatorId) ?? []), to]);
  }
  const isDone = new Set<string>();
  const onWay = new Set<string>();
  const findFrom = (id: string): string | null => {
    if (onWay.has(id)) return id;
    if (isDone.has(id)) return null;
    onWay.add(id);
    for (const to of moves.get(id) ?? []) {
      const found = findFrom(to);
      if (found !== null) return found;
    }
    onWay.delete(id);
    isDone.add(id);
    return null;
  };
  for (const id of moves.keys()) {
    const found = Object.hasOwn(modulators, id) ? findFrom(id) : null;
    if (found !== null) return found;
  }
  return null;
}
