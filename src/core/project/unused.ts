/** What nothing uses any more. */
import type { ProjectDocument } from './schema.ts';

/** Leaves out sources that no cut plays, effects in no channel, and modulators of owners that are gone. */
export function withoutUnused(document: ProjectDocument): ProjectDocument {
  const { zones, parts, cuts, channels } = document;
  const played = new Set(Object.values(cuts).map((cut) => cut.sourceId));
  const placed = new Set(Object.values(channels).flatMap((channel) => channel.effectOrder));
  const keep = <T>(table: Record<string, T>, isUsed: (id: string, record: T) => boolean): Record<string, T> => {
    const entries = Object.entries(table).filter(([id, record]) => isUsed(id, record));
    return entries.length === Object.keys(table).length ? table : Object.fromEntries(entries);
  };
  const modulators = keep(document.modulators, (_, { ownerId }) => ownerId in zones || ownerId in parts);
  return {
    ...document,
    sources: keep(document.sources, (id) => played.has(id)),
    effects: keep(document.effects, (id) => placed.has(id)),
    modulators,
    routes: keep(document.routes, (_, { modulatorId }) => modulatorId in modulators),
  };
}
