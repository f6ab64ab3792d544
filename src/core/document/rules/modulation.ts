/** Modulators belong to zones or parts that are there, and routes lead from them to what may be moved, in no ring. */
import { ownRecord } from '../changed-keys.ts';
import { rowsOfRecord } from '../owners.ts';
import { ZONE_ROWS } from '../../params/tables.ts';
import type { Rows } from '../../params/row.ts';
import type { Modulator, ProjectDocument, Route } from '../schema.ts';

export function brokenModulationRule(document: ProjectDocument): string | null {
  const { modulators, routes, zones, parts } = document;
  for (const { id, ownerId, points } of Object.values(modulators)) {
    if (points?.some(({ at }, place) => at < (points[place - 1]?.at ?? 0))) {
      return `the points of curve ${id} are not in order`;
    }
    if (!ownRecord(zones, ownerId) && !ownRecord(parts, ownerId))
      return `modulator ${id} belongs to the unknown ${ownerId}`;
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

/** Why a modulator cannot move a setting, in words; null when it can. */
export function problemOfTarget(
  document: ProjectDocument,
  modulator: Modulator,
  { target, paramId }: Pick<Route, 'target' | 'paramId'>,
): string | null {
  const { kind, id } = target;
  const rows: Rows | null = id === null ? ZONE_ROWS : rowsOfRecord(document, kind, id);
  if (!rows) return 'what it moves is gone';
  const row = ownRecord(rows, paramId);
  if (!row) return `there is no setting "${paramId}" to move`;
  if (row.kind !== 'number' || row.movedBy === 0) return `${row.label} cannot be moved`;
  if (kind === 'zone') return null;
  if (kind !== 'modulator' && kind !== 'route') {
    // A sound of its own may begin many times over: there is one channel.
    return ownRecord(document.parts, modulator.ownerId)
      ? null
      : 'what moves a single sound moves nothing beside it: let it move all of the part';
  }
  const movedId = kind === 'modulator' ? id : ownRecord(document.routes, id!)?.modulatorId;
  const moved = ownRecord(document.modulators, movedId ?? '');
  return moved?.ownerId === modulator.ownerId ? null : 'only what moves the same sounds can be moved by it';
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
