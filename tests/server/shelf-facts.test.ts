/** What the shelf is searched by: what was heard of sounds, how their slices sound, and what nobody plays. */
import { createHash } from 'node:crypto';
import request from 'supertest';
import { describe, expect, it } from 'vitest';
import type { KnownSource, PrintsOfSource, SourceSummary } from '#core/api/sources.ts';
import { PRINT_BYTES } from '#core/analysis/print-size.ts';
import { writeWav } from '#core/formats/wav-write.ts';
import { loopProject } from '../support/documents.ts';
import { freshServer, local } from '../support/server.ts';
import { eightStepLoop, sine } from '../support/signals.ts';

const server = freshServer();
const facts = { tempo: null, skyline: [0.5] };
const prints = { startFrames: [0, 900], bytes: Buffer.alloc(2 * PRINT_BYTES, 7).toString('base64') };

async function put(hz: number, more: object = {}): Promise<string> {
  const wav = Buffer.from(writeWav({ sampleRate: 44_100, channels: [sine(hz, 0.1)] }, { encoding: 'pcm16' }));
  const id = createHash('sha256').update(wav).digest('hex');
  const header = Buffer.from(JSON.stringify({ name: `tone ${hz}`, facts, ...more })).toString('base64');
  const put = local(request(server.app).put(`/api/sources/${id}`));
  await put.set('Content-Type', 'audio/wav').set('X-Source', header).send(wav).expect(201);
  return id;
}
const get = async <T>(path: string) => (await local(request(server.app).get(path)).expect(200)).body as T;
const patch = (id: string, change: object) => local(request(server.app).patch(`/api/sources/${id}`)).send(change);

describe('what is heard of a sound', () => {
  it('comes with it, or afterwards; lists do not carry the prints', async () => {
    const [heardAtOnce, heardLater] = [await put(300, { prints }), await put(400)];
    expect(await get<PrintsOfSource[]>('/api/sources/prints')).toEqual([{ id: heardAtOnce, ...prints }]);
    const heard = { role: 'kick', midi: 40, brightnessHz: 500 };
    await patch(heardLater, { prints, heard }).expect(204);
    const list = await get<SourceSummary[]>('/api/sources');
    expect(list.map(({ hasPrints }) => hasPrints)).toEqual([true, true]);
    const later = list.find(({ id }) => id === heardLater)!;
    // Beside what was known of it.
    expect(later.facts).toEqual({ ...facts, heard });
    expect(JSON.stringify(later)).not.toContain(prints.bytes);
  });

  it('is checked at the door', async () => {
    const id = await put(300);
    for (const wrong of [
      { prints: { startFrames: [-1], bytes: '' } },
      { prints: { startFrames: [], bytes: 'no base64!' } },
      { prints: { startFrames: Array.from({ length: 49 }, (_, n) => n), bytes: '' } },
      { heard: { role: 'gong', midi: null, brightnessHz: 0 } },
      {},
    ])
      await patch(id, wrong).expect(400);
  });
});

it('says what a sound is called on the shelf, and that it is off it', async () => {
  const id = await put(300);
  expect(await get<KnownSource>(`/api/sources/${id}`)).toEqual({ known: true, name: 'tone 300' });
  await local(request(server.app).delete(`/api/sources/${id}`)).expect(204);
  expect(await get<KnownSource>(`/api/sources/${id}`)).toEqual({ known: true, name: null });
  expect(await get<KnownSource>(`/api/sources/${'0'.repeat(64)}`)).toEqual({ known: false, name: null });
});

it('says what no project plays', async () => {
  const id = await put(300);
  const { audio, starts } = eightStepLoop();
  const { document } = loopProject(audio, starts);
  const [source] = Object.values(document.sources);
  const isUsed = async () => (await get<SourceSummary[]>('/api/sources'))[0]!.isUsed;
  expect(await isUsed()).toBe(false);
  const { ProjectService } = await import('../../src/server/services/projects.ts');
  const text = JSON.stringify(document).replaceAll(source!.id, id);
  new ProjectService(server.database.db).insert(JSON.parse(text) as typeof document);
  expect(await isUsed()).toBe(true);
});
