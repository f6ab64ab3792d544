// What the scripts have in common: saying what they do, and doing it. Plain Node.js, for nothing is installed yet.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { createHash } from 'node:crypto';
import { fileURLToPath } from 'node:url';

export const root = fileURLToPath(new URL('../../', import.meta.url));
process.chdir(root);

export function say(text) {
  process.stdout.write(`${text}\n`);
}

export function giveUp(text) {
  process.stderr.write(`${text}\n`);
  process.exit(1);
}

export function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  const fits = (major === 20 && minor >= 19) || (major === 22 && minor >= 12) || major > 22;
  if (!fits)
    giveUp(
      `Node.js ${process.versions.node} is too old: install version 20.19 or newer, 22.12 or newer, from your package manager.`,
    );
}

/** Runs a command, its output shown; gives its exit code. While it is silent, says now and then that it still runs. */
export function run(command, args, { quiet = false, env = {}, what = command } = {}) {
  return new Promise((resolve) => {
    const began = Date.now();
    const child = spawn(command, args, {
      stdio: quiet ? ['ignore', 'pipe', 'pipe'] : 'inherit',
      env: { ...process.env, ...env },
    });
    let output = '';
    child.stdout?.on('data', (data) => (output += data));
    child.stderr?.on('data', (data) => (output += data));
    const timer = setInterval(
      () => say(`  ${what}: still at it, ${Math.round((Date.now() - began) / 1000)} s`),
      20_000,
    );
    child.on('error', (error) => {
      output += error.message;
    });
    child.on('close', (code) => {
      clearInterval(timer);
      if (code !== 0 && quiet) process.stderr.write(output);
      resolve(code ?? 1);
    });
  });
}

export async function step(title, command, args, options = {}) {
  say(`\n▸ ${title}`);
  const began = Date.now();
  const code = await run(command, args, { what: title, ...options });
  if (code !== 0) giveUp(`\n✗ ${title}: failed.`);
  say(`  ${((Date.now() - began) / 1000).toFixed(1)} s`);
}

/** Several steps side by side, on two processors; each says how it ended, and what it printed if it failed. */
export async function together(steps) {
  const waiting = [...steps];
  const failed = [];
  async function work() {
    for (let next = waiting.shift(); next; next = waiting.shift()) {
      const [title, command, args, options] = next;
      say(`\n▸ ${title}`);
      const began = Date.now();
      const code = await run(command, args, { what: title, quiet: true, ...options });
      say(`  ${title}: ${code === 0 ? '' : 'failed, '}${((Date.now() - began) / 1000).toFixed(1)} s`);
      if (code !== 0) failed.push(title);
    }
  }
  await Promise.all([work(), work()]);
  if (failed.length > 0) giveUp(`\n✗ ${failed.join(', ')}: failed.`);
}

const QUICKLY = { CFLAGS: '-O1', CXXFLAGS: '-O1' };
const STAMP = 'node_modules/.yappa-lock';

/** Fetches the packages unless those of this lock file are there. @returns the step that compiles what has to be; null when nothing has */
export async function fetchPackages() {
  const lock = createHash('sha256').update(readFileSync('package-lock.json')).digest('hex');
  if (existsSync(STAMP) && readFileSync(STAMP, 'utf8') === lock) return null;
  const options = ['--ignore-scripts', '--no-audit', '--no-fund'];
  await step('Fetching packages', 'npm', ['ci', ...options]);
  return {
    // Half the time of full optimisation; what it is asked is small.
    step: ['Compiling the database (about a minute, the first time only)', 'npm', ['rebuild'], { env: QUICKLY }],
    done: () => writeFileSync(STAMP, lock),
  };
}

/** Fetches and compiles the packages unless those of this lock file are there. */
export async function ensurePackages() {
  const compiling = await fetchPackages();
  if (!compiling) return;
  await step(...compiling.step);
  compiling.done();
}

/** Debian's Chromium without its windows: the same tests take a seventh less time. */
const WITHOUT_WINDOWS = 'chromium-headless-shell';
const BROWSERS = [WITHOUT_WINDOWS, 'chromium', 'chromium-browser', 'google-chrome'].map((name) => `/usr/bin/${name}`);

/** Path of a Chromium for the browser tests; installs Debian's where there is none, or only a slower one. */
export async function ensureChromium() {
  const find = () => [process.env.CHROMIUM, ...BROWSERS].find((place) => place && existsSync(place));
  const isRoot = process.getuid?.() === 0;
  const found = find();
  // Nobody is asked for a password to save time.
  if (found && (found !== BROWSERS[1] || !isRoot)) return found;
  const apt = (...args) => [...(isRoot ? [] : ['sudo']), 'apt-get', ...args];
  for (const [title, [command, ...args]] of [
    ['Updating the package lists', apt('update', '-q')],
    [
      'Installing Chromium for the browser tests',
      apt('install', '-y', '-q', '--no-install-recommends', WITHOUT_WINDOWS),
    ],
  ]) {
    say(`\n▸ ${title}`);
    const code = await run(command, args, { quiet: true, what: title, env: { DEBIAN_FRONTEND: 'noninteractive' } });
    if (code !== 0) break;
  }
  return find() ?? giveUp('Chromium could not be installed: install it by hand and set CHROMIUM to its path.');
}

function newest(paths) {
  const { stdout } = spawnSync('find', [...paths, '-type', 'f', '-newer', 'dist/server/main.js'], { encoding: 'utf8' });
  return stdout.trim() !== '';
}

/** Builds interface and server unless they are newer than their sources. */
export async function ensureBuild() {
  const there =
    existsSync('dist/server/main.js') &&
    existsSync('dist/web/page/page.js') &&
    existsSync('dist/web/index.html') &&
    statSync('dist/web/index.html').size > 0;
  if (there && !newest(['src', 'docs/guide.md', 'vite.config.ts', 'vite.page.config.ts', 'package-lock.json'])) return;
  await step('Building', 'npx', ['vite', 'build', '--logLevel', 'warn']);
  await step('Building the page that plays', 'npx', [
    'vite',
    'build',
    '--config',
    'vite.page.config.ts',
    '--logLevel',
    'warn',
  ]);
  await step('Building the server', 'npx', [
    'vite',
    'build',
    '--ssr',
    'src/server/main.ts',
    '--outDir',
    'dist/server',
    '--logLevel',
    'warn',
  ]);
}

/** Runs the server until it ends; signals are passed on. */
export function serve(env) {
  const child = spawn(process.execPath, ['dist/server/main.js'], { stdio: 'inherit', env: { ...process.env, ...env } });
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => child.kill(signal));
  child.on('close', (code) => process.exit(code ?? 0));
}
