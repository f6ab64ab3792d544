/** The shelf's kits. */
import { randomUUID } from 'node:crypto';
import { and, asc, eq, isNull } from 'drizzle-orm';
import type { KitSummary } from '#core/api/kits.ts';
import { openKit, type Kit } from '#core/project/kit.ts';
import { AppError } from '#core/units/errors.ts';
import type { Db } from '../db/open.ts';
import { kits, kitSources, sources } from '../db/schema.ts';

export class KitService {
  private readonly db: Db;
  private readonly now: () => number;

  constructor(db: Db, now: () => number = Date.now) {
    this.db = db;
    this.now = now;
  }

  /** All of them, the oldest first. */
  list(): KitSummary[] {
    const { id, name, soundCount, createdAt } = kits;
    return this.db
      .select({ id, name, soundCount, createdAt })
      .from(kits)
      .where(isNull(kits.deletedAt))
      .orderBy(asc(kits.createdAt))
      .all();
  }

  /** Under the name that it has on the shelf. @throws AppError `not-found`, or what opening it throws */
  load(id: string): Kit {
    const row = this.db.select().from(kits).where(eq(kits.id, id)).get();
    if (!row) throw notOnShelf(id);
    return { ...openKit(JSON.parse(row.kit)), name: row.name };
  }

  /**
   * Keeps a kit.
   * @param kit checked already
   * @throws AppError `audio.missing` for sounds that are not on the server
   */
  add(kit: Kit): KitSummary {
    const id = randomUUID();
    const createdAt = this.now();
    const soundCount = kit.zones.filter(({ laid, keys }) => laid === 'itself' || keys !== null).length;
    const sourceIds = Object.keys(kit.sources);
    this.db.transaction((tx) => {
      for (const sourceId of sourceIds) {
        if (!tx.select({ id: sources.id }).from(sources).where(eq(sources.id, sourceId)).get()) {
          throw new AppError('audio.missing', 'a sound of this kit is not on the server', { id: sourceId });
        }
      }
      const { name, schemaVersion } = kit;
      tx.insert(kits)
        .values({ id, name, schemaVersion, kit: JSON.stringify(kit), soundCount, createdAt })
        .run();
      for (const sourceId of sourceIds) tx.insert(kitSources).values({ kitId: id, sourceId }).run();
    });
    return { id, name: kit.name, soundCount, createdAt };
  }

  /** @throws AppError `not-found` */
  rename(id: string, name: string): void {
    const { changes } = this.db.update(kits).set({ name }).where(onShelf(id)).run();
    if (changes === 0) throw notOnShelf(id);
  }

  /** Takes a kit off the shelf; it can be put back. @throws AppError `not-found` */
  remove(id: string): void {
    const { changes } = this.db.update(kits).set({ deletedAt: this.now() }).where(onShelf(id)).run();
    if (changes === 0) throw notOnShelf(id);
  }

  /** @throws AppError `not-found` */
  restore(id: string): void {
    const { changes } = this.db.update(kits).set({ deletedAt: null }).where(eq(kits.id, id)).run();
    if (changes === 0) throw notOnShelf(id);
  }
}

const onShelf = (id: string) => and(eq(kits.id, id), isNull(kits.deletedAt));

function notOnShelf(id: string): AppError {
  return new AppError('not-found', 'this kit is not on the shelf', { id });
}
