/** The shelf's grooves. */
import { randomUUID } from 'node:crypto';
import { and, asc, eq, isNull } from 'drizzle-orm';
import type { Groove } from '#core/project/schema.ts';
import { AppError } from '#core/units/errors.ts';
import type { Db } from '../db/open.ts';
import { grooves } from '../db/schema.ts';

export interface ShelfGroove {
  id: string;
  groove: Groove;
}

export class GrooveService {
  private readonly db: Db;
  private readonly now: () => number;

  constructor(db: Db, now: () => number = Date.now) {
    this.db = db;
    this.now = now;
  }

  /** All of them, the oldest first. */
  list(): ShelfGroove[] {
    const rows = this.db.select().from(grooves).where(isNull(grooves.deletedAt)).orderBy(asc(grooves.createdAt)).all();
    return rows.map(({ id, groove }) => ({ id, groove: JSON.parse(groove) as Groove }));
  }

  add(groove: Groove): ShelfGroove {
    const id = randomUUID();
    this.db
      .insert(grooves)
      .values({ id, groove: JSON.stringify(groove), createdAt: this.now() })
      .run();
    return { id, groove };
  }

  /** @throws AppError `not-found` */
  rename(id: string, name: string): void {
    const found = this.list().find((one) => one.id === id);
    if (!found) throw notOnShelf(id);
    const groove = JSON.stringify({ ...found.groove, name });
    this.db.update(grooves).set({ groove }).where(eq(grooves.id, id)).run();
  }

  /**
   * Takes a groove off the shelf; it can be put back.
   * @throws AppError `not-found`
   */
  remove(id: string): void {
    const onShelf = and(eq(grooves.id, id), isNull(grooves.deletedAt));
    const { changes } = this.db.update(grooves).set({ deletedAt: this.now() }).where(onShelf).run();
    if (changes === 0) throw notOnShelf(id);
  }

  /** @throws AppError `not-found` */
  restore(id: string): void {
    const { changes } = this.db.update(grooves).set({ deletedAt: null }).where(eq(grooves.id, id)).run();
    if (changes === 0) throw notOnShelf(id);
  }
}

function notOnShelf(id: string): AppError {
  return new AppError('not-found', 'this groove is not on the shelf', { id });
}
