/** What moves a setting while it sounds. */
import type { ModulatorKind } from '../params/modulators.ts';
import type { OwnerKind } from '../document/owners.ts';
import type { ProjectDocument } from '../document/schema.ts';

/** Kinds of the modulators that move a setting; of a zone, its own and those of all its part. */
export function movedByOf(
  document: ProjectDocument,
  owner: { kind: OwnerKind; id: string },
  param: string,
): ModulatorKind[] {
  const zone = owner.kind === 'zone' ? document.zones[owner.id] : undefined;
  return Object.values(document.routes).flatMap(({ modulatorId, target, paramId, values }) => {
    if (paramId !== param || !values.amount) return [];
    const modulator = document.modulators[modulatorId];
    if (!modulator) return [];
    const isOfZone = zone && (modulator.ownerId === zone.id || modulator.ownerId === zone.partId);
    const isMoved = target.kind === 'zone' ? isOfZone : target.kind === owner.kind && target.id === owner.id;
    return isMoved ? [modulator.kind] : [];
  });
}
