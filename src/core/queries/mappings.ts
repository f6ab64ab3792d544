/** What controllers move, and in which words. */
import { MAPPED_ACTIONS } from '../params/mapping-rows.ts';
import type { Row } from '../params/row.ts';
import { findDouble, OWNER_TABLES, rowsOfMapped } from '../document/owners.ts';
import type { Mapping, MappingSource, MappingTarget, ProjectDocument } from '../document/schema.ts';
import { nameOfOwner } from './targets.ts';

type Setting = Extract<MappingTarget, { kind: 'setting' }>;

export function isSameMoved(a: MappingSource, b: MappingSource): boolean {
  if (a.kind === 'keys') return b.kind === 'keys' && a.low === b.low && a.high === b.high;
  const numberOf = (one: MappingSource) => ('number' in one ? one.number : -1);
  return a.kind === b.kind && numberOf(a) === numberOf(b);
}

export function isSameMapped(a: MappingTarget, b: MappingTarget): boolean {
  if (a.kind === 'action') return b.kind === 'action' && a.does === b.does && a.id === b.id;
  if (a.kind === 'part') return b.kind === 'part' && a.id === b.id;
  return b.kind === 'setting' && a.owner === b.owner && a.id === b.id && a.paramId === b.paramId;
}

/** The row of a mapped setting; null for what is gone. */
export function mappedRow(document: ProjectDocument, target: Setting): Row | null {
  return rowsOfMapped(document, target)?.[target.paramId] ?? null;
}

/** The value at which a mapped setting stands; of all sounds of a part that of the first. */
export function mappedValue(document: ProjectDocument, target: Setting): number | string | boolean | null {
  const row = mappedRow(document, target);
  if (!row) return null;
  const values = valuesOf(document, target);
  return values?.[target.paramId] ?? row.default;
}

function valuesOf(
  document: ProjectDocument,
  { owner, id }: Setting,
): Record<string, number | string | boolean | undefined> | undefined {
  if (owner === 'song') return document.song.values;
  if (owner === 'double') return findDouble(document, id!)?.double.values;
  if (owner === 'sounds') return document.zones[document.parts[id!]?.zoneOrder[0] ?? '']?.values;
  const table = document[OWNER_TABLES[owner]] as Record<string, { values: Record<string, number | string | boolean> }>;
  return table[id!]?.values;
}

/** What a controller moves or does, in words: `decay of sound 3`, `deal`. */
export function mappedWords(document: ProjectDocument, target: MappingTarget): string {
  if (target.kind === 'action') {
    const words = MAPPED_ACTIONS.find(({ value }) => value === target.does)?.words ?? target.does;
    return target.id === null ? words : `${words}: ${document.parts[target.id]?.name ?? ''}`;
  }
  if (target.kind === 'part') return `the keys of ${document.parts[target.id]?.name ?? ''}`;
  const row = mappedRow(document, target);
  if (!row) return 'what is gone';
  const name = target.owner === 'song' ? 'the song' : nameOfOwner(document, target.owner, target.id!);
  // A dial has one setting, and is called by its own name.
  const isDial = target.owner === 'modulator' && document.modulators[target.id!]?.kind === 'macro';
  return isDial ? name : `${row.label}: ${name}`;
}

/** What moves a setting of an owner, of all those that controllers move. */
export function mappingsOn(
  { mappings, zones }: ProjectDocument,
  owner: { kind: string; id?: string },
  paramId: string,
): Mapping[] {
  return Object.values(mappings).filter(({ target }) => {
    if (target.kind !== 'setting' || target.paramId !== paramId) return false;
    if (owner.kind === 'song') return target.owner === 'song';
    if (target.owner === 'sounds') return owner.kind === 'zone' && zones[owner.id!]?.partId === target.id;
    return target.owner === owner.kind && target.id === owner.id;
  });
}

/** The owners of a mapped setting: all sounds of a part are many. */
export function mappedOwners(
  document: ProjectDocument,
  { owner, id }: Setting,
): { kind: Setting['owner']; id: string }[] {
  if (owner !== 'sounds') return [{ kind: owner, id: id ?? '' }];
  return (document.parts[id!]?.zoneOrder ?? []).map((zoneId) => ({ kind: 'zone', id: zoneId }));
}

/** Where a controller is on its device, in words. */
export function movedWords(source: MappingSource): string {
  if (source.kind === 'bend') return 'pitch wheel';
  if (source.kind === 'pressure') return 'pressure';
  if (source.kind === 'keys') return `keys ${source.low} to ${source.high}`;
  return source.kind === 'key' ? `key ${source.number}` : `controller ${source.number}`;
}
