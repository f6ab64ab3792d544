/** What was deleted: it can be brought back for a while, then it is given up and the database shrinks. */
import { and, desc, inArray, isNotNull, lt, notInArray, sql } from 'drizzle-orm';
import type { DeletedItem } from '#core/api/sources.ts';
import type { Db } from '../db/open.ts';
import { grooves, kits, kitSources, projects, projectSources, sources } from '../db/schema.ts';

export const KEPT_DAYS = 30;
const DAY_MS = 86_400_000;

export class DeletedService {
  constructor(
    private readonly db: Db,
    /** Called when rows have gone that others may have in memory. */
    private readonly onPurged: () => void = () => undefined,
    private readonly now: () => number = Date.now,
  ) {}

  list(): { projects: DeletedItem[]; sources: DeletedItem[]; keptDays: number } {
    return { projects: this.deletedOf(projects), sources: this.deletedOf(sources), keptDays: KEPT_DAYS };
  }

  private deletedOf(table: typeof projects | typeof sources): DeletedItem[] {
    return this.db
      .select({ id: table.id, name: table.name, deletedAt: table.deletedAt })
      .from(table)
      .where(isNotNull(table.deletedAt))
      .orderBy(desc(table.deletedAt))
      .all() as DeletedItem[];
  }

  /** Gives up what was deleted more than {@link KEPT_DAYS} days ago. */
  purgeOld(): number {
    return this.purge(this.now() - KEPT_DAYS * DAY_MS);
  }

  /** Gives up all that was deleted. Sounds that a project, or one of its earlier versions, plays are kept with it. */
  empty(): number {
    return this.purge(Infinity);
  }

  private purge(before: number): number {
    const isOld = (
      column: typeof projects.deletedAt | typeof sources.deletedAt | typeof grooves.deletedAt | typeof kits.deletedAt,
    ) => and(isNotNull(column), lt(column, Math.min(before, Number.MAX_SAFE_INTEGER)));
    const count = this.db.transaction((tx) => {
      const gone =
        tx.delete(projects).where(isOld(projects.deletedAt)).run().changes +
        tx.delete(kits).where(isOld(kits.deletedAt)).run().changes;
      const played = tx
        .select({ id: projectSources.sourceId })
        .from(projectSources)
        .union(tx.select({ id: kitSources.sourceId }).from(kitSources));
      const unplayed = and(isOld(sources.deletedAt), notInArray(sources.id, played));
      const ids = tx.select({ id: sources.id }).from(sources).where(unplayed).all();
      const silent = tx
        .delete(sources)
        .where(
          inArray(
            sources.id,
            ids.map(({ id }) => id),
          ),
        )
        .run().changes;
      return gone + silent + tx.delete(grooves).where(isOld(grooves.deletedAt)).run().changes;
    });
    // What an upload has left that was broken off by a crash.
    this.db
      .delete(sources)
      .where(sql`${sources.complete} = 0 AND ${sources.createdAt} < ${this.now() - DAY_MS}`)
      .run();
    if (count > 0) {
      this.shrink();
      this.onPurged();
    }
    return count;
  }

  /** Gives the room back to the disk. A database from before that was possible is rewritten once. */
  private shrink(): void {
    const sqlite = this.db.$client;
    const isIncremental = sqlite.pragma('auto_vacuum', { simple: true }) === 2;
    sqlite.exec(isIncremental ? 'PRAGMA incremental_vacuum' : 'PRAGMA auto_vacuum = INCREMENTAL; VACUUM');
    sqlite.pragma('wal_checkpoint(TRUNCATE)');
  }
}
