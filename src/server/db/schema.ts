/** Tables. One file holds projects, their revisions and all audio, so a backup is one copy. */
import { blob, index, integer, primaryKey, real, sqliteTable, text } from 'drizzle-orm/sqlite-core';

export const projects = sqliteTable('projects', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  /** Grows by one with every save. */
  revision: integer('revision').notNull(),
  /** What lists show. */
  tempoBpm: real('tempo_bpm').notNull().default(0),
  partCount: integer('part_count').notNull().default(0),
  createdAt: integer('created_at').notNull(),
  updatedAt: integer('updated_at').notNull(),
  /** Set when deleted; restoring clears it. */
  deletedAt: integer('deleted_at'),
});

/**
 * The whole document of each project, as of a revision: later saves lie in `revisions` and are applied when it is read.
 * Apart from `projects`, whose rows every save writes: SQLite writes a row whole.
 */
export const documents = sqliteTable('documents', {
  projectId: text('project_id')
    .primaryKey()
    .references(() => projects.id, { onDelete: 'cascade' }),
  revision: integer('revision').notNull(),
  /** The schema version that it was written in. */
  schemaVersion: integer('schema_version').notNull(),
  /** As JSON. */
  document: text('document').notNull(),
});

/** Every save that was acknowledged: what it changed, and under which id, so that a repeated save is known. */
export const revisions = sqliteTable(
  'revisions',
  {
    projectId: text('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    revision: integer('revision').notNull(),
    saveId: text('save_id').notNull().unique(),
    label: text('label').notNull(),
    /** Diff from the revision before, as JSON, between documents of `schemaVersion`. */
    changes: text('changes').notNull(),
    /** 1 stands for 1 and 2, between which only fields were added. */
    schemaVersion: integer('schema_version').notNull().default(1),
    createdAt: integer('created_at').notNull(),
  },
  (table) => [primaryKey({ columns: [table.projectId, table.revision] })],
);

/**
 * Whole documents beside the line of saves: `kept` ones were not taken in a conflict, `boundary` ones are the last
 * written by an older schema version, from which the revisions before them are read.
 */
export const snapshots = sqliteTable(
  'snapshots',
  {
    id: integer('id').primaryKey({ autoIncrement: true }),
    projectId: text('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    kind: text('kind', { enum: ['kept', 'boundary'] }).notNull(),
    /** The revision that it is, or that it was made from. */
    revision: integer('revision').notNull(),
    label: text('label').notNull(),
    document: text('document').notNull(),
    createdAt: integer('created_at').notNull(),
  },
  (table) => [index('snapshots_project').on(table.projectId)],
);

/** Which sources a project, or one of its earlier revisions, plays: their audio is kept as long as the project. */
export const projectSources = sqliteTable(
  'project_sources',
  {
    projectId: text('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    sourceId: text('source_id').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.projectId, table.sourceId] }),
    index('project_sources_source').on(table.sourceId),
  ],
);

export const sources = sqliteTable(
  'sources',
  {
    /** SHA-256 of the WAV file that `losslessEncoding` gives: the same samples always have the same name. */
    id: text('id').primaryKey(),
    name: text('name').notNull(),
    sampleRate: integer('sample_rate').notNull(),
    channels: integer('channels').notNull(),
    frames: integer('frames').notNull(),
    byteLength: integer('byte_length').notNull(),
    /** What was read from it (tempo, bars, skyline) as JSON. */
    facts: text('facts').notNull(),
    /** Words that it is found by, as a JSON list. */
    tags: text('tags').notNull().default('[]'),
    /** How its slices sound, as JSON; null where nobody has listened yet. */
    prints: text('prints'),
    createdAt: integer('created_at').notNull(),
    deletedAt: integer('deleted_at'),
    /** False while its audio is still arriving: it is not there yet for anybody. */
    complete: integer('complete', { mode: 'boolean' }).notNull().default(true),
  },
  (table) => [index('sources_created').on(table.createdAt)],
);

/** The WAV file of a source in pieces of 1 MiB. */
export const sourceChunks = sqliteTable(
  'source_chunks',
  {
    sourceId: text('source_id')
      .notNull()
      .references(() => sources.id, { onDelete: 'cascade' }),
    chunk: integer('chunk').notNull(),
    bytes: blob('bytes', { mode: 'buffer' }).notNull(),
  },
  (table) => [primaryKey({ columns: [table.sourceId, table.chunk] })],
);

/** Named things of the shelf, of whatever kind: kits, grooves (core/shelf). */
export const shelfRecords = sqliteTable(
  'shelf_records',
  {
    id: text('id').primaryKey(),
    kind: text('kind').notNull(),
    name: text('name').notNull(),
    /** As JSON, in the version of its kind that it was written in. */
    record: text('record').notNull(),
    createdAt: integer('created_at').notNull(),
    deletedAt: integer('deleted_at'),
  },
  (table) => [index('shelf_records_kind').on(table.kind)],
);

/** Which sources they play: their audio is kept as long as they are. */
export const shelfRecordSources = sqliteTable(
  'shelf_record_sources',
  {
    recordId: text('record_id')
      .notNull()
      .references(() => shelfRecords.id, { onDelete: 'cascade' }),
    sourceId: text('source_id').notNull(),
  },
  (table) => [primaryKey({ columns: [table.recordId, table.sourceId] })],
);

/** What the program has to remember of itself. */
export const facts = sqliteTable('facts', {
  key: text('key').primaryKey(),
  value: text('value').notNull(),
});
