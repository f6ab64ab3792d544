/** Modulators as the renderer works them out: what each moves, by its place in the target's values. */
import { rowsOfKnownTarget } from '../../document/owners.ts';
import type { LanePoint, Modulator, ProjectDocument, Route } from '../../document/schema.ts';
import { textHash } from '../../units/hash.ts';
import { grouped } from '../../units/grouped.ts';
import type { LaneFragment, ModulatorFragment, RouteFragment } from './fragments.ts';

const NO_STEPS = [0] as const;
const NO_POINTS = [{ at: 0, value: 0 }] as const;

/** A way to a setting, without its values. */
export type RouteShape = Omit<RouteFragment, 'values'>;
export type ModulatorShape = Omit<ModulatorFragment, 'values' | 'routes'> & { routes: readonly RouteShape[] };
type ModulatorInputs = Omit<Modulator, 'values'> & { routes: readonly RouteShape[] };

/** All modulators, each with what it moves; a way that leads to nothing is left out. */
export function modulatorInputs({
  modulators,
  routes,
  effects,
  helpers,
}: Pick<ProjectDocument, 'modulators' | 'routes' | 'effects' | 'helpers'>): ModulatorInputs[] {
  const routesOf = grouped(Object.values(routes), ({ modulatorId }) => modulatorId);
  return Object.values(modulators).map(({ values: _, ...modulator }) => ({
    ...modulator,
    routes: (routesOf.get(modulator.id) ?? []).flatMap((route) => routeShape({ effects, modulators, helpers }, route)),
  }));
}

export function modulatorShape({
  id,
  ownerId,
  kind,
  steps,
  points,
  lengthTicks,
  routes,
}: ModulatorInputs): ModulatorShape {
  const isLane = kind === 'lane';
  return {
    id,
    ownerId,
    kind,
    steps: steps ?? NO_STEPS,
    points: isLane ? NO_POINTS : (points ?? NO_POINTS),
    lane: isLane ? laneFragment(points ?? NO_POINTS, lengthTicks ?? 0) : null,
    seed: textHash(id),
    routes,
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
function routeShape(
  tables: Pick<ProjectDocument, 'effects' | 'modulators' | 'helpers'>,
  { id, target, paramId }: Route,
): RouteShape[] {
  const rows = rowsOfKnownTarget(tables, target);
  const row = rows?.[paramId];
  if (row?.kind !== 'number') return [];
  const slot = Object.keys(rows!).indexOf(paramId);
  const { movedBy: by, smoothingMs } = row;
  return [{ id, kind: target.kind, targetId: target.id, slot, by, smoothingMs }];
}
