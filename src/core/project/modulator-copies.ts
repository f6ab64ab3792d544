/** Modulators that go along with a copy of what they move. */
import type { CommandEnv } from './commands/command.ts';
import type { Modulator, ProjectDocument, Route } from '../document/schema.ts';

/**
 * Routes under new ids; what is not named keeps its own.
 * @param idOf the copy's id of a record that was copied along
 * @param routeIds is given the ids of the copies
 */
export function routesCopied(
  routes: readonly Route[],
  modulatorIds: ReadonlyMap<string, string>,
  idOf: (id: string) => string | undefined,
  env: CommandEnv,
  routeIds = new Map<string, string>(),
): Route[] {
  const taken = routes.filter(({ modulatorId }) => modulatorIds.has(modulatorId));
  for (const { id } of taken) routeIds.set(id, env.newId());
  return taken.map((route) => {
    const { target } = route;
    const id = target.id && (modulatorIds.get(target.id) ?? routeIds.get(target.id) ?? idOf(target.id) ?? target.id);
    return {
      ...route,
      id: routeIds.get(route.id)!,
      modulatorId: modulatorIds.get(route.modulatorId)!,
      target: { ...target, id },
    };
  });
}

/**
 * The modulators and routes of a document with those of owners that were copied.
 * @param copies ids of the copies, by the id of what they are of
 * @param others what else was copied along and may be moved: channels, effects, sends
 * @param copiedIds is given the ids of the modulators and routes that came, by those that they are copies of
 */
export function withModulatorsCopied(
  { modulators, routes }: Pick<ProjectDocument, 'modulators' | 'routes'>,
  copies: ReadonlyMap<string, readonly string[]>,
  env: CommandEnv,
  others: ReadonlyMap<string, string> = new Map(),
  copiedIds = new Map<string, string>(),
): Pick<ProjectDocument, 'modulators' | 'routes'> {
  const all = Object.values(modulators).filter(({ ownerId }) => copies.has(ownerId));
  if (all.length === 0) return { modulators, routes };
  const nextModulators = { ...modulators };
  const nextRoutes = { ...routes };
  const most = Math.max(0, ...[...copies.values()].map((ids) => ids.length));
  for (let n = 0; n < most; n++) {
    const ids = new Map<string, string>();
    for (const modulator of all) {
      const ownerId = copies.get(modulator.ownerId)?.[n];
      if (ownerId === undefined) continue;
      const copy: Modulator = { ...modulator, id: env.newId(), ownerId };
      ids.set(modulator.id, copy.id);
      copiedIds.set(modulator.id, copy.id);
      nextModulators[copy.id] = copy;
    }
    for (const route of routesCopied(Object.values(routes), ids, (id) => others.get(id), env, copiedIds)) {
      nextRoutes[route.id] = route;
    }
  }
  return { modulators: nextModulators, routes: nextRoutes };
}
