/**
 * Projects and their revisions. What a save costs follows what it changes: it is applied to the document in memory, checked
 * where it differs, and stored as a diff beside the whole document that was written last; that is written anew when the diffs have grown to
 * its size.
 */
import { randomUUID } from 'node:crypto';
import { and, asc, desc, eq, gt, isNull, lte, sql } from 'drizzle-orm';
import type { LoadedProject, ProjectSummary, SaveRequest } from '#core/api/projects.ts';
import { emptyDocument } from '#core/document/defaults.ts';
import { applyCheckedDiff, applyDiff, diff, type Diff } from '#core/document/diff.ts';
import { SCHEMA_VERSION } from '#core/document/limits.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { openDocument, problemOfChange, versionOf } from '#core/document/validate.ts';
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
    const live = this.db
      .select({ revision: projects.revision })
      .from(projects)
      .where(and(eq(projects.id, id), isNull(projects.deletedAt)))
      .get();
    if (!live) throw gone(id);
    const { json, later, ...stored } = this.stored(id);
    const document = openDocument(json);
    return {
      document,
      revision: live.revision,
      ...stored,
      diffBytes: later.reduce((sum, changes) => sum + changes.length, 0),
      diffCount: later.length,
    };
  }

  /** The document as it is stored, in the version that it was written in: the last whole one, and every save since. */
  private stored(id: string): { json: unknown; writtenVersion: number; wholeBytes: number; later: string[] } {
    const whole = this.db.select().from(documents).where(eq(documents.projectId, id)).get();
    if (!whole) throw gone(id);
    const later = this.changesBetween(id, whole.revision, Infinity);
    const json = later.reduce(
      (document, changes) => applyDiff(document, JSON.parse(changes) as Diff),
      JSON.parse(whole.document) as unknown,
    );
    return { json, writtenVersion: whole.schemaVersion, wholeBytes: whole.document.length, later };
  }

  /** The changes of the saves after one revision, up to another one, as JSON, in order. */
  private changesBetween(id: string, after: number, upTo: number): string[] {
    return this.db
      .select({ changes: revisions.changes })
      .from(revisions)
      .where(
        and(
          eq(revisions.projectId, id),
          gt(revisions.revision, after),
          lte(revisions.revision, Math.min(upTo, Number.MAX_SAFE_INTEGER)),
        ),
      )
      .orderBy(asc(revisions.revision))
      .all()
      .map(({ changes }) => changes);
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
  save(id: string, request: SaveRequest): { revision: number } {
    const { saveId, baseRevision, label } = request;
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
    const document = this.made(id, before.document, request);
    const changes =
      (request.schemaVersion ?? SCHEMA_VERSION) === SCHEMA_VERSION ? request.changes : diff(before.document, document);
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

  /** What a change makes of a revision; one of an older version is made there, and brought up to date. */
  made(id: string, base: ProjectDocument, request: Omit<SaveRequest, 'saveId'>): ProjectDocument {
    const { schemaVersion = SCHEMA_VERSION, baseRevision, changes } = request;
    if (schemaVersion === SCHEMA_VERSION) return changed(base, changes);
    const written = this.writtenAt(id, baseRevision);
    if (versionOf(written) !== schemaVersion) {
      throw new AppError('document.invalid', `this change belongs to version ${schemaVersion} of the project`);
    }
    const document = openDocument(checked(() => applyCheckedDiff(written, changes)));
    if (document.id !== base.id) throw new AppError('document.invalid', 'a project keeps its id');
    return document;
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
        document: JSON.stringify(this.stored(id).json),
        createdAt: this.now(),
      })
      .run();
    this.writeWhole(id, { ...before });
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
    return openDocument(this.writtenAt(id, revision));
  }

  /** A revision as it was written, in the version of its time. */
  private writtenAt(id: string, revision: number): unknown {
    const boundary = this.db
      .select()
      .from(snapshots)
      .where(
        and(eq(snapshots.projectId, id), eq(snapshots.kind, 'boundary'), sql`${snapshots.revision} >= ${revision}`),
      )
      .orderBy(asc(snapshots.revision))
      .get();
    const from = boundary ? this.boundaryDocument(id, boundary) : this.stored(id).json;
    const later = this.changesBetween(id, revision, boundary?.revision ?? Infinity).toReversed();
    const document = later.reduce((newer, changes) => takenBack(newer, JSON.parse(changes) as Diff), from);
    // Between versions 1 and 2 fields were only added: going back may have taken some of them away again.
    return versionOf(from) < 3 ? { ...(document as object), schemaVersion: 1 } : document;
  }

  /**
   * The last document of an older version. Version 4 of this program stored it as it had been written whole last, without
   * the saves since: then it is the one that the next saves, and the last one before it, fit.
   */
  private boundaryDocument(id: string, { document, revision }: { document: string; revision: number }): unknown {
    const json = JSON.parse(document) as unknown;
    if (versionOf(json) < 3) return json;
    const saves = this.db
      .select({ revision: revisions.revision, changes: revisions.changes })
      .from(revisions)
      .where(
        and(
          eq(revisions.projectId, id),
          lte(revisions.revision, revision),
          eq(revisions.schemaVersion, versionOf(json)),
        ),
      )
      .orderBy(asc(revisions.revision))
      .all()
      .map((row) => ({ ...row, changes: JSON.parse(row.changes) as Diff }));
    for (let made = saves.length; made >= 0; made--) {
      const caughtUp = fitted(
        json,
        saves.slice(0, made).map(({ changes }) => changes),
        saves.slice(made).map(({ changes }) => changes),
      );
      if (caughtUp !== null) return caughtUp;
    }
    return json;
  }
}

/** What later saves make of a document that earlier ones have led to; null where they do not fit it. */
function fitted(json: unknown, earlier: readonly Diff[], later: readonly Diff[]): unknown {
  try {
    earlier.reduceRight((document, changes) => applyCheckedDiff(document, inverted(changes)), json);
    return later.reduce((document, changes) => applyCheckedDiff(document, changes), json);
  } catch {
    return null;
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
  return applyDiff(document, inverted(changes));
}

function inverted(changes: Diff): Diff {
  return changes.toReversed().map(({ path, before, after }) => ({ path, before: after, after: before }));
}

/** @throws AppError `document.invalid` */
export function changed(before: ProjectDocument, changes: Diff): ProjectDocument {
  const document = checked(() => applyCheckedDiff(before, changes));
  const problem = document.id === before.id ? problemOfChange(before, document) : 'a project keeps its id';
  if (problem) throw new AppError('document.invalid', problem);
  return document;
}

function checked<T>(apply: () => T): T {
  try {
    return apply();
  } catch (error) {
    throw new AppError('document.invalid', error instanceof Error ? error.message : String(error));
  }
}
