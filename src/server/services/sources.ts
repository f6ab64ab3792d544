/** Audio, in chunks, named by the hash of its samples. */
import { createHash, randomUUID } from 'node:crypto';
import type { SQLiteUpdateSetSource } from 'drizzle-orm/sqlite-core';
import { and, asc, desc, eq, isNotNull, isNull, sql } from 'drizzle-orm';
import {
  type PrintsOfSource,
  type SoundPrints,
  type SourceChange,
  type SourceFacts,
  type SourceSummary,
  type SourceUse,
} from '#core/api/sources.ts';
import { readWavLayout } from '#core/formats/wav-read.ts';
import { AppError } from '#core/units/errors.ts';
import type { Db } from '../db/open.ts';
import { projects, projectSources, shelfRecordSources, sourceChunks, sources } from '../db/schema.ts';

export const CHUNK_BYTES = 1 << 20;
const HERE = eq(sources.complete, true);

interface Upload {
  id: string;
  /** Of its row until all of it is here: another one than its own where two come beside each other. */
  rowId: string;
  name: string;
  facts: string;
  byteLength: number;
}

export class SourceService {
  private readonly db: Db;
  private readonly now: () => number;
  /** Uploads on their way, by id. */
  private readonly arriving = new Set<string>();

  constructor(db: Db, now: () => number = Date.now) {
    this.db = db;
    this.now = now;
  }

  list(): SourceSummary[] {
    const { id, name, sampleRate, channels, frames, byteLength, createdAt, facts, tags } = sources;
    const hasPrints = sql<number>`${sources.prints} is not null`;
    const used = new Set(
      [
        ...this.db.selectDistinct({ id: projectSources.sourceId }).from(projectSources).all(),
        ...this.db.selectDistinct({ id: shelfRecordSources.sourceId }).from(shelfRecordSources).all(),
      ].map((row) => row.id),
    );
    return this.db
      .select({ id, name, sampleRate, channels, frames, byteLength, createdAt, facts, tags, hasPrints })
      .from(sources)
      .where(and(isNull(sources.deletedAt), HERE))
      .orderBy(desc(sources.createdAt))
      .all()
      .map((row) => ({
        ...row,
        // Checked when they came.
        facts: JSON.parse(row.facts) as SourceFacts,
        tags: JSON.parse(row.tags) as string[],
        isUsed: used.has(row.id),
        hasPrints: row.hasPrints === 1,
      }));
  }

  /** What is called so on the shelf; null where the sound is not on it. */
  shelfName(id: string): string | null {
    const row = this.db
      .select({ name: sources.name })
      .from(sources)
      .where(and(eq(sources.id, id), isNull(sources.deletedAt), HERE))
      .get();
    return row?.name ?? null;
  }

  /** How the slices of all sounds of the shelf sound, as far as anybody has listened. */
  prints(): PrintsOfSource[] {
    return this.db
      .select({ id: sources.id, prints: sources.prints })
      .from(sources)
      .where(and(isNull(sources.deletedAt), HERE, isNotNull(sources.prints)))
      .all()
      .map(({ id, prints }) => ({ id, ...(JSON.parse(prints!) as SoundPrints) }));
  }

  /** Is the audio of this source here? Deleted sources count: projects may still play them. */
  has(id: string): boolean {
    return (
      this.db
        .select({ id: sources.id })
        .from(sources)
        .where(and(eq(sources.id, id), HERE))
        .get() !== undefined
    );
  }

  /** The projects that play a source, or played it in an earlier version; deleted ones left out. */
  uses(id: string): SourceUse[] {
    return this.db
      .select({ projectId: projects.id, name: projects.name })
      .from(projectSources)
      .innerJoin(projects, eq(projects.id, projectSources.projectId))
      .where(and(eq(projectSources.sourceId, id), isNull(projects.deletedAt)))
      .orderBy(asc(projects.name))
      .all();
  }

  /** {@link receive} for a file in memory. */
  add(id: string, name: string, facts: SourceFacts, bytes: Buffer): Promise<void> {
    return this.receive(id, name, facts, bytes.length, [bytes]);
  }

  /**
   * Takes in a WAV file piece by piece, stored as it comes and hashed meanwhile; it is there when all of it is, and
   * leaves nothing behind otherwise. A source that is here already is put back on the shelf under the new name.
   * @param byteLength how long the file is said to be
   * @throws AppError `format.broken` when the bytes are not what the id says, or no readable WAV
   */
  async receive(
    id: string,
    name: string,
    facts: SourceFacts,
    byteLength: number,
    pieces: Iterable<Buffer> | AsyncIterable<Buffer>,
    { tags = [], prints }: { tags?: readonly string[] | undefined; prints?: SoundPrints | undefined } = {},
  ): Promise<void> {
    const isNew = !this.has(id);
    // Two of the same sound come beside each other, each hashed by itself: one that is slow, or false, holds up nobody.
    const rowId = this.arriving.has(id) ? `arriving-${randomUUID()}` : id;
    this.arriving.add(rowId);
    try {
      await this.store({ id, rowId, name, facts: JSON.stringify(facts), byteLength }, pieces);
      // What is here already keeps the tags that it was given.
      if (isNew && tags.length > 0) this.change(id, { tags: [...tags] });
      if (prints) this.change(id, { prints });
    } finally {
      this.arriving.delete(rowId);
    }
  }

  private async store(upload: Upload, pieces: Iterable<Buffer> | AsyncIterable<Buffer>): Promise<void> {
    const { id, rowId, byteLength } = upload;
    const hash = createHash('sha256');
    let waiting: Buffer[] = [];
    let waitingBytes = 0;
    let received = 0;
    let chunk = 0;
    const write = (bytes: Buffer) => {
      // Here already, or by another upload meanwhile: only whether it is what it says is still looked at.
      if (this.has(id)) return;
      if (chunk === 0) this.begin(upload, bytes);
      this.db.insert(sourceChunks).values({ sourceId: rowId, chunk: chunk++, bytes }).run();
    };
    try {
      for await (const piece of pieces) {
        hash.update(piece);
        received += piece.length;
        waiting.push(piece);
        waitingBytes += piece.length;
        if (waitingBytes < CHUNK_BYTES) continue;
        const joined = Buffer.concat(waiting);
        let at = 0;
        for (; joined.length - at >= CHUNK_BYTES; at += CHUNK_BYTES) write(joined.subarray(at, at + CHUNK_BYTES));
        waiting = [joined.subarray(at)];
        waitingBytes = joined.length - at;
      }
      if (waitingBytes > 0) write(Buffer.concat(waiting));
      if (received !== byteLength || hash.digest('hex') !== id) {
        throw new AppError('format.broken', 'the audio was damaged on its way: send it again', { id });
      }
      this.finish(upload);
    } finally {
      const unfinished = and(eq(sources.id, rowId), eq(sources.complete, false));
      this.db.delete(sources).where(unfinished).run();
    }
  }

  /** All of it has come, and is what it says. */
  private finish({ id, rowId, name, facts }: Upload): void {
    this.db.transaction((tx) => {
      if (rowId !== id && !this.has(id)) {
        // The one that came first is not here yet: it goes on, and writes nothing more.
        tx.delete(sources).where(eq(sources.id, id)).run();
        const row = tx.select().from(sources).where(eq(sources.id, rowId)).get()!;
        tx.insert(sources)
          .values({ ...row, id })
          .run();
        tx.update(sourceChunks).set({ sourceId: id }).where(eq(sourceChunks.sourceId, rowId)).run();
      }
      tx.update(sources).set({ name, facts, deletedAt: null, complete: true }).where(eq(sources.id, id)).run();
    });
  }

  private begin({ rowId, name, facts, byteLength }: Upload, head: Buffer): void {
    const layout = readWavLayout(head, byteLength);
    const row = { id: rowId, name, facts, byteLength, createdAt: this.now(), complete: false };
    // What an upload that was broken off by a crash has left is begun anew.
    this.db.delete(sources).where(eq(sources.id, rowId)).run();
    this.db
      .insert(sources)
      .values({ ...row, ...layout })
      .run();
  }

  /** At the start nothing is on its way: what a crash has left of uploads goes. */
  dropUnfinished(): void {
    this.db.delete(sources).where(eq(sources.complete, false)).run();
  }

  /** Length in bytes of the stored file. @throws AppError `audio.missing` */
  byteLength(id: string): number {
    const row = this.db
      .select({ byteLength: sources.byteLength })
      .from(sources)
      .where(and(eq(sources.id, id), HERE))
      .get();
    if (!row) throw new AppError('audio.missing', 'the audio of this source is not here', { id });
    return row.byteLength;
  }

  /**
   * The bytes from `first` to `last`, both included, chunk by chunk.
   * @throws AppError `audio.missing` for a chunk that is not there, when its turn comes
   */
  *read(id: string, first: number, last: number): Generator<Buffer> {
    const from = Math.floor(first / CHUNK_BYTES);
    const to = Math.floor(last / CHUNK_BYTES);
    for (let chunk = from; chunk <= to; chunk++) {
      const row = this.db
        .select({ bytes: sourceChunks.bytes })
        .from(sourceChunks)
        .where(and(eq(sourceChunks.sourceId, id), eq(sourceChunks.chunk, chunk)))
        .get();
      if (!row) throw new AppError('audio.missing', 'a piece of this audio is missing', { id, chunk });
      const start = chunk === from ? first - chunk * CHUNK_BYTES : 0;
      const end = chunk === to ? last - chunk * CHUNK_BYTES + 1 : row.bytes.length;
      yield row.bytes.subarray(start, end);
    }
  }

  /** Another name, other tags, or what was heard of it by now; a tag counts once. */
  change(id: string, { name, tags, prints, heard }: SourceChange): void {
    this.changeListed(id, {
      ...(prints && { prints: JSON.stringify(prints) }),
      ...(heard && { facts: sql`json_set(${sources.facts}, '$.heard', json(${JSON.stringify(heard)}))` }),
      ...(name !== undefined && { name }),
      ...(tags !== undefined && { tags: JSON.stringify([...new Set(tags)]) }),
    });
  }

  /** Takes a source off the shelf; its audio stays for the projects that play it, and it can be restored. */
  remove(id: string): void {
    this.changeListed(id, { deletedAt: this.now() });
  }

  restore(id: string): void {
    this.changeListed(id, { deletedAt: null });
  }

  private changeListed(id: string, change: SQLiteUpdateSetSource<typeof sources>): void {
    const result = this.db
      .update(sources)
      .set(change)
      .where(and(eq(sources.id, id), HERE))
      .run();
    if (result.changes === 0) throw new AppError('not-found', 'this source is not here', { id });
  }
}
