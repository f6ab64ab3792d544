/**
 * The document: everything of a project that is saved and can be undone. Plain JSON, never mutated; tables are records
 * by id, order is in arrays of ids; settings are `values` that the table of settings (core/params) gives ranges and
 * defaults to. `docs/project-file.md` describes it for other programs.
 */
import * as z from 'zod/mini';
import { valuesSchema } from '../params/values-schema.ts';
import { SONG_ROWS, ZONE_ROWS } from '../params/tables.ts';
import { MAX_FRAMES, MOST_SECTIONS, SCHEMA_VERSION } from './limits.ts';
import { id, listOf, name, whole } from './records/basics.ts';
import { cut, type Cut } from './records/cuts.ts';
import { helper, type Helper } from './records/helpers.ts';
import { mapping, type Mapping } from './records/mappings.ts';
import { channel, effect, send, type Channel, type Effect, type Send } from './records/mix.ts';
import { part, type Part } from './records/parts.ts';
import { pattern, type Pattern } from './records/patterns.ts';
import { section, type Section } from './records/sections.ts';
import { modulator, route, zone, type Modulator, type Route, type Zone } from './records/zones.ts';

export { id } from './records/basics.ts';
export * from './records/cuts.ts';
export * from './records/helpers.ts';
export * from './records/mappings.ts';
export * from './records/mix.ts';
export * from './records/parts.ts';
export * from './records/patterns.ts';
export * from './records/sections.ts';
export * from './records/zones.ts';

export const sourceRef = z.strictObject({
  id,
  name,
  sampleRate: whole(1_000, 768_000),
  channels: whole(1, 2),
  frames: whole(1, MAX_FRAMES),
});
export type SourceRef = z.infer<typeof sourceRef>;

export const song = z.strictObject({
  values: valuesSchema(SONG_ROWS),
  /** What new zones of the project begin with. */
  zoneDefaults: valuesSchema(ZONE_ROWS),
});

/** The tables of records, with the schema of a record each. */
export const TABLES = {
  sources: sourceRef,
  parts: part,
  cuts: cut,
  zones: zone,
  modulators: modulator,
  routes: route,
  channels: channel,
  sends: send,
  effects: effect,
  patterns: pattern,
  helpers: helper,
  mappings: mapping,
  sections: section,
} as const;
export type TableName = keyof typeof TABLES;

/** What stands beside the tables. */
export const HEAD = {
  schemaVersion: z.literal(SCHEMA_VERSION),
  id: z.string().check(z.regex(/^[\w-]{1,64}$/)),
  name: z.string().check(z.minLength(1), z.maxLength(200)),
  song,
  partOrder: listOf(id, 512),
  sectionOrder: listOf(id, MOST_SECTIONS),
} as const;

export interface ProjectDocument {
  schemaVersion: typeof SCHEMA_VERSION;
  id: string;
  name: string;
  song: z.infer<typeof song>;
  partOrder: string[];
  sectionOrder: string[];
  sources: Record<string, SourceRef>;
  parts: Record<string, Part>;
  cuts: Record<string, Cut>;
  zones: Record<string, Zone>;
  modulators: Record<string, Modulator>;
  routes: Record<string, Route>;
  channels: Record<string, Channel>;
  sends: Record<string, Send>;
  effects: Record<string, Effect>;
  patterns: Record<string, Pattern>;
  helpers: Record<string, Helper>;
  mappings: Record<string, Mapping>;
  sections: Record<string, Section>;
}

export const projectDocument = z.strictObject({
  ...HEAD,
  ...(Object.fromEntries(Object.entries(TABLES).map(([table, record]) => [table, z.record(id, record)])) as {
    [Name in TableName]: z.ZodMiniRecord<typeof id, (typeof TABLES)[Name]>;
  }),
});
