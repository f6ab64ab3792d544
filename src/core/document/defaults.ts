/** New documents and new things in them. */
import type { Role } from '../analysis/role-names.ts';
import type { Material } from '../params/choices.ts';
import { ALL_VELOCITIES, SCHEMA_VERSION } from './limits.ts';
import type { Channel, ProjectDocument, Zone } from './schema.ts';

export function emptyDocument(id: string, name: string): ProjectDocument {
  return {
    schemaVersion: SCHEMA_VERSION,
    id,
    name,
    song: { values: {}, zoneDefaults: {} },
    partOrder: [],
    sectionOrder: [],
    sources: {},
    parts: {},
    cuts: {},
    zones: {},
    modulators: {},
    routes: {},
    channels: { [MAIN_ID]: newChannel(MAIN_ID, 'main') },
    sends: {},
    effects: {},
    patterns: {},
    helpers: {},
    mappings: {},
    sections: {},
  };
}

/** Id of the main channel in new documents. */
const MAIN_ID = 'main';

export function newChannel(id: string, kind: Channel['kind'] = 'part'): Channel {
  return { id, kind, outputId: null, values: {}, effectOrder: [] };
}

/** A zone that lays itself on the key of its slice's place. @param values what the project's new zones begin with */
export function newZone(id: string, partId: string, cutId: string, sliceId: string, values: Zone['values'] = {}): Zone {
  return {
    id,
    partId,
    plays: { kind: 'slice', cutId, sliceId },
    laid: 'itself',
    keys: null,
    velocities: ALL_VELOCITIES,
    loop: null,
    values,
  };
}

const PITCHED_ROLES: readonly Role[] = ['bass', 'note', 'chord'];
/**
 * Notes with no more than this share of drums are notes. Drums are heard first where both sound, so that a second note tells
 * a mix already: drums that are taken for a mix lose less than a mix that is taken for drums.
 */
const STRAY_SHARE = 0.1;
const STRAY_NOTES_SHARE = 0.05;

/** What a loop is made of, by the roles of its slices. */
export function likeliestMaterial(roles: readonly Role[]): Material {
  const count = roles.length;
  const pitched = roles.filter((role) => PITCHED_ROLES.includes(role)).length;
  if (count === 0) return 'mixes';
  if (pitched >= (1 - STRAY_SHARE) * count) return 'notes';
  return pitched <= Math.max(1, STRAY_NOTES_SHARE * count) ? 'drums' : 'mixes';
}
