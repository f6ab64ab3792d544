/** What was deleted can come back for a while; then its room is given back. */
import { createHash } from 'node:crypto';
import { statSync } from 'node:fs';
import { join } from 'node:path';
import request from 'supertest';
import { describe, expect, it } from 'vitest';
import { writeWav } from '#core/formats/wav-write.ts';
import { emptyDocument } from '#core/document/defaults.ts';
import { DeletedService, KEPT_DAYS } from '../../src/server/services/deleted.ts';
import { ProjectService } from '../../src/server/services/projects.ts';
import { SourceService } from '../../src/server/services/sources.ts';
import { loopProject } from '../support/documents.ts';
import { freshServer, local } from '../support/server.ts';
import { sine } from '../support/signals.ts';

const server = freshServer();
const DAY_MS = 86_400_000;

/** A sound of some megabytes on the shelf. */
async function sound(hz: number, seconds = 20): Promise<string> {
  const wav = Buffer.from(writeWav({ sampleRate: 44100, channels: [sine(hz, seconds)] }, { encoding: 'pcm16' }));
  const id = createHash('sha256').update(wav).digest('hex');
  await new SourceService(server.database.db).add(id, `tone ${hz}`, { tempo: null, skyline: [] }, wav);
  return id;
}

describe('what was deleted', () => {
  it('is listed with the days it is kept', async () => {
    const id = await sound(300, 1);
    await local(request(server.app).delete(`/api/sources/${id}`)).expect(204);
    const { body } = await local(request(server.app).get('/api/deleted')).expect(200);
    expect(body).toMatchObject({ projects: [], sources: [{ id, name: 'tone 300' }], keptDays: KEPT_DAYS });
  });

  it('is given up when asked, and the file on the disk shrinks', async () => {
    const gone = await sound(300);
    const kept = await sound(400);
    const file = join(server.folder, 'test.sqlite');
    server.database.db.$client.pragma('wal_checkpoint(TRUNCATE)');
    const before = statSync(file).size;
    await local(request(server.app).delete(`/api/sources/${gone}`)).expect(204);
    const { body } = await local(request(server.app).post('/api/deleted/empty')).send({}).expect(200);
    expect(body).toEqual({ count: 1 });
    expect(statSync(file).size).toBeLessThan(before - 1_500_000);
    await local(request(server.app).get(`/api/sources/${gone}/audio`)).expect(404);
    await local(request(server.app).get(`/api/sources/${kept}/audio`)).expect(200);
  });

  it('stays as long as a project, or one of its earlier versions, plays it', async () => {
    const id = await sound(300, 1);
    const { db } = server.database;
    const made = loopProject({ sampleRate: 44100, channels: [sine(300, 1)] }, [0]).document;
    const text = JSON.stringify(made).replaceAll('source-a', id);
    const projects = new ProjectService(db);
    const document = JSON.parse(text) as typeof made;
    projects.insert(document);
    // The project goes on without it, but its first version plays it.
    const empty = { ...emptyDocument(document.id, 'without') };
    const changes = Object.keys(empty).map((key) => ({
      path: [key],
      before: document[key as keyof typeof document],
      after: empty[key as keyof typeof empty],
    }));
    projects.save(document.id, { saveId: 'save-0001', baseRevision: 1, label: 'empty', changes });
    new SourceService(db).remove(id);
    const deleted = new DeletedService(db);
    expect(deleted.empty()).toBe(0);
    expect(new SourceService(db).has(id)).toBe(true);
    projects.remove(document.id);
    expect(deleted.empty()).toBe(2);
    expect(new SourceService(db).has(id)).toBe(false);
  });

  describe('goes by itself', () => {
    const START = Date.UTC(2027, 0, 1);
    const startAt = (days: number) =>
      new DeletedService(server.database.db, undefined, () => START + days * DAY_MS).purgeOld();

    it('when a start, and another one a day later, find its days over', async () => {
      const id = await sound(300, 1);
      const { db } = server.database;
      new SourceService(db, () => START).remove(id);
      expect([0, 1, KEPT_DAYS - 1, KEPT_DAYS + 1].map(startAt)).toEqual([0, 0, 0, 0]);
      expect(new SourceService(db).has(id)).toBe(true);
      expect(startAt(KEPT_DAYS + 2)).toBe(1);
      expect(new SourceService(db).has(id)).toBe(false);
    });

    it('but not when the clock is wrong for once, by months or years', async () => {
      const id = await sound(300, 1);
      const { db } = server.database;
      new SourceService(db, () => START).remove(id);
      expect([0, 31, 1, 400, 2, 3, -5000, 4].map(startAt)).toEqual([0, 0, 0, 0, 0, 0, 0, 0]);
      expect(new SourceService(db).has(id)).toBe(true);
    });
  });
});
