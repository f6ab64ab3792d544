/** What moves the settings of a zone while it sounds. */
import type { ModulatorKind } from '../params/modulators.ts';
import type { ProjectDocument } from '../project/schema.ts';

/** Kinds of the modulators that move a setting of a zone, its own and those of all its part. */
export function movedByOf(document: ProjectDocument, zoneId: string, param: string): ModulatorKind[] {
  const zone = document.zones[zoneId];
  if (!zone) return [];
  return Object.values(document.routes).flatMap(({ modulatorId, paramId, amount }) => {
    if (paramId !== param || amount === 0) return [];
    const modulator = document.modulators[modulatorId];
    return modulator && (modulator.ownerId === zoneId || modulator.ownerId === zone.partId) ? [modulator.kind] : [];
  });
}
