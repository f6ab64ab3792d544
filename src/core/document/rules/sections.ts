/** Sections of the running order are listed once each and place patterns of the parts that they name. */
import { ownRecord } from '../changed-keys.ts';
import { cutIdOfHome } from '../home-id.ts';
import type { ProjectDocument, Section } from '../schema.ts';
import { sameMembers } from './members.ts';

export function brokenOrderRule({ sections, sectionOrder }: ProjectDocument): string | null {
  return sameMembers(sectionOrder, Object.keys(sections)) ? null : 'sectionOrder does not list every section once';
}

export function brokenSectionRule(document: ProjectDocument, { id, placings }: Section): string | null {
  const ids = new Set<string>();
  for (const { id: placingId, partId, patternId, treatmentId } of placings) {
    if (ids.has(placingId)) return `section ${id} has two placings of one id`;
    ids.add(placingId);
    const homeOf = cutIdOfHome(patternId);
    const owner =
      homeOf === null ? ownRecord(document.patterns, patternId)?.partId : ownRecord(document.cuts, homeOf)?.partId;
    if (owner === undefined || owner !== partId) return `section ${id} places the unknown pattern ${patternId}`;
    const treatments = ownRecord(document.parts, partId)?.treatments ?? [];
    if (treatmentId !== undefined && !treatments.some((one) => one.id === treatmentId))
      return `section ${id} places a pattern with the unknown treatment ${treatmentId}`;
  }
  return null;
}
