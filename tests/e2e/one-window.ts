/**
 * Tests that meet the server of their own worker; and those among them whose page is the same window for all tests of a run: a new window has to compile the whole application anew,
 * which takes longer than most tests do. What a test leaves behind is cleared away: stored data, replaced requests,
 * listeners, sizes, other windows. A test that changes what a page starts with takes `testAnew`.
 */
import { test as base, type BrowserContext, type Page } from '@playwright/test';

async function clearAway(page: Page): Promise<void> {
  const context = page.context();
  await page.unrouteAll({ behavior: 'ignoreErrors' });
  for (const other of context.pages()) if (other !== page) await other.close();
  // A page that is left with something unsaved asks; the answer is to leave.
  page.on('dialog', (dialog) => void dialog.accept().catch(() => undefined));
  await page.goto('about:blank');
  page.removeAllListeners();
  await page.setViewportSize({ width: 1280, height: 800 });
}

/** Each worker has a server, and a database, of its own: see playwright.config.ts. */
const FIRST_PORT = 4791;
const ownServer = () => `http://localhost:${FIRST_PORT + base.info().parallelIndex}`;

export const testAnew = base.extend({
  baseURL: async ({}, use) => {
    await use(ownServer());
  },
});

export const test = testAnew.extend<{ context: BrowserContext; page: Page }, { oneWindow: Page }>({
  oneWindow: [
    async ({ browser }, use) => {
      const { viewport } = base.info().project.use;
      const context = await browser.newContext({
        baseURL: ownServer(),
        viewport,
        acceptDownloads: true,
        serviceWorkers: 'block',
        // Nothing waits for menus to come and go.
        reducedMotion: 'reduce',
      });
      await use(await context.newPage());
      await context.close();
    },
    { scope: 'worker' },
  ],
  context: async ({ oneWindow }, use) => {
    await use(oneWindow.context());
  },
  page: async ({ oneWindow: page, baseURL }, use) => {
    const session = await page.context().newCDPSession(page);
    await session.send('Storage.clearDataForOrigin', { origin: new URL(baseURL!).origin, storageTypes: 'all' });
    await session.detach();
    await use(page);
    await clearAway(page);
  },
});
