/** Tables. One file holds projects, their revisions and all audio, so a backup is one copy. */
import { blob, index, integer, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core';

export const projects = sqliteTable('projects', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  /** Grows by one with every save. */
  revision: integer('revision').notNull(),
  /** The document as JSON, as of `revision`. */
  document: text('document').notNull(),
  createdAt: integer('created_at').notNull(),
  updatedAt: integer('updated_at').notNull(),
  /** Set when deleted; restoring clears it. */
  deletedAt: integer('deleted_at'),
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
    /** Diff from the revision before, as JSON. */
    changes: text('changes').notNull(),
    createdAt: integer('created_at').notNull(),
  },
  (table) => [primaryKey({ columns: [table.projectId, table.revision] })],
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
    createdAt: integer('created_at').notNull(),
    deletedAt: integer('deleted_at'),
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

/** Grooves lifted out of loops. */
export const grooves = sqliteTable('grooves', {
  id: text('id').primaryKey(),
  /** As JSON; see the document's schema. */
  groove: text('groove').notNull(),
  createdAt: integer('created_at').notNull(),
  deletedAt: integer('deleted_at'),
});
