/**
 * A test whose page is the same window for all tests of a run: a new window has to compile the whole application anew,
 * which takes longer than most tests do. What a test leaves behind is cleared away: stored data, replaced requests,
 * listeners, sizes, other windows. A test that changes what a page starts with takes Playwright's own `test`.
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

export const test = base.extend<{ context: BrowserContext; page: Page }, { oneWindow: Page }>({
  oneWindow: [
    async ({ browser }, use) => {
      const { baseURL, viewport } = base.info().project.use;
      const context = await browser.newContext({ baseURL, viewport, acceptDownloads: true, serviceWorkers: 'block' });
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
