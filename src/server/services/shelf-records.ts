/** The shelf's named things: kept, listed, renamed, taken off and put back, each checked and read by its kind. */
import { randomUUID } from 'node:crypto';
import { and, asc, eq, isNull } from 'drizzle-orm';
import type { ShelfItem } from '#core/api/shelf.ts';
import { RECORD_KINDS, type FactsOf, type RecordKindName, type RecordOf } from '#core/shelf/kinds.ts';
import { openRecord, type RecordKind } from '#core/shelf/record-kind.ts';
import { AppError } from '#core/units/errors.ts';
import type { Db } from '../db/open.ts';
import { shelfRecords, shelfRecordSources, sources } from '../db/schema.ts';

type AnyKind = RecordKind<{ name: string }, object>;

export class ShelfRecordService {
  constructor(
    private readonly db: Db,
    private readonly now: () => number = Date.now,
  ) {}

  /** All of a kind that can be read, the oldest first. */
  list<Name extends RecordKindName>(kind: Name): ShelfItem<Name>[] {
    return this.db
      .select()
      .from(shelfRecords)
      .where(and(eq(shelfRecords.kind, kind), isNull(shelfRecords.deletedAt)))
      .orderBy(asc(shelfRecords.createdAt))
      .all()
      .flatMap((row) => {
        const record = this.read(row);
        if (!record) return [];
        const facts = (RECORD_KINDS[kind] as AnyKind).factsOf(record) as FactsOf<Name>;
        return [{ id: row.id, name: row.name, createdAt: row.createdAt, facts }];
      });
  }

  /** Null for what a newer version has written: others are listed all the same. */
  private read(row: typeof shelfRecords.$inferSelect): { name: string } | null {
    try {
      return this.opened(row);
    } catch (error) {
      if (error instanceof AppError) return null;
      throw error;
    }
  }

  private opened({ kind, name, record }: typeof shelfRecords.$inferSelect): { name: string } {
    return { ...openRecord(RECORD_KINDS[kind as RecordKindName] as AnyKind, JSON.parse(record)), name };
  }

  /** Under the name that it has on the shelf. @throws AppError `not-found`, or what opening it throws */
  load(id: string): { name: string } {
    const row = this.db.select().from(shelfRecords).where(eq(shelfRecords.id, id)).get();
    if (!row) throw notOnShelf(id);
    return this.opened(row);
  }

  /**
   * Keeps a record.
   * @param json what it is, of any known version
   * @throws AppError `document.invalid`, `document.newer`; `audio.missing` for sounds that are not on the server
   */
  add<Name extends RecordKindName>(kind: Name, json: unknown): ShelfItem<Name> {
    const entry = RECORD_KINDS[kind] as unknown as RecordKind<RecordOf<Name> & { name: string }, FactsOf<Name>>;
    const record = openRecord(entry, json);
    const id = randomUUID();
    const createdAt = this.now();
    const { name } = record;
    this.db.transaction((tx) => {
      tx.insert(shelfRecords)
        .values({ id, kind, name, record: JSON.stringify(record), createdAt })
        .run();
      for (const sourceId of entry.sourceIdsOf(record)) {
        if (!tx.select({ id: sources.id }).from(sources).where(eq(sources.id, sourceId)).get()) {
          throw new AppError('audio.missing', `a sound of this ${entry.what} is not on the server`, { id: sourceId });
        }
        tx.insert(shelfRecordSources).values({ recordId: id, sourceId }).run();
      }
    });
    return { id, name, createdAt, facts: entry.factsOf(record) };
  }

  /** @throws AppError `not-found` */
  rename(id: string, name: string): void {
    this.change(id, { name }, true);
  }

  /** Takes it off the shelf; it can be put back. @throws AppError `not-found` */
  remove(id: string): void {
    this.change(id, { deletedAt: this.now() }, true);
  }

  /** @throws AppError `not-found` */
  restore(id: string): void {
    this.change(id, { deletedAt: null }, false);
  }

  private change(id: string, change: { name?: string; deletedAt?: number | null }, isOnShelf: boolean): void {
    const which = eq(shelfRecords.id, id);
    const where = isOnShelf ? and(which, isNull(shelfRecords.deletedAt)) : which;
    if (this.db.update(shelfRecords).set(change).where(where).run().changes === 0) throw notOnShelf(id);
  }
}

function notOnShelf(id: string): AppError {
  return new AppError('not-found', 'this is not on the shelf', { id });
}
