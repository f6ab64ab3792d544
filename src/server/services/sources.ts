/** Audio, in chunks, named by the hash of its samples. */
import { createHash } from 'node:crypto';
import { and, desc, eq, isNull } from 'drizzle-orm';
import { frameCount } from '#core/dsp/audio.ts';
import { readWav } from '#core/formats/wav-read.ts';
import { AppError } from '#core/units/errors.ts';
import type { Db } from '../db/open.ts';
import { sourceChunks, sources } from '../db/schema.ts';
import { sourceFacts, type SourceFacts } from './source-facts.ts';

export const CHUNK_BYTES = 1 << 20;

export interface SourceSummary {
  id: string;
  name: string;
  sampleRate: number;
  channels: number;
  frames: number;
  byteLength: number;
  createdAt: number;
  facts: SourceFacts;
}

export class SourceService {
  private readonly db: Db;
  private readonly now: () => number;

  constructor(db: Db, now: () => number = Date.now) {
    this.db = db;
    this.now = now;
  }

  list(): SourceSummary[] {
    const rows = this.db.select().from(sources).where(isNull(sources.deletedAt)).orderBy(desc(sources.createdAt)).all();
    return rows.map(({ deletedAt: _deletedAt, facts, ...row }) => ({
      ...row,
      facts: sourceFacts.parse(JSON.parse(facts)),
    }));
  }

  /** Is the audio of this source here? Deleted sources count: projects may still play them. */
  has(id: string): boolean {
    return this.db.select({ id: sources.id }).from(sources).where(eq(sources.id, id)).get() !== undefined;
  }

  /**
   * Stores a WAV file under the hash of its bytes; all or nothing. A source that is here already is put back on the
   * shelf under the new name.
   * @throws AppError `format.broken` when the bytes are not what the id says, or no readable WAV
   */
  add(id: string, name: string, facts: SourceFacts, bytes: Buffer): void {
    const hash = createHash('sha256').update(bytes).digest('hex');
    if (hash !== id) throw new AppError('format.broken', 'the audio was damaged on its way: send it again', { id });
    const { audio } = readWav(bytes);
    this.db.transaction((tx) => {
      const row = { name, facts: JSON.stringify(facts), deletedAt: null };
      if (this.has(id)) {
        tx.update(sources).set(row).where(eq(sources.id, id)).run();
        return;
      }
      tx.insert(sources)
        .values({
          id,
          ...row,
          sampleRate: audio.sampleRate,
          channels: audio.channels.length,
          frames: frameCount(audio),
          byteLength: bytes.length,
          createdAt: this.now(),
        })
        .run();
      for (let chunk = 0; chunk * CHUNK_BYTES < bytes.length; chunk++) {
        const part = bytes.subarray(chunk * CHUNK_BYTES, (chunk + 1) * CHUNK_BYTES);
        tx.insert(sourceChunks).values({ sourceId: id, chunk, bytes: part }).run();
      }
    });
  }

  /** Length in bytes of the stored file. @throws AppError `audio.missing` */
  byteLength(id: string): number {
    const row = this.db.select({ byteLength: sources.byteLength }).from(sources).where(eq(sources.id, id)).get();
    if (!row) throw new AppError('audio.missing', 'the audio of this source is not here', { id });
    return row.byteLength;
  }

  /** The bytes from `first` to `last`, both included, chunk by chunk. */
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

  rename(id: string, name: string): void {
    this.changeListed(id, { name });
  }

  /** Takes a source off the shelf; its audio stays for the projects that play it, and it can be restored. */
  remove(id: string): void {
    this.changeListed(id, { deletedAt: this.now() });
  }

  restore(id: string): void {
    this.changeListed(id, { deletedAt: null });
  }

  private changeListed(id: string, change: Partial<typeof sources.$inferInsert>): void {
    const result = this.db.update(sources).set(change).where(eq(sources.id, id)).run();
    if (result.changes === 0) throw new AppError('not-found', 'this source is not here', { id });
  }
}
