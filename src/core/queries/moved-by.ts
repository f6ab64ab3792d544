/** What moves a setting while it sounds. */
import { MODULATOR_WORDS } from '../params/modulators.ts';
import type { OwnerKind } from '../document/owners.ts';
import { partIdOfPattern } from '../document/pattern-part.ts';
import type { Modulator, ProjectDocument, RouteTarget, Zone } from '../document/schema.ts';

/** What moves a setting, in words: modulators by their kinds, dials by their names; of a zone, its own and those of all its part. */
export function movedByOf(
  document: ProjectDocument,
  owner: { kind: OwnerKind | 'double'; id: string },
  param: string,
): string[] {
  const zone = owner.kind === 'zone' ? document.zones[owner.id] : undefined;
  return Object.values(document.routes).flatMap(({ modulatorId, target, paramId, values }) => {
    if (paramId !== param || !values.amount) return [];
    const modulator = document.modulators[modulatorId];
    if (!modulator) return [];
    const isMoved = zone
      ? reaches(document, modulator, target, zone)
      : target.kind === owner.kind && target.id === owner.id;
    return isMoved ? [modulator.name ?? MODULATOR_WORDS[modulator.kind]] : [];
  });
}

/** Does a route of a modulator lead to a zone? */
function reaches(document: ProjectDocument, { kind, ownerId }: Modulator, target: RouteTarget, zone: Zone): boolean {
  if (target.kind === 'sounds') return target.id === zone.partId;
  if (target.kind !== 'zone') return false;
  if (target.id !== null) return target.id === zone.id;
  if (kind === 'lane') return partIdOfPattern(document, ownerId) === zone.partId;
  return ownerId === zone.id || ownerId === zone.partId;
}
