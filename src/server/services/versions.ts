/** Earlier states of a project: its saves, and versions that were not taken in a conflict. */
import { randomUUID } from 'node:crypto';
import { and, desc, eq } from 'drizzle-orm';
import type { LoadedProject, ProjectSummary, SaveRequest, Version } from '#core/api/projects.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { openDocument } from '#core/document/validate.ts';
import { AppError } from '#core/units/errors.ts';
import type { Db } from '../db/open.ts';
import { revisions, snapshots } from '../db/schema.ts';
import type { ProjectService } from './projects.ts';

const LISTED = 500;

export class VersionService {
  constructor(
    private readonly db: Db,
    private readonly projects: ProjectService,
    private readonly now: () => number = Date.now,
  ) {}

  /** The newest first. @throws AppError `not-found` */
  list(projectId: string): Version[] {
    const { createdAt: begunAt } = this.projects.summary(projectId);
    const { revision, label, createdAt } = revisions;
    const saves = this.db
      .select({ revision, label, createdAt })
      .from(revisions)
      .where(eq(revisions.projectId, projectId))
      .orderBy(desc(revisions.revision))
      .limit(LISTED)
      .all()
      .map((row): Version => ({ ...row, id: String(row.revision), kind: 'save' }));
    const kept = this.db
      .select({
        id: snapshots.id,
        revision: snapshots.revision,
        label: snapshots.label,
        createdAt: snapshots.createdAt,
      })
      .from(snapshots)
      .where(and(eq(snapshots.projectId, projectId), eq(snapshots.kind, 'kept')))
      .all()
      .map((row): Version => ({ ...row, id: `kept-${row.id}`, kind: 'kept' }));
    const begun: Version = { id: '1', kind: 'save', revision: 1, label: 'as it was begun', createdAt: begunAt };
    // By revision, not by a clock that may have been wrong; what was not taken stands above what it was made from.
    const rank = ({ kind }: Version) => (kind === 'kept' ? 1 : 0);
    return [...saves, ...kept, begun].sort(
      (a, b) => b.revision - a.revision || rank(b) - rank(a) || b.createdAt - a.createdAt,
    );
  }

  /** @param versionId as {@link list} gives it @throws AppError `not-found` */
  load(projectId: string, versionId: string): LoadedProject {
    const kept = /^kept-(\d+)$/.exec(versionId);
    if (!kept) {
      const revision = Number(versionId);
      return { document: this.projects.loadRevision(projectId, revision), revision };
    }
    const row = this.db
      .select()
      .from(snapshots)
      .where(and(eq(snapshots.projectId, projectId), eq(snapshots.id, Number(kept[1]))))
      .get();
    if (!row) throw new AppError('not-found', 'this version is not here', { id: versionId });
    return { document: openDocument(JSON.parse(row.document)), revision: row.revision };
  }

  /** Keeps a version that is not taken: what one window had changed since a revision. */
  keep(projectId: string, request: Omit<SaveRequest, 'saveId'>): Version {
    const { baseRevision, label } = request;
    const base = this.projects.loadRevision(projectId, baseRevision);
    const row = {
      projectId,
      kind: 'kept' as const,
      revision: baseRevision,
      label,
      document: JSON.stringify(this.projects.made(projectId, base, request)),
      createdAt: this.now(),
    };
    // In a transaction, whose commit tells when the disk is full: a statement that gives rows ends without that.
    const { id } = this.db.transaction((tx) => tx.insert(snapshots).values(row).returning({ id: snapshots.id }).get());
    return { id: `kept-${id}`, kind: 'kept', revision: baseRevision, label, createdAt: row.createdAt };
  }

  /** A version as a project of its own. */
  copy(projectId: string, versionId: string): ProjectSummary {
    const { document } = this.load(projectId, versionId);
    const name = `${document.name} (version ${versionId})`.slice(0, 200);
    return this.projects.insert({ ...document, id: randomUUID(), name } satisfies ProjectDocument);
  }
}
