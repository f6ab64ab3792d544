/** Modulators and what they move. */
import type { ModulationTarget, ModulatorKind } from '../../params/modulators.ts';
import { done, find, refused, type Command } from './command.ts';

/** Gives a zone, or all of a part, a modulator that moves one setting by an amount from -1 to 1. */
export const addModulator: Command<{
  ownerId: string;
  kind: ModulatorKind;
  paramId: ModulationTarget;
  amount: number;
}> = (document, { ownerId, kind, paramId, amount }, env) => {
  if (!find(document.zones, ownerId) && !find(document.parts, ownerId)) return refused('this zone is gone');
  if (!(Math.abs(amount) <= 1)) return refused('an amount goes from -100% to 100%');
  const modulator = { id: env.newId(), ownerId, kind, values: {} };
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
