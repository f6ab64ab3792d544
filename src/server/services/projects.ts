/** Projects and their revisions. */
import { randomUUID } from 'node:crypto';
import { and, desc, eq, gt, isNull, lte } from 'drizzle-orm';
import { emptyDocument } from '#core/project/defaults.ts';
import { applyDiff, invert, type Diff } from '#core/project/diff.ts';
import type { ProjectDocument } from '#core/project/schema.ts';
import { openDocument } from '#core/project/validate.ts';
import { AppError } from '#core/units/errors.ts';
import type { Db } from '../db/open.ts';
import { projects, revisions } from '../db/schema.ts';

export interface ProjectSummary {
  id: string;
  name: string;
  revision: number;
  createdAt: number;
  updatedAt: number;
  tempoBpm: number;
  partCount: number;
}

export interface SaveRequest {
  saveId: string;
  baseRevision: number;
  label: string;
  changes: Diff;
}

export class ProjectService {
  private readonly db: Db;
  private readonly now: () => number;

  constructor(db: Db, now: () => number = Date.now) {
    this.db = db;
    this.now = now;
  }

  list(): ProjectSummary[] {
    const rows = this.db
      .select()
      .from(projects)
      .where(isNull(projects.deletedAt))
      .orderBy(desc(projects.updatedAt))
      .all();
    return rows.map((row) => {
      const document = JSON.parse(row.document) as ProjectDocument;
      const { id, name, revision, createdAt, updatedAt } = row;
      return {
        id,
        name,
        revision,
        createdAt,
        updatedAt,
        tempoBpm: document.tempoBpm,
        partCount: document.partOrder.length,
      };
    });
  }

  create(name: string): ProjectSummary {
    return this.insert(emptyDocument(randomUUID(), name));
  }

  /** Stores a whole document as a new project under its own id. */
  insert(document: ProjectDocument): ProjectSummary {
    const valid = openDocument(document);
    const time = this.now();
    const row = { id: valid.id, name: valid.name, revision: 1, createdAt: time, updatedAt: time };
    this.db
      .insert(projects)
      .values({ ...row, document: JSON.stringify(valid) })
      .run();
    return { ...row, tempoBpm: valid.tempoBpm, partCount: valid.partOrder.length };
  }

  /** @throws AppError `not-found` */
  load(id: string): { document: ProjectDocument; revision: number } {
    const row = this.find(id);
    return { document: openDocument(JSON.parse(row.document)), revision: row.revision };
  }

  duplicate(id: string): ProjectSummary {
    const { document } = this.load(id);
    return this.insert({ ...document, id: randomUUID(), name: `${document.name} (copy)`.slice(0, 200) });
  }

  remove(id: string): void {
    this.find(id);
    this.db.update(projects).set({ deletedAt: this.now() }).where(eq(projects.id, id)).run();
  }

  restore(id: string): void {
    const row = this.db.select({ id: projects.id }).from(projects).where(eq(projects.id, id)).get();
    if (!row) throw new AppError('not-found', 'this project was never here', { id });
    this.db.update(projects).set({ deletedAt: null }).where(eq(projects.id, id)).run();
  }

  /**
   * Applies a diff to the revision it was made from, in one transaction. A save that was acknowledged before gives the
   * same answer again.
   * @throws AppError `save.conflict` when somebody else saved in between, `document.invalid` when the result is no
   * valid document; nothing is changed then
   */
  save(id: string, request: SaveRequest): { revision: number } {
    return this.db.transaction((tx) => {
      const known = tx.select().from(revisions).where(eq(revisions.saveId, request.saveId)).get();
      if (known) {
        if (known.projectId !== id) throw new AppError('document.invalid', 'this save belongs to another project');
        return { revision: known.revision };
      }
      const row = tx
        .select()
        .from(projects)
        .where(and(eq(projects.id, id), isNull(projects.deletedAt)))
        .get();
      if (!row) throw new AppError('not-found', 'this project is gone', { id });
      if (row.revision !== request.baseRevision) {
        throw new AppError('save.conflict', 'the project was changed elsewhere', {
          revision: row.revision,
          baseRevision: request.baseRevision,
        });
      }
      const document = openDocument(applyChanges(openDocument(JSON.parse(row.document)), request.changes));
      if (document.id !== id) throw new AppError('document.invalid', 'a project keeps its id');
      const revision = row.revision + 1;
      const time = this.now();
      tx.update(projects)
        .set({ document: JSON.stringify(document), name: document.name, revision, updatedAt: time })
        .where(eq(projects.id, id))
        .run();
      tx.insert(revisions)
        .values({
          projectId: id,
          revision,
          saveId: request.saveId,
          label: request.label,
          changes: JSON.stringify(request.changes),
          createdAt: time,
        })
        .run();
      return { revision };
    });
  }

  /** The latest saves, newest first. */
  history(id: string, limit = 200): { revision: number; label: string; createdAt: number }[] {
    this.find(id);
    return this.db
      .select({ revision: revisions.revision, label: revisions.label, createdAt: revisions.createdAt })
      .from(revisions)
      .where(eq(revisions.projectId, id))
      .orderBy(desc(revisions.revision))
      .limit(limit)
      .all();
  }

  /** The document as it was at an earlier revision: today's with every later save taken back. */
  loadRevision(id: string, revision: number): ProjectDocument {
    const current = this.load(id);
    if (revision < 1 || revision > current.revision) {
      throw new AppError('not-found', `the project has revisions 1 to ${current.revision}`, { revision });
    }
    const later = this.db
      .select({ changes: revisions.changes })
      .from(revisions)
      .where(
        and(eq(revisions.projectId, id), gt(revisions.revision, revision), lte(revisions.revision, current.revision)),
      )
      .orderBy(desc(revisions.revision))
      .all();
    const document = later.reduce(
      (newer, { changes }) => applyDiff(newer, invert(JSON.parse(changes) as Diff)),
      current.document,
    );
    // Going back may bring in records of older versions; migrations add what is missing, and only that.
    return openDocument({ ...document, schemaVersion: 1 });
  }

  private find(id: string) {
    const row = this.db
      .select()
      .from(projects)
      .where(and(eq(projects.id, id), isNull(projects.deletedAt)))
      .get();
    if (!row) throw new AppError('not-found', 'this project is not here', { id });
    return row;
  }
}

function applyChanges(document: unknown, changes: Diff): unknown {
  try {
    return applyDiff(document, changes);
  } catch (error) {
    throw new AppError('document.invalid', error instanceof Error ? error.message : String(error));
  }
}
