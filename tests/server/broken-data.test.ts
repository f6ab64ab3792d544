/** Disks that are full and databases that cannot be used: what is said, and that nothing is claimed that is not so. */
import { copyFileSync, existsSync, mkdtempSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import request from 'supertest';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { UnusableDatabase } from '../../src/server/db/file.ts';
import { openDatabase } from '../../src/server/db/open.ts';
import { ProjectService } from '../../src/server/services/projects.ts';
import { loopProject } from '../support/documents.ts';
import { freshServer, local } from '../support/server.ts';
import { eightStepLoop } from '../support/signals.ts';

describe('a database file', () => {
  let folder: string;
  let file: string;
  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'yappa-broken-'));
    file = join(folder, 'yappa.sqlite');
  });
  afterEach(() => rmSync(folder, { recursive: true }));
  const fixture = () => copyFileSync(new URL('../fixtures/documents/history-4.sqlite', import.meta.url), file);

  it('that is text is refused, and stays as it is', () => {
    writeFileSync(file, 'Dear diary');
    expect(() => openDatabase(file)).toThrow(UnusableDatabase);
    expect(() => openDatabase(file)).toThrow('is not a database');
    expect(readFileSync(file, 'utf8')).toBe('Dear diary');
  });

  it.each([0.5, 0.9, 0.05])('of which only a part (%f) is left is refused', (share) => {
    fixture();
    truncateSync(file, Math.floor(139_264 * share));
    expect(() => openDatabase(file)).toThrow(/is damaged: a piece of it is missing/);
  });

  it('whose pages are overwritten is refused', () => {
    fixture();
    const bytes = readFileSync(file);
    bytes.fill(0x5a, 100, 20_000);
    writeFileSync(file, bytes);
    expect(() => openDatabase(file)).toThrow(UnusableDatabase);
  });

  it('of a newer version of the program is refused', () => {
    fixture();
    openDatabase(file).close();
    const first = openDatabase(file);
    first.db.$client.prepare('INSERT INTO __drizzle_migrations (hash, created_at) VALUES (?, ?)').run('later', 9e15);
    first.close();
    expect(() => openDatabase(file)).toThrow('written by a newer version of this program: update the program');
  });

  it('that is empty, or is not there, is made', () => {
    writeFileSync(file, '');
    openDatabase(file).close();
    rmSync(file);
    openDatabase(file).close();
    expect(existsSync(file)).toBe(true);
  });
});

describe('a full disk', () => {
  const server = freshServer();
  const save = (id: string, saveId: string, base: number, name: string, before: string) =>
    local(request(server.app).post(`/api/projects/${id}/saves`)).send({
      saveId,
      baseRevision: base,
      label: 'x',
      changes: [{ path: ['name'], before, after: name }],
    });
  /** No page more than there are. */
  function fill(): void {
    const { $client } = server.database.db;
    $client.pragma('incremental_vacuum');
    $client.pragma(`max_page_count = ${$client.pragma('page_count', { simple: true }) as number}`);
  }

  it('is named in the answer to a save, a version, a project; nothing is claimed, and all of it works once there is room', async () => {
    const { audio, starts } = eightStepLoop();
    const { document } = loopProject(audio, starts);
    new ProjectService(server.database.db).insert(document);
    fill();
    const long = 'n'.repeat(180);
    let refused = 0;
    let name = document.name;
    let revision = 1;
    for (let round = 0; round < 60 && refused < 3; round++) {
      const next = `${round} ${long}`;
      const answer = await save(document.id, `save-${round}-xxxx`, revision, next, name);
      if (answer.status === 200) {
        name = next;
        revision++;
        continue;
      }
      expect([answer.status, answer.body]).toEqual([
        507,
        { code: 'disk.full', message: 'the disk is full', details: {} },
      ]);
      refused++;
    }
    expect(refused).toBe(3);
    const kept = await local(request(server.app).post(`/api/projects/${document.id}/versions`)).send({
      baseRevision: revision,
      label: 'x',
      changes: [{ path: ['name'], before: name, after: 'not taken' }],
    });
    expect(kept.status).toBe(507);
    const versions = await local(request(server.app).get(`/api/projects/${document.id}/versions`)).expect(200);
    expect((versions.body as { kind: string }[]).filter(({ kind }) => kind === 'kept')).toEqual([]);
    await local(request(server.app).post(`/api/projects/${document.id}/duplicate`))
      .send({})
      .expect(507);
    const loaded = await local(request(server.app).get(`/api/projects/${document.id}`)).expect(200);
    expect(loaded.body).toMatchObject({ revision, document: { name } });
    server.database.db.$client.pragma('max_page_count = 1000000');
    await save(document.id, 'save-with-room', revision, 'room', name).expect(200);
  });
});

describe('a backup', () => {
  const server = freshServer();
  it('is one file with everything, taken while the server runs, and opens by itself', async () => {
    const { audio, starts } = eightStepLoop();
    const { document } = loopProject(audio, starts);
    new ProjectService(server.database.db).insert(document);
    const answer = await local(request(server.app).get('/api/backup')).buffer(true).parse(bytes).expect(200);
    expect(answer.headers['content-disposition']).toMatch(/^attachment; filename="yappa-\d{4}-\d\d-\d\d\.sqlite"$/);
    const file = join(server.folder, 'restored.sqlite');
    writeFileSync(file, answer.body as Buffer);
    const { db, close } = openDatabase(file);
    expect(new ProjectService(db).load(document.id)).toEqual({ document, revision: 1 });
    close();
  });
});

function bytes(response: request.Response, done: (error: Error | null, body: Buffer) => void): void {
  const pieces: Buffer[] = [];
  const stream = response as unknown as NodeJS.ReadableStream;
  stream.on('data', (piece: Buffer) => pieces.push(piece));
  stream.on('end', () => done(null, Buffer.concat(pieces)));
}
