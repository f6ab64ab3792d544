/**
 * The servers of the browser tests: `servers.mjs PORT …`, one a port, each with a database of its own. The demo in it
 * is made once and copied. Ends when it is told to, or when one of them does.
 */
import { spawn, spawnSync } from 'node:child_process';
import { cpSync, mkdirSync, rmSync } from 'node:fs';
import { setTimeout as pause } from 'node:timers/promises';

const MADE = 'data/e2e-made/demo.sqlite';
const ports = process.argv.slice(2);

const { status } = spawnSync('npx', ['tsx', 'demo/make-demo.ts', MADE], { stdio: 'inherit' });
if (status !== 0) process.exit(status ?? 1);

async function answers(port) {
  try {
    return (await fetch(`http://localhost:${port}/api/health`)).ok;
  } catch {
    return false;
  }
}

const servers = [];
function endAll() {
  for (const server of servers) server.kill('SIGTERM');
}
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, endAll);

// One after the other: whoever waits for the last waits for all.
for (const [worker, port] of ports.entries()) {
  const folder = `data/e2e-${worker}`;
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  cpSync(MADE, `${folder}/demo.sqlite`);
  const env = { ...process.env, PORT: port, YAPPA_DATA: folder, YAPPA_DB: 'demo.sqlite', LOG_LEVEL: 'warn' };
  const server = spawn(process.execPath, ['dist/server/main.js'], { stdio: 'inherit', env });
  server.on('close', (code) => {
    endAll();
    process.exitCode = code ?? 1;
  });
  servers.push(server);
  while (server.exitCode === null && !(await answers(port))) await pause(100);
}
