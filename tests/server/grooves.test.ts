import { readFile } from 'node:fs/promises';
import request from 'supertest';
import { describe, expect, it } from 'vitest';
import type { Groove, ProjectDocument } from '#core/project/schema.ts';
import { projects } from '../../src/server/db/schema.ts';
import { freshServer, local } from '../support/server.ts';

const server = freshServer();
const limp: Groove = {
  name: 'Limp',
  stepTicks: 240,
  steps: [
    { shift: 0, accent: 1 },
    { shift: 0.12, accent: 0.7 },
  ],
};

describe('grooves', () => {
  it('are kept, listed in order and removed', async () => {
    const first = await local(request(server.app).post('/api/grooves')).send(limp).expect(201);
    await local(request(server.app).post('/api/grooves'))
      .send({ ...limp, name: 'Other' })
      .expect(201);
    const { body } = await local(request(server.app).get('/api/grooves')).expect(200);
    expect((body as { groove: Groove }[]).map(({ groove }) => groove.name)).toEqual(['Limp', 'Other']);
    expect((body as { groove: Groove }[])[0]!.groove).toEqual(limp);
    const { id } = first.body as { id: string };
    await local(request(server.app).delete(`/api/grooves/${id}`)).expect(204);
    await local(request(server.app).delete(`/api/grooves/${id}`)).expect(404);
    const left = await local(request(server.app).get('/api/grooves')).expect(200);
    expect(left.body).toHaveLength(1);
  });

  it('are renamed, and come back where they were when their removal is undone', async () => {
    const api = () => request(server.app);
    const names = async () => {
      const { body } = await local(api().get('/api/grooves')).expect(200);
      return (body as { groove: Groove }[]).map(({ groove }) => groove.name);
    };
    const { body } = await local(api().post('/api/grooves')).send(limp).expect(201);
    const { id } = body as { id: string };
    await local(api().post('/api/grooves'))
      .send({ ...limp, name: 'After' })
      .expect(201);
    await local(api().patch(`/api/grooves/${id}`))
      .send({ name: ' Tilt ' })
      .expect(204);
    const before = await names();
    expect(before.slice(-2)).toEqual(['Tilt', 'After']);
    await local(api().delete(`/api/grooves/${id}`)).expect(204);
    await local(api().patch(`/api/grooves/${id}`))
      .send({ name: 'Gone' })
      .expect(404);
    expect(await names()).not.toContain('Tilt');
    await local(api().post(`/api/grooves/${id}/restore`)).expect(204);
    expect(await names()).toEqual(before);
    await local(api().patch(`/api/grooves/${id}`))
      .send({ name: '  ' })
      .expect(400);
    await local(api().post('/api/grooves/none/restore')).expect(404);
  });

  it.each([
    ['no steps', { ...limp, steps: [] }],
    ['a shift beyond half a step', { ...limp, steps: [{ shift: 0.7, accent: 1 }] }],
    ['no name', { ...limp, name: '  ' }],
    ['something else', { hello: 'world' }],
  ])('with %s are refused', async (_what, groove) => {
    await local(request(server.app).post('/api/grooves')).send(groove).expect(400);
  });
});

describe('a project of schema version 1', () => {
  it('is opened, changed and saved, and its older revisions stay open', async () => {
    const json = await readFile(new URL('../fixtures/documents/version-1.json', import.meta.url), 'utf8');
    const old = JSON.parse(json) as ProjectDocument;
    server.database.db
      .insert(projects)
      .values({
        id: old.id,
        name: old.name,
        revision: 1,
        snapshotRevision: 1,
        document: json,
        createdAt: 1,
        updatedAt: 1,
      })
      .run();
    const loaded = (await local(request(server.app).get(`/api/projects/${old.id}`)).expect(200)).body as {
      document: ProjectDocument;
    };
    expect(loaded.document.schemaVersion).toBe(3);
    const [partId] = loaded.document.partOrder;
    const path = ['cuts', partId!, 'values', 'follow'];
    await local(request(server.app).post(`/api/projects/${old.id}/saves`))
      .send({
        saveId: 'save-0001',
        baseRevision: 1,
        label: 'follow',
        changes: [{ path, after: 'speed' }],
      })
      .expect(200);
    const now = (await local(request(server.app).get(`/api/projects/${old.id}`)).expect(200)).body as {
      document: ProjectDocument;
    };
    expect(now.document.cuts[partId!]!.values.follow).toBe('speed');
    const before = (await local(request(server.app).get(`/api/projects/${old.id}/versions/1`)).expect(200)).body as {
      document?: ProjectDocument;
    } & ProjectDocument;
    expect((before.document ?? before).cuts[partId!]!.values.follow).toBeUndefined();
  });
});
