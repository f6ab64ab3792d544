/**
 * Projects and their revisions. What a save costs follows what it changes: it is applied to the document in memory, checked
 * where it differs, and stored as a diff beside the whole document that was written last; that is written anew when the diffs have grown to
 * its size.
 */
import { randomUUID } from 'node:crypto';
import { and, asc, desc, eq, gt, isNull, lte, sql } from 'drizzle-orm';
import type { LoadedProject, ProjectSummary, SaveRequest } from '#core/api/projects.ts';
import { emptyDocument } from '#core/project/defaults.ts';
import { applyCheckedDiff, applyDiff, type Diff } from '#core/project/diff.ts';
import { SCHEMA_VERSION, type ProjectDocument } from '#core/project/schema.ts';
import { openDocument, problemOfChange, versionOf } from '#core/project/validate.ts';
import { songValues } from '#core/queries/values.ts';
import { AppError } from '#core/units/errors.ts';
import type { Db } from '../db/open.ts';
import { documents, projects, projectSources, revisions, snapshots } from '../db/schema.ts';

/** Documents kept in memory. */
const MAX_CACHED = 8;
/** The whole is written when the diffs since are longer than it, and longer than this, or more than this many. */
const MIN_DIFF_BYTES = 262_144;
const MAX_DIFFS = 2000;

interface Cached extends LoadedProject {
  /** Schema version of the whole document that is stored. */
  writtenVersion: number;
  /** Length of that and of the diffs since, as JSON, and how many those are. */
  wholeBytes: number;
  diffBytes: number;
  diffCount: number;
}

const summaryColumns = {
  id: projects.id,
  name: projects.name,
  revision: projects.revision,
  createdAt: projects.createdAt,
  updatedAt: projects.updatedAt,
  tempoBpm: projects.tempoBpm,
  partCount: projects.partCount,
};

export class ProjectService {
  private readonly cache = new Map<string, Cached>();

  constructor(
    private readonly db: Db,
    private readonly now: () => number = Date.now,
  ) {}

  list(): ProjectSummary[] {
    return this.db
      .select(summaryColumns)
      .from(projects)
      .where(isNull(projects.deletedAt))
      .orderBy(desc(projects.updatedAt))
      .all();
  }

  /** @throws AppError `not-found` */
  summary(id: string): ProjectSummary {
    const live = and(eq(projects.id, id), isNull(projects.deletedAt));
    const row = this.db.select(summaryColumns).from(projects).where(live).get();
    if (!row) throw gone(id);
    return row;
  }

  create(name: string): ProjectSummary {
    return this.insert(emptyDocument(randomUUID(), name));
  }

  /** Stores a whole document as a new project under its own id. @throws AppError `document.invalid` */
  insert(document: ProjectDocument): ProjectSummary {
    const valid = openDocument(document);
    const time = this.now();
    const { id, name } = valid;
    const row = { id, name, revision: 1, createdAt: time, updatedAt: time, ...summaryOf(valid) };
    this.db.transaction((tx) => {
      tx.insert(projects).values(row).run();
      tx.insert(documents)
        .values({ projectId: id, revision: 1, schemaVersion: SCHEMA_VERSION, document: JSON.stringify(valid) })
        .run();
      this.noteSources(id, Object.keys(valid.sources));
    });
    return row;
  }

  /** @throws AppError `not-found` */
  load(id: string): LoadedProject {
    const { document, revision } = this.cached(id);
    return { document, revision };
  }

  private cached(id: string): Cached {
    const known = this.cache.get(id);
    // The one used last stands last, so that the first is the one to go.
    this.cache.delete(id);
    const loaded = known ?? this.read(id);
    this.cache.set(id, loaded);
    if (this.cache.size > MAX_CACHED) this.cache.delete(this.cache.keys().next().value!);
    return loaded;
  }

  private read(id: string): Cached {
    const row = this.db
      .select({
        revision: projects.revision,
        document: documents.document,
        wholeRevision: documents.revision,
        schemaVersion: documents.schemaVersion,
      })
      .from(projects)
      .innerJoin(documents, eq(documents.projectId, projects.id))
      .where(and(eq(projects.id, id), isNull(projects.deletedAt)))
      .get();
    if (!row) throw gone(id);
    const later = this.db
      .select({ changes: revisions.changes })
      .from(revisions)
      .where(and(eq(revisions.projectId, id), gt(revisions.revision, row.wholeRevision)))
      .orderBy(asc(revisions.revision))
      .all();
    const json = later.reduce(
      (document, { changes }) => applyDiff(document, JSON.parse(changes) as Diff),
      JSON.parse(row.document) as unknown,
    );
    return {
      document: openDocument(json),
      revision: row.revision,
      writtenVersion: row.schemaVersion,
      wholeBytes: row.document.length,
      diffBytes: later.reduce((sum, { changes }) => sum + changes.length, 0),
      diffCount: later.length,
    };
  }

  duplicate(id: string): ProjectSummary {
    const { document } = this.load(id);
    return this.insert({ ...document, id: randomUUID(), name: `${document.name} (copy)`.slice(0, 200) });
  }

  remove(id: string): void {
    const live = and(eq(projects.id, id), isNull(projects.deletedAt));
    if (this.db.update(projects).set({ deletedAt: this.now() }).where(live).run().changes === 0) throw gone(id);
    this.cache.delete(id);
  }

  restore(id: string): void {
    const { changes } = this.db.update(projects).set({ deletedAt: null }).where(eq(projects.id, id)).run();
    if (changes === 0) throw new AppError('not-found', 'this project is not here any more', { id });
  }

  /** Forgets what is in memory: the tables were changed by others. */
  forget(): void {
    this.cache.clear();
  }

  /**
   * Applies a diff to the revision it was made from, in one transaction. A save that was acknowledged before gives the
   * same answer again.
   * @throws AppError `save.conflict` when somebody else saved in between, `document.invalid` when what is changed is not
   * what is there or the result is no valid document; nothing is changed then
   */
  save(id: string, { saveId, baseRevision, label, changes }: SaveRequest): { revision: number } {
    const known = this.db.select().from(revisions).where(eq(revisions.saveId, saveId)).get();
    if (known) {
      if (known.projectId !== id) throw new AppError('document.invalid', 'this save belongs to another project');
      return { revision: known.revision };
    }
    const before = this.cached(id);
    if (before.revision !== baseRevision) {
      const { revision } = before;
      throw new AppError('save.conflict', 'the project was changed elsewhere', { revision, baseRevision });
    }
    const document = changed(before.document, changes);
    const json = JSON.stringify(changes);
    const after: Cached = {
      ...before,
      writtenVersion: SCHEMA_VERSION,
      document,
      revision: before.revision + 1,
      diffBytes: before.diffBytes + json.length,
      diffCount: before.diffCount + 1,
    };
    const isLong = after.diffBytes > Math.max(MIN_DIFF_BYTES, after.wholeBytes) || after.diffCount > MAX_DIFFS;
    this.db.transaction((tx) => {
      this.crossBoundary(id, before);
      const time = this.now();
      const { revision } = after;
      tx.update(projects)
        .set({ name: document.name, revision, updatedAt: time, ...summaryOf(document) })
        .where(eq(projects.id, id))
        .run();
      tx.insert(revisions)
        .values({
          projectId: id,
          revision,
          saveId,
          label,
          changes: json,
          schemaVersion: SCHEMA_VERSION,
          createdAt: time,
        })
        .run();
      const more = Object.keys(document.sources).filter((sourceId) => !before.document.sources[sourceId]);
      this.noteSources(id, more);
      if (isLong) this.writeWhole(id, after);
    });
    this.cache.set(id, after);
    return { revision: after.revision };
  }

  private writeWhole(id: string, state: Cached): void {
    const document = JSON.stringify(state.document);
    this.db
      .update(documents)
      .set({ document, revision: state.revision, schemaVersion: SCHEMA_VERSION })
      .where(eq(documents.projectId, id))
      .run();
    Object.assign(state, {
      writtenVersion: SCHEMA_VERSION,
      wholeBytes: document.length,
      diffBytes: 0,
      diffCount: 0,
    });
  }

  /** Before the first save of this schema version what an older one wrote is kept as it is, and read from there. */
  private crossBoundary(id: string, before: Cached): void {
    if (before.writtenVersion === SCHEMA_VERSION) return;
    const { revision } = before;
    const label = `as version ${before.writtenVersion} of this program wrote it`;
    this.db
      .insert(snapshots)
      .values({
        projectId: id,
        kind: 'boundary',
        revision,
        label,
        document: JSON.stringify(this.asWritten(id, before)),
        createdAt: this.now(),
      })
      .run();
    this.writeWhole(id, { ...before });
  }

  /** The document in the version that it is stored in: saves before are between documents of that version. */
  private asWritten(id: string, { document, writtenVersion }: Cached): unknown {
    if (writtenVersion === SCHEMA_VERSION) return document;
    const stored = this.db
      .select({ document: documents.document })
      .from(documents)
      .where(eq(documents.projectId, id))
      .get()!;
    return JSON.parse(stored.document);
  }

  private noteSources(projectId: string, sourceIds: readonly string[]): void {
    for (const sourceId of sourceIds) {
      this.db.insert(projectSources).values({ projectId, sourceId }).onConflictDoNothing().run();
    }
  }

  /**
   * The document as it was at an earlier revision: the next whole one that is stored, with every save after it taken back.
   * @throws AppError `not-found`
   */
  loadRevision(id: string, revision: number): ProjectDocument {
    const current = this.cached(id);
    if (!(revision >= 1 && revision <= current.revision)) {
      throw new AppError('not-found', `the project has revisions 1 to ${current.revision}`, { revision });
    }
    const boundary = this.db
      .select()
      .from(snapshots)
      .where(
        and(eq(snapshots.projectId, id), eq(snapshots.kind, 'boundary'), sql`${snapshots.revision} >= ${revision}`),
      )
      .orderBy(asc(snapshots.revision))
      .get();
    const from = boundary ? (JSON.parse(boundary.document) as unknown) : this.asWritten(id, current);
    const later = this.db
      .select({ changes: revisions.changes })
      .from(revisions)
      .where(
        and(
          eq(revisions.projectId, id),
          gt(revisions.revision, revision),
          lte(revisions.revision, boundary?.revision ?? current.revision),
        ),
      )
      .orderBy(desc(revisions.revision))
      .all();
    const document = later.reduce((newer, { changes }) => takenBack(newer, JSON.parse(changes) as Diff), from);
    // Between versions 1 and 2 fields were only added: going back may have taken some of them away again.
    return openDocument(versionOf(from) < 3 ? { ...(document as object), schemaVersion: 1 } : document);
  }
}

function summaryOf(document: ProjectDocument): { tempoBpm: number; partCount: number } {
  return { tempoBpm: songValues(document).tempoBpm, partCount: document.partOrder.length };
}

function gone(id: string): AppError {
  return new AppError('not-found', 'this project is not here', { id });
}

/** Inverted as it is applied; the last change of a save is taken back first. */
function takenBack(document: unknown, changes: Diff): unknown {
  const inverse = changes.toReversed().map(({ path, before, after }) => ({ path, before: after, after: before }));
  return applyDiff(document, inverse);
}

/** @throws AppError `document.invalid` */
export function changed(before: ProjectDocument, changes: Diff): ProjectDocument {
  let document: ProjectDocument;
  try {
    document = applyCheckedDiff(before, changes);
  } catch (error) {
    throw new AppError('document.invalid', error instanceof Error ? error.message : String(error));
  }
  const problem = document.id === before.id ? problemOfChange(before, document) : 'a project keeps its id';
  if (problem) throw new AppError('document.invalid', problem);
  return document;
}
