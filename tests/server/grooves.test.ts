import request from 'supertest';
import { describe, expect, it } from 'vitest';
import type { ShelfItem } from '#core/api/shelf.ts';
import type { Groove } from '#core/document/schema.ts';
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
    const first = await local(request(server.app).post('/api/shelf/groove')).send(limp).expect(201);
    await local(request(server.app).post('/api/shelf/groove'))
      .send({ ...limp, name: 'Other' })
      .expect(201);
    const { body } = await local(request(server.app).get('/api/shelf/groove')).expect(200);
    expect((body as ShelfItem<'groove'>[]).map(({ name }) => name)).toEqual(['Limp', 'Other']);
    expect((body as ShelfItem<'groove'>[])[0]!.facts.groove).toEqual(limp);
    const { id } = first.body as { id: string };
    await local(request(server.app).delete(`/api/shelf/groove/${id}`)).expect(204);
    await local(request(server.app).delete(`/api/shelf/groove/${id}`)).expect(404);
    const left = await local(request(server.app).get('/api/shelf/groove')).expect(200);
    expect(left.body).toHaveLength(1);
  });

  it('are renamed, and come back where they were when their removal is undone', async () => {
    const api = () => request(server.app);
    const names = async () => {
      const { body } = await local(api().get('/api/shelf/groove')).expect(200);
      return (body as ShelfItem<'groove'>[]).map(({ name }) => name);
    };
    const { body } = await local(api().post('/api/shelf/groove')).send(limp).expect(201);
    const { id } = body as { id: string };
    await local(api().post('/api/shelf/groove'))
      .send({ ...limp, name: 'After' })
      .expect(201);
    await local(api().patch(`/api/shelf/groove/${id}`))
      .send({ name: ' Tilt ' })
      .expect(204);
    const before = await names();
    expect(before.slice(-2)).toEqual(['Tilt', 'After']);
    await local(api().delete(`/api/shelf/groove/${id}`)).expect(204);
    await local(api().patch(`/api/shelf/groove/${id}`))
      .send({ name: 'Gone' })
      .expect(404);
    expect(await names()).not.toContain('Tilt');
    await local(api().post(`/api/shelf/groove/${id}/restore`)).expect(204);
    expect(await names()).toEqual(before);
    await local(api().patch(`/api/shelf/groove/${id}`))
      .send({ name: '  ' })
      .expect(400);
    await local(api().post('/api/shelf/groove/none/restore')).expect(404);
  });

  it.each([
    ['no steps', { ...limp, steps: [] }],
    ['a shift beyond half a step', { ...limp, steps: [{ shift: 0.7, accent: 1 }] }],
    ['no name', { ...limp, name: '  ' }],
    ['something else', { hello: 'world' }],
  ])('with %s are refused', async (_what, groove) => {
    await local(request(server.app).post('/api/shelf/groove')).send(groove).expect(400);
  });
});
