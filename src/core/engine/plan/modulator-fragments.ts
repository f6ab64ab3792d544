/** Modulators as the renderer works them out: what each moves, by its place in the target's values. */
import type { Rows } from '../../params/row.ts';
import { ZONE_ROWS } from '../../params/tables.ts';
import { rowsOfRecord } from '../../document/owners.ts';
import type { Modulator, ProjectDocument, Route } from '../../document/schema.ts';
import { textHash } from '../../units/hash.ts';
import type { ModulatorFragment, RouteFragment } from './fragments.ts';

const NO_STEPS = [0] as const;
const NO_POINTS = [{ at: 0, value: 0 }] as const;

/** @param values of the modulator @param routeValues of its routes, in their order */
export function modulatorFragment(
  document: ProjectDocument,
  { id, ownerId, kind, steps, points }: Modulator,
  values: Float64Array,
  routes: readonly Route[],
  routeValues: readonly Float64Array[],
): ModulatorFragment {
  return {
    id,
    ownerId,
    kind,
    values,
    steps: steps ?? NO_STEPS,
    points: points ?? NO_POINTS,
    seed: textHash(id),
    routes: routes.flatMap((route, place) => routeFragment(document, route, routeValues[place]!)),
  };
}

/** Empty for one that leads to nothing. */
function routeFragment(
  document: ProjectDocument,
  { id, target, paramId }: Route,
  values: Float64Array,
): RouteFragment[] {
  const rows: Rows | null = target.id === null ? ZONE_ROWS : rowsOfRecord(document, target.kind, target.id);
  const row = rows?.[paramId];
  if (row?.kind !== 'number') return [];
  const slot = Object.keys(rows!).indexOf(paramId);
  return [{ id, kind: target.kind, targetId: target.id, slot, by: row.movedBy, values }];
}
