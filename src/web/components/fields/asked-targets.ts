/** What a dial and a lane may move of the owners of a setting. */
import type { ProjectDocument, RouteTarget } from '#core/document/schema.ts';
import type { Owner } from '#core/project/commands/values.ts';

export interface AskedTargets {
  /** Null: nothing may be laid over it. */
  lane: RouteTarget | null;
  dial: RouteTarget;
}

/** Of several sounds all those of their part; null for what is moved by nothing. */
export function askedTargets(document: ProjectDocument, owners: readonly Owner[]): AskedTargets | null {
  const [owner, ...others] = owners;
  if (!owner) return null;
  if (owner.kind === 'zone') {
    if (others.length === 0) return { lane: { kind: 'zone', id: owner.id }, dial: { kind: 'zone', id: owner.id } };
    const partId = document.zones[owner.id]?.partId;
    return partId ? { lane: { kind: 'zone', id: null }, dial: { kind: 'sounds', id: partId } } : null;
  }
  const { kind } = owner;
  if (kind === 'song' || kind === 'event' || kind === 'part' || kind === 'cut') return null;
  if (kind === 'mapping' || kind === 'section') return null;
  const target = { kind, id: owner.id };
  return { lane: target, dial: target };
}
