/** Modulators and what they move. */
import { MAX_AMOUNT, type ModulationTarget, type ModulatorKind } from '../../params/modulators.ts';
import type { Modulator } from '../schema.ts';
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

/** Gives a zone, or all of a part, a modulator that moves one setting; 1 is the whole of what that is moved by. */
export const addModulator: Command<{
  ownerId: string;
  kind: ModulatorKind;
  paramId: ModulationTarget;
  amount: number;
}> = (document, { ownerId, kind, paramId, amount }, env) => {
  if (!find(document.zones, ownerId) && !find(document.parts, ownerId)) return refused('this zone is gone');
  if (!(Math.abs(amount) <= MAX_AMOUNT)) return refused(`an amount goes from -${MAX_AMOUNT}00% to ${MAX_AMOUNT}00%`);
  const modulator: Modulator = { id: env.newId(), ownerId, kind, values: {}, ...beginningOf(kind) };
  const route = { id: env.newId(), modulatorId: modulator.id, paramId, amount };
  return done({
    ...document,
    modulators: { ...document.modulators, [modulator.id]: modulator },
    routes: { ...document.routes, [route.id]: route },
  });
};

export const removeModulator: Command<{ modulatorId: string }> = (document, { modulatorId }) => {
  if (!find(document.modulators, modulatorId)) return refused('this modulator is gone already');
  const { [modulatorId]: _gone, ...modulators } = document.modulators;
  const routes = Object.fromEntries(
    Object.entries(document.routes).filter(([, route]) => route.modulatorId !== modulatorId),
  );
  return done({ ...document, modulators, routes });
};

/** Lets a modulator move a setting, by an amount; one that it moves already by another amount; 0 no more. */
export const setRoute: Command<{ modulatorId: string; paramId: ModulationTarget; amount: number }> = (
  document,
  { modulatorId, paramId, amount },
  env,
) => {
  if (!find(document.modulators, modulatorId)) return refused('this modulator is gone');
  if (!(Math.abs(amount) <= MAX_AMOUNT)) return refused(`an amount goes from -${MAX_AMOUNT}00% to ${MAX_AMOUNT}00%`);
  const known = Object.values(document.routes).find(
    (route) => route.modulatorId === modulatorId && route.paramId === paramId,
  );
  const route = { ...(known ?? { id: env.newId(), modulatorId, paramId }), amount };
  return done({ ...document, routes: { ...document.routes, [route.id]: route } });
};

/** Lets a modulator leave a setting alone. */
export const removeRoute: Command<{ routeId: string }> = (document, { routeId }) => {
  if (!find(document.routes, routeId)) return refused('this is moved no more already');
  const { [routeId]: _gone, ...routes } = document.routes;
  return done({ ...document, routes });
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
