/** Controllers move settings that are there. */
import { ownRecord } from '../changed-keys.ts';
import { rowsOfMapped } from '../owners.ts';
import type { ProjectDocument } from '../schema.ts';

export function brokenMappingRule(document: ProjectDocument): string | null {
  for (const { id, source, target } of Object.values(document.mappings)) {
    if ((target.kind === 'part') !== (source.kind === 'keys')) return `mapping ${id}: a range of keys plays a part`;
    if (target.kind !== 'setting') {
      if (target.id !== null && !ownRecord(document.parts, target.id)) return `mapping ${id} acts on an unknown part`;
      continue;
    }
    const rows = rowsOfMapped(document, target);
    if (!rows) return `mapping ${id} moves what is gone`;
    if (!ownRecord(rows, target.paramId)) return `mapping ${id}: there is no setting "${target.paramId}" to move`;
  }
  return null;
}
