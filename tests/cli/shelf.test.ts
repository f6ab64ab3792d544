/** `yappa import` and `yappa backup`: the shelf of a running application, from the command line. */
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import type { PrintsOfSource, SourceSummary } from '#core/api/sources.ts';
import type { ProjectSummary } from '#core/api/projects.ts';
import { writeWav } from '#core/formats/wav-write.ts';
import { losslessEncoding } from '#core/formats/wav-write.ts';
import { readWav } from '#core/formats/wav-read.ts';
import { writeProjectZip } from '#core/takeaway/project-zip.ts';
import { loopProject } from '../support/documents.ts';
import { freshServer } from '../support/server.ts';
import { eightStepLoop, sine } from '../support/signals.ts';
import { yappa } from './run.ts';

const application = freshServer();
let listening: Server;
let port = '';

beforeEach(async () => {
  await new Promise<void>((ready) => (listening = application.app.listen(0, '127.0.0.1', () => ready())));
  port = String((listening.address() as AddressInfo).port);
});
afterEach(() => void listening.close());

async function onShelf<T>(path: string): Promise<T> {
  return (await (await fetch(`http://localhost:${port}/api${path}`)).json()) as T;
}

const { audio: loop, starts } = eightStepLoop();
const note = { sampleRate: 44_100, channels: [sine(220, 0.4).map((x, i) => x * Math.exp(-i / 6000))] };

function madeFolder(): string {
  const folder = join(application.folder, 'Quay sounds');
  mkdirSync(join(folder, 'Dry'), { recursive: true });
  writeFileSync(join(folder, 'Dry', 'walk.wav'), writeWav(loop, { encoding: 'pcm24' }));
  writeFileSync(join(folder, 'bell.wav'), writeWav(note, { encoding: 'pcm16' }));
  writeFileSync(join(folder, 'twice.wav'), writeWav(note, { encoding: 'pcm16' }));
  writeFileSync(join(folder, 'letter.txt'), 'no sound');
  return folder;
}

it('a folder comes onto the shelf with its names as tags, with what is heard; the same samples once', async () => {
  const folder = madeFolder();
  const { code, stdout } = await yappa('import', folder, '--tags', 'Found', '--port', port);
  expect(code).toBe(0);
  const told = JSON.parse(stdout) as { file: string; name: string; wasHere: boolean }[];
  // By their paths, folders in between.
  expect(told.map(({ name, wasHere }) => [name, wasHere])).toEqual([
    ['bell', false],
    ['walk', false],
    ['bell', true],
  ]);
  const sources = await onShelf<SourceSummary[]>('/sources');
  const walk = sources.find(({ name }) => name === 'walk')!;
  expect(walk.tags).toEqual(expect.arrayContaining(['quay sounds', 'dry', 'found']));
  expect(walk).toMatchObject({ isUsed: false, hasPrints: true });
  expect(walk.facts.heard).toBeUndefined();
  const bell = sources.find(({ name }) => name === 'bell')!;
  // 220 Hz is the A below middle C.
  expect(bell.facts.heard).toMatchObject({ midi: 57 });
  const prints = await onShelf<PrintsOfSource[]>('/sources/prints');
  expect(prints.find(({ id }) => id === walk.id)!.startFrames.length).toBeGreaterThan(4);
});

it('a project comes as a new one, with its sounds', async () => {
  // As it is on the shelf: called after its samples.
  const wav = writeWav(loop, { encoding: losslessEncoding(loop) });
  const { document } = loopProject(readWav(wav).audio, starts);
  const pieces: Uint8Array[] = [];
  await writeProjectZip(document, { sound: async () => loop, take: (bytes) => pieces.push(bytes.slice()) });
  const file = join(application.folder, 'Quay.zip');
  writeFileSync(file, Buffer.concat(pieces));
  const { code, stdout } = await yappa('import', file, '--port', port);
  expect(code).toBe(0);
  const [{ projectId }] = JSON.parse(stdout) as [{ projectId: string }];
  const projects = await onShelf<ProjectSummary[]>('/projects');
  expect(projects).toMatchObject([{ id: projectId, partCount: 1 }]);
});

it('a backup is the database as it is; nothing is written over', async () => {
  const out = join(application.folder, 'all.sqlite');
  expect((await yappa('backup', '--out', out, '--port', port)).code).toBe(0);
  expect(readFileSync(out).subarray(0, 15).toString()).toBe('SQLite format 3');
  const again = await yappa('backup', '--out', out, '--port', port);
  expect([again.code, again.stderr]).toEqual([1, expect.stringContaining('it is there already')]);
});

it('says when nothing runs, and what cannot be used; the rest is done', async () => {
  const folder = madeFolder();
  writeFileSync(join(folder, 'Dry', 'broken.wav'), 'RIFF');
  const some = await yappa('import', folder, '--port', port);
  expect([some.code, some.stderr]).toEqual([1, expect.stringContaining('broken.wav')]);
  expect(JSON.parse(some.stdout)).toHaveLength(3);
  listening.close();
  const none = await yappa('import', join(folder, 'bell.wav'), '--port', port);
  expect([none.code, none.stderr]).toEqual([1, expect.stringContaining('start the application')]);
});
