/** The shelf's grooves. */
import { randomUUID } from 'node:crypto';
import { asc, eq } from 'drizzle-orm';
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
    const rows = this.db.select().from(grooves).orderBy(asc(grooves.createdAt)).all();
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
  remove(id: string): void {
    const { changes } = this.db.delete(grooves).where(eq(grooves.id, id)).run();
    if (changes === 0) throw new AppError('not-found', 'this groove is not on the shelf', { id });
  }
}
