/** What the settings are set to that routes lead to. */
import { findDouble, OWNER_TABLES, rowsOfTarget } from '../document/owners.ts';
import type { ProjectDocument, RouteTarget } from '../document/schema.ts';

/** The number that a setting is set to; its default where it is that of many sounds; null for what is gone. */
export function numberOf(document: ProjectDocument, target: RouteTarget, paramId: string): number | null {
  const row = rowsOfTarget(document, target)?.[paramId];
  if (row?.kind !== 'number') return null;
  if (isOfSounds(target)) return row.default;
  if (target.kind === 'double') {
    const { values } = findDouble(document, target.id!)!.double;
    return (values[paramId as keyof typeof values] as number | undefined) ?? row.default;
  }
  const table = document[OWNER_TABLES[target.kind as keyof typeof OWNER_TABLES]] as Record<
    string,
    { values: Record<string, unknown> }
  >;
  return (table[target.id!]!.values[paramId] as number | undefined) ?? row.default;
}

/** Is a setting that of many sounds, each with a value of its own? Then it is moved from there, by so much. */
export function isOfSounds({ kind, id }: RouteTarget): boolean {
  return kind === 'sounds' || id === null;
}
