/** Modulators and what they move. */
import { MAX_AMOUNT, ROUTE_ROWS, type ModulatorKind } from '../../params/modulators.ts';
import { withValues } from '../../params/row.ts';
import { problemOfTarget, ringOf } from '../../document/rules/modulation.ts';
import { withoutDangling } from '../../document/references.ts';
import type { Modulator, ProjectDocument, Route, RouteTarget } from '../../document/schema.ts';
import { done, find, refused, type Command } from './command.ts';

/** What a new modulator looks like. */
function beginningOf(kind: ModulatorKind): Partial<Modulator> {
  if (kind === 'steps') return { steps: [1, 0.5, 0.75, 0.25, 1, 0, 0.5, 0.25] };
  if (kind === 'curve') {
    return {
      points: [
        { at: 0, value: 0 },
        { at: 0.25, value: 1 },
        { at: 1, value: 0 },
      ],
    };
  }
  return {};
}

/** The settings of the sounds that a modulator belongs to. */
export const OWN_SOUNDS: RouteTarget = { kind: 'zone', id: null };

/** What a modulator moves, and how far: 1 is the whole of what the setting is moved by. */
export interface Moved {
  target?: RouteTarget;
  paramId: string;
  amount: number;
}

/** Gives a zone, or all of a part, a modulator that moves one setting. */
export const addModulator: Command<{ ownerId: string; kind: ModulatorKind } & Moved> = (
  document,
  { ownerId, kind, ...moved },
  env,
) => {
  if (!find(document.zones, ownerId) && !find(document.parts, ownerId)) return refused('this zone is gone');
  const modulator: Modulator = { id: env.newId(), ownerId, kind, values: {}, ...beginningOf(kind) };
  const added = { ...document, modulators: { ...document.modulators, [modulator.id]: modulator } };
  return setRoute(added, { modulatorId: modulator.id, ...moved }, env);
};

/** Takes a modulator away, and what it moved stands still. */
export const removeModulator: Command<{ modulatorId: string }> = (document, { modulatorId }) => {
  if (!find(document.modulators, modulatorId)) return refused('this modulator is gone already');
  const { [modulatorId]: _gone, ...modulators } = document.modulators;
  return done(withoutDangling({ ...document, modulators }));
};

/** The way of a modulator to a setting; undefined when it does not move it. */
export function routeTo(
  { routes }: Pick<ProjectDocument, 'routes'>,
  modulatorId: string,
  { target = OWN_SOUNDS, paramId }: Pick<Moved, 'target' | 'paramId'>,
): Route | undefined {
  return Object.values(routes).find(
    (route) =>
      route.modulatorId === modulatorId &&
      route.paramId === paramId &&
      route.target.kind === target.kind &&
      route.target.id === target.id,
  );
}

/** Lets a modulator move a setting, by an amount; one that it moves already by another amount. */
export const setRoute: Command<{ modulatorId: string } & Moved> = (
  document,
  { modulatorId, target = OWN_SOUNDS, paramId, amount },
  env,
) => {
  const modulator = find(document.modulators, modulatorId);
  if (!modulator) return refused('this modulator is gone');
  if (!(Math.abs(amount) <= MAX_AMOUNT)) return refused(`an amount goes from -${MAX_AMOUNT}00% to ${MAX_AMOUNT}00%`);
  const known = routeTo(document, modulatorId, { target, paramId });
  if (!known) {
    const problem = problemOfTarget(document, modulator, { target, paramId });
    if (problem) return refused(problem);
  }
  const route: Route = known ?? { id: env.newId(), modulatorId, target, paramId, values: {} };
  const values = withValues(ROUTE_ROWS, route.values, { amount });
  const next = { ...document, routes: { ...document.routes, [route.id]: { ...route, values } } };
  if (!known && ringOf(next) !== null) return refused('it is moved by what it would move: choose another setting');
  return done(next);
};

/** Lets a modulator leave a setting alone. */
export const removeRoute: Command<{ routeId: string }> = (document, { routeId }) => {
  if (!find(document.routes, routeId)) return refused('this is moved no more already');
  const { [routeId]: _gone, ...routes } = document.routes;
  return done(withoutDangling({ ...document, routes }));
};

/** The values of a row of steps, or the points of a curve. */
export const drawModulator: Command<{ modulatorId: string } & Pick<Modulator, 'steps' | 'points'>> = (
  document,
  { modulatorId, steps, points },
) => {
  const modulator = find(document.modulators, modulatorId);
  if (!modulator) return refused('this modulator is gone');
  if (steps && (modulator.kind !== 'steps' || steps.length < 2 || steps.length > 32)) {
    return refused('a row has 2 to 32 steps');
  }
  if (points && (modulator.kind !== 'curve' || points.length < 2 || points.length > 64)) {
    return refused('a curve has 2 to 64 points');
  }
  const within = (value: number) => Math.max(-1, Math.min(1, value));
  const next: Modulator = {
    ...modulator,
    ...(steps ? { steps: steps.map(within) } : {}),
    ...(points
      ? {
          points: points
            .map(({ at, value }) => ({ at: Math.max(0, Math.min(1, at)), value: within(value) }))
            .sort((a, b) => a.at - b.at),
        }
      : {}),
  };
  return done({ ...document, modulators: { ...document.modulators, [modulatorId]: next } });
};
