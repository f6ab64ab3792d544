import { createHash, randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import pino from 'pino';
import request from 'supertest';
import { describe, expect, it } from 'vitest';
import { addPart } from '#core/project/commands/parts.ts';
import { diff } from '#core/document/diff.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { writeWav } from '#core/formats/wav-write.ts';
import { createApp } from '../../src/server/app.ts';
import { openDatabase } from '../../src/server/db/open.ts';
import { CHUNK_BYTES } from '../../src/server/services/sources.ts';
import { freshServer, local } from '../support/server.ts';
import { sine } from '../support/signals.ts';

const server = freshServer();
const get = (path: string) => local(request(server.app).get(path));
const post = (path: string, body: object = {}) => local(request(server.app).post(path)).send(body);

async function newProject(name = 'Ferry'): Promise<ProjectDocument> {
  const created = await post('/api/projects', { name }).expect(201);
  const loaded = await get(`/api/projects/${created.body.id}`).expect(200);
  return loaded.body.document as ProjectDocument;
}

const withTempo = (document: ProjectDocument, tempoBpm: number): ProjectDocument => ({
  ...document,
  song: { ...document.song, values: { tempoBpm } },
});

function save(before: ProjectDocument, after: ProjectDocument, baseRevision: number, saveId = randomUUID()) {
  return post(`/api/projects/${before.id}/saves`, {
    saveId,
    baseRevision,
    label: 'test',
    changes: diff(before, after),
  });
}

describe('projects', () => {
  it('are made, listed, renamed, duplicated, deleted and brought back', async () => {
    const document = await newProject();
    await save(document, { ...document, name: 'Ferry two' }, 1).expect(200);
    expect((await get('/api/projects')).body).toMatchObject([{ name: 'Ferry two', revision: 2, partCount: 0 }]);
    const copy = await post(`/api/projects/${document.id}/duplicate`).expect(201);
    expect(copy.body.name).toBe('Ferry two (copy)');
    await local(request(server.app).delete(`/api/projects/${document.id}`)).expect(204);
    expect((await get('/api/projects')).body).toHaveLength(1);
    await get(`/api/projects/${document.id}`).expect(404);
    await post(`/api/projects/${document.id}/restore`).expect(204);
    expect((await get('/api/projects')).body).toHaveLength(2);
  });

  it('keep every revision', async () => {
    const first = await newProject();
    const second = withTempo(first, 140);
    await save(first, second, 1).expect(200);
    await save(second, withTempo(second, 90), 2).expect(200);
    expect((await get(`/api/projects/${first.id}/versions`)).body).toHaveLength(3);
    expect((await get(`/api/projects/${first.id}/versions/2`)).body.document.song.values.tempoBpm).toBe(140);
    expect((await get(`/api/projects/${first.id}/versions/1`)).body.document).toEqual(first);
    await get(`/api/projects/${first.id}/versions/9`).expect(404);
  });

  it('refuse a stale save and change nothing', async () => {
    const first = await newProject();
    await save(first, withTempo(first, 140), 1).expect(200);
    const stale = await save(first, withTempo(first, 60), 1).expect(409);
    expect(stale.body).toMatchObject({ code: 'save.conflict', details: { revision: 2, baseRevision: 1 } });
    expect((await get(`/api/projects/${first.id}`)).body.document.song.values.tempoBpm).toBe(140);
  });

  it('give the same answer to a repeated save', async () => {
    const first = await newProject();
    const saveId = randomUUID();
    const after = withTempo(first, 99);
    const once = await save(first, after, 1, saveId).expect(200);
    const again = await save(first, after, 1, saveId).expect(200);
    expect(again.body).toEqual(once.body);
    expect((await get(`/api/projects/${first.id}`)).body.revision).toBe(2);
  });

  it('take no document that breaks the rules', async () => {
    const first = await newProject();
    const bad = await save(first, withTempo(first, 5000), 1).expect(400);
    expect(bad.body.code).toBe('document.invalid');
    await save(first, { ...first, partOrder: ['ghost'] }, 1).expect(400);
    await save(first, { ...first, id: 'other' }, 1).expect(400);
    expect((await get(`/api/projects/${first.id}`)).body).toMatchObject({ revision: 1, document: first });
  });

  it('name what is wrong with a request', async () => {
    const wrong = await post('/api/projects', { name: '' }).expect(400);
    expect(wrong.body.code).toBe('request.invalid');
    await post('/api/projects', { name: 'x', extra: 1 }).expect(400);
    await get('/api/projects/no..such').expect(400);
    await get('/api/nothing').expect(404);
    const broken = await local(request(server.app).post('/api/projects'))
      .set('Content-Type', 'application/json')
      .send('{')
      .expect(400);
    expect(JSON.stringify(broken.body)).not.toContain('node_modules');
  });
});

describe('sources', () => {
  const facts = { tempo: { bpm: 120, bars: 1 }, skyline: [0.1, 0.9], origin: 'printed from a break' };
  const header = (name: string) => Buffer.from(JSON.stringify({ name, facts })).toString('base64');
  const wav = Buffer.from(
    writeWav({ sampleRate: 44100, channels: [sine(100, 16), sine(200, 16)] }, { encoding: 'pcm16' }),
  );
  const id = createHash('sha256').update(wav).digest('hex');
  const put = (name = 'Buoy', key = id, body = wav) =>
    local(request(server.app).put(`/api/sources/${key}`))
      .set('Content-Type', 'audio/wav')
      .set('X-Source', header(name))
      .send(body);

  it('have tags, given when they come or later; what is sent again keeps its own', async () => {
    const tagged = Buffer.from(JSON.stringify({ name: 'Buoy', facts, tags: ['found'] })).toString('base64');
    const send = () =>
      local(request(server.app).put(`/api/sources/${id}`))
        .set('Content-Type', 'audio/wav')
        .set('X-Source', tagged)
        .send(wav);
    const patch = (body: object) => local(request(server.app).patch(`/api/sources/${id}`)).send(body);
    await send().expect(201);
    expect((await get('/api/sources')).body).toMatchObject([{ name: 'Buoy', facts, tags: ['found'] }]);
    await patch({ tags: ['bells', 'soft', 'bells'] }).expect(204);
    await patch({ name: 'Buoy bell' }).expect(204);
    expect((await get('/api/sources')).body).toMatchObject([{ name: 'Buoy bell', tags: ['bells', 'soft'] }]);
    await send().expect(201);
    expect((await get('/api/sources')).body).toMatchObject([{ tags: ['bells', 'soft'] }]);
    await patch({ tags: [''] }).expect(400);
    await patch({ tags: Array.from({ length: 21 }, (_, i) => `${i}`) }).expect(400);
    await patch({ colour: 'red' }).expect(400);
  });

  it('know the projects that play them', async () => {
    await put().expect(201);
    expect((await get(`/api/sources/${id}/uses`)).body).toEqual([]);
    const document = await newProject('Ferry');
    const source = { id, name: 'Buoy', sampleRate: 44100, channels: 2, frames: 16 * 44100 };
    const env = { newId: () => randomUUID(), newSeed: () => 1 };
    const found = { role: 'other' as const, roleConfidence: 1, brightnessHz: 500, midi: null, cents: null };
    const slices = [{ startFrame: 0, strength: 1, ...found }];
    const added = addPart(
      document,
      { name: 'Buoy', source, loop: null, tempoReadings: [], slices, adoptTempo: false },
      env,
    );
    if (!added.ok) throw new Error(added.reason);
    await save(document, added.document, 1).expect(200);
    expect((await get(`/api/sources/${id}/uses`)).body).toEqual([{ projectId: document.id, name: 'Ferry' }]);
    await local(request(server.app).delete(`/api/projects/${document.id}`)).expect(204);
    expect((await get(`/api/sources/${id}/uses`)).body).toEqual([]);
  });

  it('are stored in chunks and come back whole or in ranges', async () => {
    expect(wav.length).toBeGreaterThan(2 * CHUNK_BYTES);
    await put().expect(201);
    expect((await get('/api/sources')).body).toMatchObject([
      { id, name: 'Buoy', channels: 2, frames: 16 * 44100, facts },
    ]);
    const whole = await get(`/api/sources/${id}/audio`).buffer(true).parse(binary).expect(200);
    expect(Buffer.compare(whole.body as Buffer, wav)).toBe(0);
    const from = CHUNK_BYTES - 10;
    const part = await get(`/api/sources/${id}/audio`)
      .set('Range', `bytes=${from}-${from + 19}`)
      .buffer(true)
      .parse(binary)
      .expect(206);
    expect(Buffer.compare(part.body as Buffer, wav.subarray(from, from + 20))).toBe(0);
    expect(part.headers['content-range']).toBe(`bytes ${from}-${from + 19}/${wav.length}`);
    const tail = await get(`/api/sources/${id}/audio`).set('Range', 'bytes=-5').buffer(true).parse(binary).expect(206);
    expect(Buffer.compare(tail.body as Buffer, wav.subarray(-5))).toBe(0);
    await get(`/api/sources/${id}/audio`).set('Range', 'bytes=999999999-').expect(416);
  });

  it('leave nothing behind when they are not what they say', async () => {
    const damaged = Buffer.from(wav);
    damaged[500]! ^= 1;
    const refused = await put('Buoy', id, damaged).expect(400);
    expect(refused.body.code).toBe('format.broken');
    const letter = Buffer.from('this is a letter');
    await put('letter', createHash('sha256').update(letter).digest('hex'), letter).expect(400);
    await local(request(server.app).put(`/api/sources/${id}`))
      .set('Content-Type', 'audio/wav')
      .set('X-Source', '%%')
      .send(wav)
      .expect(400);
    expect((await get('/api/sources')).body).toEqual([]);
    await get(`/api/sources/${id}/audio`).expect(404);
  });

  it('are stored once, renamed, taken off the shelf and put back; their audio stays', async () => {
    await put('one').expect(201);
    await put('two').expect(201);
    expect((await get('/api/sources')).body).toMatchObject([{ name: 'two' }]);
    await local(request(server.app).patch(`/api/sources/${id}`))
      .send({ name: 'three' })
      .expect(204);
    await local(request(server.app).delete(`/api/sources/${id}`)).expect(204);
    expect((await get('/api/sources')).body).toEqual([]);
    await get(`/api/sources/${id}/audio`).set('Range', 'bytes=0-3').expect(206);
    await post(`/api/sources/${id}/restore`).expect(204);
    expect((await get('/api/sources')).body).toMatchObject([{ name: 'three' }]);
  });
});

function binary(response: request.Response, done: (error: Error | null, body: Buffer) => void): void {
  const chunks: Buffer[] = [];
  const stream = response as unknown as NodeJS.ReadableStream;
  stream.on('data', (chunk: Buffer) => chunks.push(chunk));
  stream.on('end', () => done(null, Buffer.concat(chunks)));
}

describe('guards', () => {
  it('refuse foreign hosts and origins', async () => {
    await request(server.app).get('/api/health').set('Host', 'evil.example').expect(403);
    await get('/api/health').set('Origin', 'http://evil.example').expect(403);
    await get('/api/health').set('Origin', 'http://localhost:4780').expect(200);
    await request(server.app).get('/api/health').set('Host', '127.0.0.1:9').expect(200);
  });

  it('send a strict policy', async () => {
    const { headers } = await get('/api/health').expect(200);
    expect(headers['content-security-policy']).toContain("default-src 'self'");
    expect(headers['content-security-policy']).not.toContain('unsafe-eval;');
    expect(headers['x-content-type-options']).toBe('nosniff');
    expect(headers['cross-origin-opener-policy']).toBe('same-origin');
    expect(headers['cross-origin-embedder-policy']).toBe('require-corp');
    expect(headers['x-powered-by']).toBeUndefined();
  });

  it('limit the size of a body', async () => {
    const big = await post('/api/projects', { name: 'x'.repeat(17_000_000) });
    expect(big.status).toBe(413);
    expect(big.body.code).toBe('format.too-large');
  });
});

describe('the database', () => {
  it('runs in WAL mode with foreign keys, and lies in one folder', () => {
    const mode = server.database.db.get<{ journal_mode: string }>('PRAGMA journal_mode' as never);
    expect(Object.values(mode as object)).toContain('wal');
    expect(Object.values(server.database.db.get('PRAGMA foreign_keys' as never) as object)).toContain(1);
    expect(existsSync(join(server.folder, 'test.sqlite'))).toBe(true);
  });

  it('opens again what it closed', async () => {
    const document = await newProject('kept');
    server.database.close();
    server.database = openDatabase(join(server.folder, 'test.sqlite'));
    server.app = createApp({ db: server.database.db, log: pino({ level: 'silent' }) });
    expect((await get(`/api/projects/${document.id}`)).body.document).toEqual(document);
  });
});
