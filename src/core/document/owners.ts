/** Who has settings: in which table each stands, and which rows it has. */
import { DOUBLE_ROWS } from '../params/double-rows.ts';
import { EFFECT_ROWS } from '../params/effects.ts';
import { HELPER_ROWS } from '../params/helpers.ts';
import { MAPPING_ROWS } from '../params/mapping-rows.ts';
import { MODULATOR_ROWS, ROUTE_ROWS, type TargetKind } from '../params/modulators.ts';
import type { Rows } from '../params/row.ts';
import { SECTION_ROWS } from '../params/section-rows.ts';
import { CHANNEL_ROWS, CUT_ROWS, PART_ROWS, SEND_ROWS, SONG_ROWS, ZONE_ROWS } from '../params/tables.ts';
import { ownRecord } from './changed-keys.ts';
import type { Double, MappingTarget, Part, ProjectDocument, RouteTarget, TableName } from './schema.ts';

export const OWNER_TABLES = {
  part: 'parts',
  cut: 'cuts',
  zone: 'zones',
  channel: 'channels',
  send: 'sends',
  effect: 'effects',
  modulator: 'modulators',
  route: 'routes',
  helper: 'helpers',
  mapping: 'mappings',
  section: 'sections',
} as const;
export type OwnerKind = keyof typeof OWNER_TABLES;

const ROWS_OF = {
  part: () => PART_ROWS,
  cut: () => CUT_ROWS,
  zone: () => ZONE_ROWS,
  channel: () => CHANNEL_ROWS,
  send: () => SEND_ROWS,
  effect: ({ kind }: { kind: keyof typeof EFFECT_ROWS }) => EFFECT_ROWS[kind],
  modulator: ({ kind }: { kind: keyof typeof MODULATOR_ROWS }) => MODULATOR_ROWS[kind],
  route: () => ROUTE_ROWS,
  helper: ({ kind }: { kind: keyof typeof HELPER_ROWS }) => HELPER_ROWS[kind],
  mapping: () => MAPPING_ROWS,
  section: () => SECTION_ROWS,
} as const satisfies Record<OwnerKind, (record: never) => Rows>;

/** The rows of a record's settings; null when it is gone. */
export function rowsOfRecord(document: ProjectDocument, kind: OwnerKind, id: string): Rows | null {
  const record = ownRecord(document[OWNER_TABLES[kind]] as Record<string, unknown>, id);
  return record ? (ROWS_OF[kind] as (record: unknown) => Rows)(record) : null;
}

/** The table that what a route leads to stands in; null for what stands in a part. */
export function tableOfTarget(kind: TargetKind): TableName | null {
  if (kind === 'double') return null;
  return kind === 'sounds' ? 'parts' : OWNER_TABLES[kind];
}

/** A double, and the part that it is of. */
export function findDouble(
  { parts }: Pick<ProjectDocument, 'parts'>,
  doubleId: string,
): { part: Part; double: Double } | null {
  for (const part of Object.values(parts)) {
    const double = part.doubles?.find(({ id }) => id === doubleId);
    if (double) return { part, double };
  }
  return null;
}

/** The rows of what a route leads to; null when it is gone. */
export function rowsOfTarget(document: ProjectDocument, { kind, id }: RouteTarget): Rows | null {
  if (id === null) return ZONE_ROWS;
  if (kind === 'double') return findDouble(document, id) ? DOUBLE_ROWS : null;
  if (kind === 'sounds') return ownRecord(document.parts, id) ? ZONE_ROWS : null;
  return rowsOfRecord(document, kind, id);
}

/** The rows of what a controller moves; null when it is gone. */
export function rowsOfMapped(document: ProjectDocument, target: MappingTarget): Rows | null {
  if (target.kind !== 'setting') return null;
  const { owner, id } = target;
  if (owner === 'song') return SONG_ROWS;
  if (id === null) return null;
  if (owner === 'double') return findDouble(document, id) ? DOUBLE_ROWS : null;
  if (owner === 'sounds') return ownRecord(document.parts, id) ? ZONE_ROWS : null;
  return rowsOfRecord(document, owner, id);
}

/** {@link rowsOfTarget} of what is known to be there: only of effects, modulators and helpers it has to be looked up which they are. */
export function rowsOfKnownTarget(
  { effects, modulators, helpers }: Pick<ProjectDocument, 'effects' | 'modulators' | 'helpers'>,
  { kind, id }: RouteTarget,
): Rows | null {
  if (id === null || kind === 'sounds') return ZONE_ROWS;
  if (kind === 'double') return DOUBLE_ROWS;
  if (kind === 'effect') return effects[id] ? EFFECT_ROWS[effects[id].kind] : null;
  if (kind === 'modulator') return modulators[id] ? MODULATOR_ROWS[modulators[id].kind] : null;
  if (kind === 'helper') return helpers[id] ? HELPER_ROWS[helpers[id].kind] : null;
  return ROWS_OF[kind]();
}
