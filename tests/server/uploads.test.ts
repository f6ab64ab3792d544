/** Audio on its way in and out: piece by piece, while everything else goes on. */
import { createHash, randomUUID } from 'node:crypto';
import { request as httpRequest, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterEach, describe, expect, it } from 'vitest';
import { and, eq } from 'drizzle-orm';
import { writeWav } from '#core/formats/wav-write.ts';
import pino from 'pino';
import { createApp } from '../../src/server/app.ts';
import { sourceChunks, sources } from '../../src/server/db/schema.ts';
import { CHUNK_BYTES, SourceService } from '../../src/server/services/sources.ts';
import { freshServer } from '../support/server.ts';
import { sine } from '../support/signals.ts';

const server = freshServer();
let listening: Server | null = null;
afterEach(() => {
  listening?.closeAllConnections();
  listening?.close();
  listening = null;
});

async function base(): Promise<string> {
  listening ??= server.app.listen(0);
  await new Promise((resolve) => (listening!.listening ? resolve(null) : listening!.once('listening', resolve)));
  return `http://localhost:${(listening.address() as AddressInfo).port}`;
}

function wavOf(seconds: number): { wav: Buffer; id: string } {
  const wav = Buffer.from(writeWav({ sampleRate: 44100, channels: [sine(300, seconds)] }, { encoding: 'pcm16' }));
  return { wav, id: createHash('sha256').update(wav).digest('hex') };
}

const header = Buffer.from(JSON.stringify({ name: 'tone', facts: { tempo: null, skyline: [] } })).toString('base64');

/** A PUT whose body is written by the test. */
async function upload(id: string, byteLength: number) {
  const { port } = new URL(await base());
  const headers = { 'Content-Type': 'audio/wav', 'X-Source': header, 'Content-Length': byteLength };
  const sent = httpRequest({ port, method: 'PUT', path: `/api/sources/${id}`, headers, host: 'localhost' });
  const status = new Promise<number>((resolve) => {
    sent.on('response', (response) => resolve(response.statusCode!));
    sent.on('error', () => resolve(0));
  });
  return { sent, status };
}

describe('two uploads of one sound', () => {
  it('come beside each other: one that never ends, or lies, holds up nobody, and the first to be whole is taken', async () => {
    const { wav, id } = wavOf(20);
    const { sent: slow, status: slowStatus } = await upload(id, wav.length);
    await new Promise((resolve) => slow.write(wav.subarray(0, 1_200_000), resolve));
    const { sent: lying, status: lyingStatus } = await upload(id, wav.length);
    lying.end(Buffer.concat([wav.subarray(0, 44), Buffer.alloc(wav.length - 44)]));
    expect(await lyingStatus).toBe(400);
    const { sent: honest, status } = await upload(id, wav.length);
    honest.end(wav);
    expect(await status).toBe(201);
    const audio = async () => Buffer.from(await (await fetch(`${await base()}/api/sources/${id}/audio`)).arrayBuffer());
    expect((await audio()).equals(wav)).toBe(true);
    slow.end(wav.subarray(1_200_000));
    expect(await slowStatus).toBe(201);
    expect((await audio()).equals(wav)).toBe(true);
    expect(server.database.db.select({ id: sources.id }).from(sources).all()).toEqual([{ id }]);
  });

  it('has to make progress: one that stands still is answered and leaves nothing', async () => {
    const app = createApp({
      db: server.database.db,
      log: pino({ level: 'silent' }),
      pace: { idleMs: 200, bytesPerSecond: 1e6 },
    });
    listening = app.listen(0);
    const { wav, id } = wavOf(20);
    const { sent, status } = await upload(id, wav.length);
    sent.write(wav.subarray(0, 1_200_000));
    expect(await status).toBe(408);
    const dripping = await upload(id, wav.length);
    const drip = setInterval(() => dripping.sent.write(wav.subarray(0, 100)), 50);
    expect(await dripping.status).toBe(408);
    clearInterval(drip);
    expect(server.database.db.select().from(sources).all()).toEqual([]);
  });

  it('that a crash broke off is gone at the next start', () => {
    const { db } = server.database;
    db.insert(sources)
      .values({
        id: 'x',
        name: 'x',
        sampleRate: 1,
        channels: 1,
        frames: 1,
        byteLength: 1,
        facts: '{}',
        createdAt: Date.now(),
        complete: false,
      })
      .run();
    createApp({ db, log: pino({ level: 'silent' }) });
    expect(db.select().from(sources).all()).toEqual([]);
  });

  it('of a sound that says it has no samples a second is refused', async () => {
    const { wav } = wavOf(1);
    wav.writeUInt32LE(0, 24);
    const id = createHash('sha256').update(wav).digest('hex');
    const { sent, status } = await upload(id, wav.length);
    sent.end(wav);
    expect(await status).toBe(400);
  });
});

describe('an upload', () => {
  it('is stored as it comes, and saves are taken meanwhile', async () => {
    const { wav, id } = wavOf(60);
    const { sent, status } = await upload(id, wav.length);
    const half = Math.floor(wav.length / 2);
    await new Promise((resolve) => sent.write(wav.subarray(0, half), resolve));
    const json = { method: 'POST', headers: { 'Content-Type': 'application/json' } };
    const began = performance.now();
    const created = await fetch(`${await base()}/api/projects`, {
      ...json,
      body: JSON.stringify({ name: 'meanwhile' }),
    });
    const { id: projectId } = (await created.json()) as { id: string };
    const save = {
      saveId: randomUUID(),
      baseRevision: 1,
      label: 'x',
      changes: [{ path: ['name'], before: 'meanwhile', after: 'saved' }],
    };
    const saved = await fetch(`${await base()}/api/projects/${projectId}/saves`, {
      ...json,
      body: JSON.stringify(save),
    });
    expect([saved.status, performance.now() - began < 1_000]).toEqual([200, true]);
    // What has come is stored already, and not on the shelf yet.
    const storedChunks = () =>
      server.database.db.select().from(sourceChunks).where(eq(sourceChunks.sourceId, id)).all().length;
    await expect.poll(storedChunks).toBe(2);
    expect(new SourceService(server.database.db).has(id)).toBe(false);
    sent.end(wav.subarray(half));
    expect(await status).toBe(201);
    const audio = await fetch(`${await base()}/api/sources/${id}/audio`);
    expect(Buffer.from(await audio.arrayBuffer()).equals(wav)).toBe(true);
  });

  it('that is broken off leaves nothing, and can be sent again', async () => {
    const { wav, id } = wavOf(60);
    const { sent, status } = await upload(id, wav.length);
    await new Promise((resolve) => sent.write(wav.subarray(0, 3 * CHUNK_BYTES), resolve));
    sent.destroy();
    expect(await status).toBe(0);
    await expect
      .poll(() => server.database.db.select().from(sourceChunks).where(eq(sourceChunks.sourceId, id)).all().length)
      .toBe(0);
    const again = await upload(id, wav.length);
    again.sent.end(wav);
    expect(await again.status).toBe(201);
  });
});

describe('audio with a piece missing', () => {
  it('breaks off the answer; the server goes on', async () => {
    const { wav, id } = wavOf(60);
    await new SourceService(server.database.db).add(id, 'tone', { tempo: null, skyline: [] }, wav);
    server.database.db
      .delete(sourceChunks)
      .where(and(eq(sourceChunks.sourceId, id), eq(sourceChunks.chunk, 3)))
      .run();
    const broken = await fetch(`${await base()}/api/sources/${id}/audio`);
    await expect(broken.arrayBuffer()).rejects.toThrow();
    // The first piece alone is whole; and everything else is answered.
    const range = { headers: { Range: `bytes=0-${CHUNK_BYTES - 1}` } };
    const whole = await fetch(`${await base()}/api/sources/${id}/audio`, range);
    expect((await whole.arrayBuffer()).byteLength).toBe(CHUNK_BYTES);
    expect((await fetch(`${await base()}/api/health`)).status).toBe(200);
  });
});
