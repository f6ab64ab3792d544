/** What was deleted: it can be brought back for a while, then it is given up and the database shrinks. */
import { and, desc, eq, inArray, isNotNull, lt, notInArray } from 'drizzle-orm';
import type { DeletedItem } from '#core/api/sources.ts';
import type { Db } from '../db/open.ts';
import { facts, projects, projectSources, shelfRecords, shelfRecordSources, sources } from '../db/schema.ts';

export const KEPT_DAYS = 30;
const DAY_MS = 86_400_000;
const LAST_LOOK = 'deleted.last-look';

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

  /**
   * Gives up what was deleted more than {@link KEPT_DAYS} days ago. By the clock of the start before, a day ago or more:
   * a clock that is wrong for once gives up nothing.
   */
  purgeOld(): number {
    const now = this.now();
    const seen = Number(this.db.select().from(facts).where(eq(facts.key, LAST_LOOK)).get()?.value ?? NaN);
    if (seen <= now && seen > now - DAY_MS) return 0;
    const value = String(now);
    this.db
      .insert(facts)
      .values({ key: LAST_LOOK, value })
      .onConflictDoUpdate({ target: facts.key, set: { value } })
      .run();
    return seen <= now ? this.purge(seen - KEPT_DAYS * DAY_MS) : 0;
  }

  /** Gives up all that was deleted. Sounds that a project, or one of its earlier versions, plays are kept with it. */
  empty(): number {
    return this.purge(Infinity);
  }

  private purge(before: number): number {
    const isOld = (column: typeof projects.deletedAt | typeof sources.deletedAt | typeof shelfRecords.deletedAt) =>
      and(isNotNull(column), lt(column, Math.min(before, Number.MAX_SAFE_INTEGER)));
    const count = this.db.transaction((tx) => {
      const gone =
        tx.delete(projects).where(isOld(projects.deletedAt)).run().changes +
        tx.delete(shelfRecords).where(isOld(shelfRecords.deletedAt)).run().changes;
      const played = tx
        .select({ id: projectSources.sourceId })
        .from(projectSources)
        .union(tx.select({ id: shelfRecordSources.sourceId }).from(shelfRecordSources));
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
      return gone + silent;
    });
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
