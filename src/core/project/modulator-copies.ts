/** Modulators that go along with a copy of what they move. */
import type { CommandEnv } from './commands/command.ts';
import type { ProjectDocument } from './schema.ts';

/**
 * The modulators and routes of a document with those of owners that were copied. @param copies ids of the copies, by
 * the id of what they are of
 */
export function withModulatorsCopied(
  { modulators, routes }: Pick<ProjectDocument, 'modulators' | 'routes'>,
  copies: ReadonlyMap<string, readonly string[]>,
  env: CommandEnv,
): Pick<ProjectDocument, 'modulators' | 'routes'> {
  const nextModulators = { ...modulators };
  const nextRoutes = { ...routes };
  for (const modulator of Object.values(modulators)) {
    for (const ownerId of copies.get(modulator.ownerId) ?? []) {
      const id = env.newId();
      nextModulators[id] = { ...modulator, id, ownerId };
      for (const route of Object.values(routes)) {
        if (route.modulatorId !== modulator.id) continue;
        const routeId = env.newId();
        nextRoutes[routeId] = { ...route, id: routeId, modulatorId: id };
      }
    }
  }
  return { modulators: nextModulators, routes: nextRoutes };
}
