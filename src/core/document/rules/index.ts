/** The rules between tables that a schema cannot say, in words where one is broken. A new one is a file beside this. */
import { TABLES, type ProjectDocument, type TableName } from '../schema.ts';
import { brokenChannelRule } from './channels.ts';
import { brokenCutRule } from './cuts.ts';
import { brokenMappingRule } from './mappings.ts';
import { sameMembers } from './members.ts';
import { brokenModulationRule } from './modulation.ts';
import { brokenPatternRule } from './patterns.ts';
import { brokenOrderRule, brokenSectionRule } from './sections.ts';
import { brokenZoneRule } from './zones.ts';
import { brokenStructureRule, isStructureOther } from './structure.ts';

/**
 * The first broken rule, in words; null when all hold.
 * @param before what is the same there holds already; null: everything is looked at
 */
export function firstBrokenRule(document: ProjectDocument, before: ProjectDocument | null): string | null {
  const { parts, partOrder } = document;
  for (const table of Object.keys(TABLES) as TableName[]) {
    const records = document[table] as Record<string, { id: string }>;
    if (before?.[table] === records) continue;
    for (const [key, record] of Object.entries(records)) {
      if (record.id !== key) return `${table}.${key}: its id is ${record.id}`;
    }
  }
  if (!before || partOrder !== before.partOrder || parts !== before.parts) {
    if (!sameMembers(partOrder, Object.keys(parts))) return 'partOrder does not list every part once';
  }
  const channelsChanged =
    !before ||
    before.channels !== document.channels ||
    before.effects !== document.effects ||
    before.sends !== document.sends;
  if (channelsChanged) {
    const problem = brokenChannelRule(document);
    if (problem) return problem;
  }
  const isOther = (table: TableName, key: string) => !before || before[table]?.[key] !== document[table][key];
  if (!before || isStructureOther(before, document)) {
    const problem = brokenStructureRule(document);
    if (problem) return problem;
  }
  for (const cut of Object.values(document.cuts)) {
    if (!isOther('cuts', cut.id) && !isOther('sources', cut.sourceId)) continue;
    const problem = brokenCutRule(document, cut);
    if (problem) return problem;
  }
  for (const zone of Object.values(document.zones)) {
    if (!zone.loop || (!isOther('zones', zone.id) && !isOther('cuts', zone.plays.cutId))) continue;
    const problem = brokenZoneRule(document, zone);
    if (problem) return problem;
  }
  for (const pattern of Object.values(document.patterns)) {
    const zonesChanged = !before || before.parts[pattern.partId]?.zoneOrder !== parts[pattern.partId]?.zoneOrder;
    const old = zonesChanged ? null : (before!.patterns[pattern.id] ?? null);
    if (old === pattern) continue;
    const problem = brokenPatternRule(document, pattern, old);
    if (problem) return problem;
  }
  if (!before || before.sections !== document.sections || before.sectionOrder !== document.sectionOrder) {
    const problem = brokenOrderRule(document);
    if (problem) return problem;
  }
  const areTreatmentsOther = Object.values(parts).some(
    ({ id, treatments }) => before?.parts[id]?.treatments !== treatments,
  );
  const arePatternsOther =
    !before || before.patterns !== document.patterns || before.cuts !== document.cuts || areTreatmentsOther;
  for (const section of Object.values(document.sections)) {
    if (!arePatternsOther && !isOther('sections', section.id)) continue;
    const problem = brokenSectionRule(document, section);
    if (problem) return problem;
  }
  return brokenModulationRule(document) ?? brokenMappingRule(document);
}
