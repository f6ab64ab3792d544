/** The server goes while a window is open: the window works on with all its parts, and a reload finds the application. */
import { spawn, type ChildProcess } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { expect } from '@playwright/test';
import { testAnew as test } from './one-window.ts';
import { choose, ENGINE_RATE, goTo, listen, menuField, peakOf, pickFiles, saved, watchForTrouble } from './support.ts';

const PORT = '4798';
const BASE = `http://localhost:${PORT}`;
const LOOP = 'tests/fixtures/loops/swing-04.flac';

test.use({ serviceWorkers: 'allow' });

async function startServer(): Promise<ChildProcess> {
  mkdirSync('data/e2e-away', { recursive: true });
  const env = { ...process.env, PORT, YAPPA_DATA: 'data/e2e-away', YAPPA_DB: 'away.sqlite', LOG_LEVEL: 'error' };
  const server = spawn(process.execPath, ['dist/server/main.js'], { stdio: 'ignore', env });
  await expect.poll(async () => (await fetch(`${BASE}/api/health`).catch(() => null))?.ok ?? false).toBe(true);
  return server;
}

async function stop(server: ChildProcess): Promise<void> {
  const gone = new Promise((resolve) => server.once('exit', resolve));
  server.kill();
  await gone;
}

test('every part of the page opens while the server is away, and what was done is saved when it is back', async ({
  page,
}) => {
  let server = await startServer();
  try {
    const trouble = watchForTrouble(page);
    await page.goto(BASE);
    await page.getByTestId('new-project').click();
    await expect(page.getByText('Drop a loop here.')).toBeVisible();
    await pickFiles(page, page.getByTestId('first-files'), LOOP);
    await expect(page.getByTestId('slice-count')).toBeVisible();
    await saved(page);
    const address = page.url();
    // The page has come to rest, and its parts are kept.
    await page.waitForFunction(async () => {
      await navigator.serviceWorker.ready;
      return navigator.serviceWorker.controller !== null;
    });

    await stop(server);
    // Nothing of this was opened before.
    for (const place of ['Shape', 'Running order', 'Take away', 'Bench']) await goTo(page, place);
    await page.keyboard.press('?');
    await expect(page.getByRole('dialog')).toBeVisible();
    await page.keyboard.press('Escape');
    await page.getByTestId('source-canvas').click({ position: { x: 60, y: 60 } });
    await choose(page, menuField(page, 'loop'), 'forwards');
    const heard = await listen(page, ENGINE_RATE / 2);
    expect(peakOf(heard[0]!)).toBeGreaterThan(0.05);
    await page.keyboard.press('Space');
    expect(trouble).toEqual([]);

    page.on('dialog', (dialog) => void dialog.accept());
    await page.reload();
    await expect(page.getByText('the server does not answer').first()).toBeVisible();

    server = await startServer();
    await page.goto(address);
    await expect(page.getByTestId('slice-count')).toBeVisible();
    await saved(page);
    const id = address.split('/').at(-1)!;
    const { document } = (await (await page.request.get(`${BASE}/api/projects/${id}`)).json()) as {
      document: { zones: Record<string, { values: { loopMode?: string } }> };
    };
    expect(Object.values(document.zones).filter(({ values }) => values.loopMode === 'forwards')).toHaveLength(1);
  } finally {
    server.kill();
  }
});
