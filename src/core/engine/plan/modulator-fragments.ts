/** Modulators as the renderer works them out: what each moves, by its place in the target's values. */
import { rowsOfTarget } from '../../document/owners.ts';
import type { LanePoint, Modulator, ProjectDocument, Route } from '../../document/schema.ts';
import { textHash } from '../../units/hash.ts';
import type { LaneFragment, ModulatorFragment, RouteFragment } from './fragments.ts';

const NO_STEPS = [0] as const;
const NO_POINTS = [{ at: 0, value: 0 }] as const;

/** @param values of the modulator @param routeValues of its routes, in their order */
export function modulatorFragment(
  document: ProjectDocument,
  { id, ownerId, kind, steps, points, lengthTicks }: Modulator,
  values: Float64Array,
  routes: readonly Route[],
  routeValues: readonly Float64Array[],
): ModulatorFragment {
  const isLane = kind === 'lane';
  return {
    id,
    ownerId,
    kind,
    values,
    steps: steps ?? NO_STEPS,
    points: isLane ? NO_POINTS : (points ?? NO_POINTS),
    lane: isLane ? laneFragment(points ?? NO_POINTS, lengthTicks ?? 0) : null,
    seed: textHash(id),
    routes: routes.flatMap((route, place) => routeFragment(document, route, routeValues[place]!)),
  };
}

function laneFragment(points: readonly LanePoint[], lengthTicks: number): LaneFragment {
  return {
    lengthTicks,
    positionTicks: Float64Array.from(points, ({ at }) => at),
    values: Float64Array.from(points, ({ value }) => value),
    bends: Float64Array.from(points, ({ bend = 0 }) => bend),
    stays: Uint8Array.from(points, ({ stays }) => Number(stays ?? false)),
  };
}

/** Empty for one that leads to nothing. */
function routeFragment(
  document: ProjectDocument,
  { id, target, paramId }: Route,
  values: Float64Array,
): RouteFragment[] {
  const rows = rowsOfTarget(document, target);
  const row = rows?.[paramId];
  if (row?.kind !== 'number') return [];
  const slot = Object.keys(rows!).indexOf(paramId);
  const { movedBy: by, smoothingMs } = row;
  return [{ id, kind: target.kind, targetId: target.id, slot, by, smoothingMs, values }];
}
