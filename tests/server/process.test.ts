/** The server as a process: how it starts, refuses to start, stops, and what survives when it is killed. */
import { spawn, type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { chmodSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, describe, expect, it } from 'vitest';
import { diff } from '#core/document/diff.ts';
import type { ProjectDocument } from '#core/document/schema.ts';

const running: ChildProcess[] = [];
const folders: string[] = [];
afterEach(() => {
  for (const child of running.splice(0)) child.kill('SIGKILL');
  for (const folder of folders.splice(0)) rmSync(folder, { recursive: true, force: true });
});

function newFolder(): string {
  const folder = mkdtempSync(join(tmpdir(), 'yappa-'));
  folders.push(folder);
  return folder;
}

interface Started {
  child: ChildProcess;
  base: string;
}

function launch(env: Record<string, string>): ChildProcess {
  const child = spawn('node', ['--import', 'tsx', 'src/server/main.ts'], {
    env: { ...process.env, LOG_LEVEL: 'silent', ...env },
  });
  running.push(child);
  return child;
}

function spawnTracked(command: string, args: string[], env: NodeJS.ProcessEnv): ChildProcess {
  const child = spawn(command, args, { env });
  running.push(child);
  return child;
}

function start(data: string): Promise<Started> {
  const child = launch({ PORT: '0', YAPPA_DATA: data });
  return new Promise((resolve, reject) => {
    child.stdout!.on('data', (text: Buffer) => {
      const address = /http:\/\/localhost:\d+/.exec(text.toString())?.[0];
      if (address) resolve({ child, base: address });
    });
    child.once('close', (code) => reject(new Error(`the server ended with ${code}`)));
  });
}

function endOf(child: ChildProcess): Promise<{ code: number | null; text: string }> {
  let text = '';
  child.stderr!.on('data', (data: Buffer) => (text += data.toString()));
  return new Promise((resolve) => child.once('close', (code) => resolve({ code, text })));
}

const json = async (url: string, body?: object) => {
  const init = body
    ? { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }
    : {};
  return (await (await fetch(url, init)).json()) as { id: string; document: ProjectDocument; revision: number };
};

describe('the server process', () => {
  it('keeps every acknowledged save when it is killed in the middle of saving', async () => {
    const data = newFolder();
    const { child, base } = await start(data);
    const { id } = await json(`${base}/api/projects`, { name: 'storm' });
    let { document, revision } = await json(`${base}/api/projects/${id}`);
    const killAt = Date.now() + 600;
    for (let round = 0; Date.now() < killAt + 2000; round++) {
      const after = { ...document, song: { ...document.song, values: { tempoBpm: 60 + (round % 200) } } };
      if (Date.now() > killAt) child.kill('SIGKILL');
      try {
        const answer = await json(`${base}/api/projects/${id}/saves`, {
          saveId: randomUUID(),
          baseRevision: revision,
          label: 'tempo',
          changes: diff(document, after),
        });
        revision = answer.revision;
        document = after;
      } catch {
        break;
      }
    }
    expect(revision).toBeGreaterThan(5);
    const again = await start(data);
    const loaded = await json(`${again.base}/api/projects/${id}`);
    // The save in flight may have arrived; nothing that was acknowledged may be lost.
    expect(loaded.revision).toBeGreaterThanOrEqual(revision);
    expect(loaded.revision).toBeLessThanOrEqual(revision + 1);
    if (loaded.revision === revision) expect(loaded.document).toEqual(document);
  });

  it('stops cleanly on SIGTERM', async () => {
    const { child } = await start(newFolder());
    const end = endOf(child);
    child.kill('SIGTERM');
    expect(await end).toEqual({ code: 0, text: '' });
  });

  it('says in one sentence that its port is taken', async () => {
    const blocker = createServer();
    const port = await new Promise<number>((resolve) => {
      blocker.listen(0, '127.0.0.1', () => resolve((blocker.address() as { port: number }).port));
    });
    const { code, text } = await endOf(launch({ PORT: String(port), YAPPA_DATA: newFolder() }));
    blocker.close();
    expect(code).toBe(1);
    expect(text).toBe(`Port ${port} is taken: choose another one with PORT=NUMBER.\n`);
  });

  it('says in one sentence that its data folder cannot be used', async () => {
    const file = join(newFolder(), 'a-file');
    writeFileSync(file, '');
    chmodSync(file, 0o400);
    const { code, text } = await endOf(launch({ PORT: '0', YAPPA_DATA: join(file, 'below') }));
    expect(code).toBe(1);
    expect(text).toContain('cannot be written: choose another one with YAPPA_DATA=FOLDER.');
    expect(text.trim().split('\n')).toHaveLength(1);
  });

  it('says in one sentence that PORT is no port', async () => {
    const { code, text } = await endOf(launch({ PORT: 'tuesday', YAPPA_DATA: newFolder() }));
    expect({ code, text }).toEqual({ code: 1, text: 'PORT is "tuesday", not a port number.\n' });
  });

  it('says in one sentence that its data is in use by another server, which goes on', async () => {
    const folder = newFolder();
    const first = await start(folder);
    const { code, text } = await endOf(launch({ PORT: '0', YAPPA_DATA: folder }));
    expect(code).toBe(1);
    expect(text.trim().split('\n')).toHaveLength(1);
    expect(text).toMatch(/in use/);
    expect((await fetch(`${first.base}/api/health`)).status).toBe(200);
  });

  it('shows no path of the machine for a file that is not there', async () => {
    const { base } = await start(newFolder());
    const answer = await fetch(`${base}/assets/none-12345678.js`);
    const text = await answer.text();
    expect(answer.status).toBe(404);
    expect(text).not.toContain(process.cwd());
    expect(JSON.parse(text)).toMatchObject({ code: 'not-found' });
  });

  it('is backed up by a command while it runs and while it does not, and a backup is put back', async () => {
    const data = newFolder();
    const { child, base } = await start(data);
    const { id } = await json(`${base}/api/projects`, { name: 'kept' });
    const PORT = new URL(base).port;
    const command = (args: string[], folder = data) => {
      const env = { ...process.env, PORT, YAPPA_DATA: folder };
      return endOf(spawnTracked('node', ['scripts/backup.mjs', ...args], env));
    };
    const [running, stopped] = [join(data, 'running.sqlite'), join(data, 'stopped.sqlite')];
    expect((await command([running])).code).toBe(0);
    expect((await command([running])).text).toContain('is there already');
    expect((await command(['--restore', running])).text).toContain('Stop the application');
    const ended = endOf(child);
    child.kill('SIGTERM');
    await ended;
    expect((await command([stopped])).code).toBe(0);
    writeFileSync(join(data, 'text.sqlite'), 'no database');
    expect((await command(['--restore', join(data, 'text.sqlite')])).text).toContain('is no backup');
    for (const file of [running, stopped]) {
      const other = newFolder();
      expect((await command(['--restore', file], other)).code).toBe(0);
      const again = await start(other);
      expect((await json(`${again.base}/api/projects/${id}`)).document.name).toBe('kept');
      again.child.kill('SIGKILL');
    }
  });
});
