/** Whatever is sent: an answer in words, soon, and never "the server failed". */
import { createServer, request as httpRequest, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { seededRandom } from '#core/units/random.ts';
import { ProjectService } from '../../src/server/services/projects.ts';
import { loopProject } from '../support/documents.ts';
import { freshServer } from '../support/server.ts';
import { eightStepLoop } from '../support/signals.ts';

const server = freshServer();
let listening: Server;
beforeEach(async () => {
  const { audio, starts } = eightStepLoop();
  new ProjectService(server.database.db).insert(loopProject(audio, starts).document);
  listening = createServer(server.app);
  await new Promise<void>((resolve) => listening.listen(0, '127.0.0.1', resolve));
});
afterEach(() => {
  listening.closeAllConnections();
  listening.close();
});

function send(method: string, path: string, body: string | Buffer | null, type: string | null): Promise<number> {
  const { port } = listening.address() as AddressInfo;
  return new Promise((resolve, reject) => {
    const headers: Record<string, string> = { Host: `localhost:${port}` };
    if (type !== null) headers['Content-Type'] = type;
    if (body !== null) headers['Content-Length'] = String(Buffer.byteLength(body));
    const sent = httpRequest({ host: '127.0.0.1', port, method, path, headers }, (response) => {
      response.resume();
      response.on('end', () => resolve(response.statusCode!));
    });
    sent.on('error', reject);
    sent.end(body ?? undefined);
  });
}

const deep = (depth: number, open: string, close: string) => `${open.repeat(depth)}1${close.repeat(depth)}`;
const ROUTES: [method: string, path: string][] = [
  ['GET', '/api/projects'],
  ['POST', '/api/projects'],
  ['GET', '/api/projects/project-a'],
  ['POST', '/api/projects/project-a/saves'],
  ['POST', '/api/projects/project-a/versions'],
  ['GET', '/api/projects/project-a/versions/1'],
  ['POST', '/api/projects/project-a/versions/1/copy'],
  ['POST', '/api/projects/project-a/duplicate'],
  ['POST', '/api/projects/nobody/restore'],
  ['POST', '/api/shelf/kit'],
  ['POST', '/api/shelf/groove'],
  ['PATCH', '/api/shelf/kit/nobody'],
  ['GET', '/api/shelf/chain'],
  ['PUT', `/api/sources/${'a'.repeat(64)}`],
  ['PATCH', `/api/sources/${'a'.repeat(64)}`],
  ['GET', `/api/sources/${'a'.repeat(64)}/audio`],
  ['GET', '/api/sources/__proto__/uses'],
  ['POST', '/api/deleted/empty'],
  ['POST', '/api/nothing'],
  ['GET', '/api/projects/%00'],
  ['GET', '/api/projects/%E0%A4%A'],
];
const save = (changes: string) => `{"saveId":"12345678","baseRevision":1,"label":"x","changes":${changes}}`;
const BODIES: (string | Buffer | null)[] = [
  null,
  '',
  'null',
  '0',
  '"kit"',
  '[]',
  '{}',
  '{"__proto__":{"name":"x"}}',
  '{"name":{"toString":1}}',
  '{"schemaVersion":4}',
  '{"schemaVersion":4,"name":"x","values":{},"sources":{"toString":{}},"cuts":[{}],"zones":[],"modulators":[],"routes":[]}',
  '{"schemaVersion":1e99}',
  '{"name":"\ud800"}',
  '{',
  Buffer.from([0xff, 0xfe, 0x00]),
  deep(100_000, '[', ']'),
  deep(50_000, '{"a":', '}'),
  save('[]'),
  save('[{"path":[]}]'),
  save('[{"path":[],"after":null}]'),
  save('[{"path":[],"before":1,"after":{"schemaVersion":4}}]'),
  save('[{"path":["channels"],"before":[],"after":[]}]'),
  save('[{"path":["__proto__","x"],"after":1}]'),
  save('[{"path":["name","length"],"after":1}]'),
  save(`[{"path":["name"],"after":${deep(20_000, '[', ']')}}]`),
  save(`[{"path":["name"],"before":"made-up","after":${deep(12, '{"a":', '}')}}]`),
  save(`[${Array.from({ length: 30_000 }, () => '{"path":["constructor"],"after":1}').join()}]`),
];
const TYPES = ['application/json', 'text/plain', 'application/json; charset=utf-7', null];

describe('hostile requests', () => {
  it('are answered in words, each soon', async () => {
    const failed: unknown[] = [];
    for (const [method, path] of ROUTES) {
      for (const [index, body] of BODIES.entries()) {
        if (method === 'GET' && index > 1) continue;
        for (const type of index > 14 ? TYPES.slice(0, 1) : TYPES) {
          const began = performance.now();
          const status = await send(method, path, body, type);
          const ms = performance.now() - began;
          if (status >= 500 || ms > 5000) failed.push({ method, path, index, type, status, ms });
        }
      }
    }
    expect(failed).toEqual([]);
    expect(await send('GET', '/api/health', null, null)).toBe(200);
  });

  it.each(['/api/projects/project-a/saves', '/api/shelf/kit', '/api/shelf/groove'])(
    'to %s, nested a million deep, are answered soon',
    async (path) => {
      for (const body of [
        deep(1_000_000, '[', ']'),
        save(`[{"path":["name"],"after":${deep(500_000, '{"a":', '}')}}]`),
      ]) {
        const began = performance.now();
        expect(await send('POST', path, body, 'application/json')).toBe(400);
        expect(performance.now() - began).toBeLessThan(10_000);
      }
    },
  );

  it('that are sound ones, bent at random, are taken or refused', async () => {
    const { document } = new ProjectService(server.database.db).load('project-a');
    const random = seededRandom(7);
    const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
    const values = ['null', '[]', '{}', '-1', '1e308', '"x"', '""', 'true', '{"id":"x"}', '[[[[1]]]]'];
    for (let round = 0; round < 300; round++) {
      const path: string[] = [];
      let at: unknown = document;
      while (
        typeof at === 'object' &&
        at !== null &&
        Object.keys(at).length > 0 &&
        (path.length === 0 || random() < 0.8)
      ) {
        const key = pick(Object.keys(at));
        path.push(key);
        at = (at as Record<string, unknown>)[key];
      }
      const before = at === undefined ? '' : `"before":${JSON.stringify(at)},`;
      const { revision } = new ProjectService(server.database.db).load('project-a');
      const body = `{"saveId":"round-${round}-x","baseRevision":${revision},"label":"x","changes":[{"path":${JSON.stringify(path)},${before}"after":${pick(values)}}]}`;
      const status = await send('POST', '/api/projects/project-a/saves', body, 'application/json');
      expect([200, 400, 409]).toContain(status);
      // Whatever was taken can be opened again.
      if (status === 200) expect(await send('GET', '/api/projects/project-a', null, null)).toBe(200);
    }
  });
});
