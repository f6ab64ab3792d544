/** Kits of the shelf: kept, listed, loaded, renamed, taken off and put back; their sounds stay as long as they do. */
import { createHash } from 'node:crypto';
import request from 'supertest';
import { describe, expect, it } from 'vitest';
import type { ShelfItem } from '#core/api/shelf.ts';
import { writeWav } from '#core/formats/wav-write.ts';
import { kitOf, type Kit } from '#core/project/kit-of.ts';
import { SourceService } from '../../src/server/services/sources.ts';
import { loopProject } from '../support/documents.ts';
import { freshServer, local } from '../support/server.ts';
import { sine } from '../support/signals.ts';

const server = freshServer();
const api = () => request(server.app);

/** A kit of one sound that is on the shelf. */
async function kit(name = 'Bollard kit'): Promise<Kit> {
  const wav = Buffer.from(writeWav({ sampleRate: 44100, channels: [sine(300, 1)] }, { encoding: 'pcm16' }));
  const id = createHash('sha256').update(wav).digest('hex');
  await new SourceService(server.database.db).add(id, 'tone', { tempo: null, skyline: [] }, wav);
  const made = loopProject({ sampleRate: 44100, channels: [sine(300, 1)] }, [0, 20_000]);
  const own = kitOf(made.document, made.document.parts[made.partId]!, name);
  return JSON.parse(JSON.stringify(own).replaceAll('source-a', id)) as Kit;
}

const listed = async () => (await local(api().get('/api/shelf/kit')).expect(200)).body as ShelfItem<'kit'>[];

describe('kits', () => {
  it('come back as they were kept, under the name that they have on the shelf', async () => {
    const own = await kit();
    const { body } = await local(api().post('/api/shelf/kit')).send(own).expect(201);
    const { id } = body as ShelfItem<'kit'>;
    expect(await listed()).toMatchObject([{ id, name: 'Bollard kit', facts: { soundCount: 2 } }]);
    expect((await local(api().get(`/api/shelf/kit/${id}`)).expect(200)).body).toEqual(own);
    await local(api().patch(`/api/shelf/kit/${id}`))
      .send({ name: ' Quay kit ' })
      .expect(204);
    expect((await local(api().get(`/api/shelf/kit/${id}`)).expect(200)).body).toEqual({ ...own, name: 'Quay kit' });
    await local(api().patch(`/api/shelf/kit/${id}`))
      .send({ name: ' ' })
      .expect(400);
  });

  it('are taken off and put back; their sounds are kept meanwhile, and given up with them', async () => {
    const own = await kit();
    const [sourceId] = Object.keys(own.sources);
    const { body } = await local(api().post('/api/shelf/kit')).send(own).expect(201);
    const { id } = body as ShelfItem<'kit'>;
    await local(api().delete(`/api/sources/${sourceId}`)).expect(204);
    await local(api().post('/api/deleted/empty')).send({}).expect(200);
    await local(api().get(`/api/sources/${sourceId}/audio`)).expect(200);
    await local(api().delete(`/api/shelf/kit/${id}`)).expect(204);
    await local(api().delete(`/api/shelf/kit/${id}`)).expect(404);
    expect(await listed()).toEqual([]);
    await local(api().post(`/api/shelf/kit/${id}/restore`)).expect(204);
    expect(await listed()).toHaveLength(1);
    await local(api().delete(`/api/shelf/kit/${id}`)).expect(204);
    // Once for the kit, once for the sound that nothing plays then.
    await local(api().post('/api/deleted/empty')).send({}).expect(200);
    await local(api().post('/api/deleted/empty')).send({}).expect(200);
    await local(api().get(`/api/sources/${sourceId}/audio`)).expect(404);
    await local(api().post(`/api/shelf/kit/${id}/restore`)).expect(404);
  });

  it('that are none, are of a later version, or lack a sound are refused in words', async () => {
    const own = await kit();
    const refused = async (body: object) => {
      const answer = await local(api().post('/api/shelf/kit')).send(body);
      expect([400, 404, 409, 422]).toContain(answer.status);
      return (answer.body as { message: string }).message;
    };
    expect(await refused({ name: 'x' })).toContain('schemaVersion');
    expect(await refused({ ...own, schemaVersion: 99 })).toContain('newer');
    expect(await refused({ ...own, cuts: [] })).toContain('cuts');
    const missing = JSON.parse(JSON.stringify(own).replaceAll(Object.keys(own.sources)[0]!, 'f'.repeat(64))) as Kit;
    expect(await refused(missing)).toContain('sound');
    await local(api().get('/api/shelf/kit/nobody')).expect(404);
    expect(await listed()).toEqual([]);
  });
});
