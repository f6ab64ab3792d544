/**
 * A kit: the zones of a part with their settings, their modulators and the cuts that they play, without the patterns and
 * the channel. It is kept on the shelf and loaded into parts of any project. As JSON it says which version it is of.
 */
import type { Cut, Modulator, Part, ProjectDocument, Route, SourceRef, Zone } from '../document/schema.ts';

/** Version of kits, which grows by itself: see core/shelf/kit.ts. */
export const KIT_VERSION = 5;

export interface Kit {
  schemaVersion: number;
  name: string;
  /** How the part answered: voices, one at a time, glide, its keys. */
  values: Part['values'];
  sources: Record<string, SourceRef>;
  cuts: Cut[];
  zones: Zone[];
  modulators: Modulator[];
  routes: Route[];
}

/** The kit of a part, under a name. */
export function kitOf(document: ProjectDocument, part: Part, name: string): Kit {
  const cuts = part.cutOrder.map((id) => document.cuts[id]!);
  const zones = part.zoneOrder.map((id) => document.zones[id]!);
  const owners = new Set([part.id, ...part.zoneOrder]);
  const modulators = Object.values(document.modulators).filter(({ ownerId }) => owners.has(ownerId));
  const ids = new Set(modulators.map(({ id }) => id));
  return {
    schemaVersion: KIT_VERSION,
    name,
    values: part.values,
    sources: Object.fromEntries(cuts.map(({ sourceId }) => [sourceId, document.sources[sourceId]!])),
    cuts,
    zones,
    modulators,
    // What they move beside the sounds is no part of a kit: channels, effects, dials.
    routes: Object.values(document.routes).filter(({ modulatorId, target: { kind, id } }) => {
      if (!ids.has(modulatorId)) return false;
      if (kind === 'zone') return id === null;
      if (kind === 'modulator') return ids.has(id!);
      return kind === 'route' && ids.has(document.routes[id!]?.modulatorId ?? '');
    }),
  };
}
