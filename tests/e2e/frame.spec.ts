/** The frame round all places: what is running, finding commands, the keyboard alone, and windows of every size. */
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, type Page, type Response } from '@playwright/test';
import { writeWav } from '#core/formats/wav-write.ts';
import { burstLoop } from '../support/signals.ts';
import { testAnew as test } from './one-window.ts';
import {
  ENGINE_RATE,
  firstPart,
  listen,
  loadDocument,
  newProject,
  peakOf,
  projectWith,
  restingBox,
  saved,
} from './support.ts';

const LOOP = 'tests/fixtures/loops/swing-04.flac';

/** A folder with so many loops that are quick to read, and one file that is none. */
function folderOf(count: number): string[] {
  const folder = mkdtempSync(join(tmpdir(), 'yappa-e2e-'));
  const files = Array.from({ length: count }, (_, i) => {
    const path = join(folder, `step ${i}.wav`);
    writeFileSync(path, writeWav(burstLoop(44_100, [0, 9000 + i * 700, 30_000]), { encoding: 'pcm16' }));
    return path;
  });
  const letter = join(folder, 'letter.wav');
  writeFileSync(letter, 'dear captain, this is no sound');
  return [...files, letter];
}

test('many imports are counted, given up all at once, and what failed stays listed until it is read', async ({
  page,
}) => {
  await page.goto('/');
  const work = page.getByTestId('work');
  const asked = page.waitForEvent('filechooser');
  await page.getByTestId('import').click();
  await (await asked).setFiles(folderOf(5));
  await expect(work).toContainText(/Importing [1-6] of 6/);
  await expect(work).toContainText('1 thing failed', { timeout: 30_000 });
  await work.getByRole('button', { name: '1 thing failed' }).click();
  await expect(page.getByTestId('failures')).toContainText(
    'letter.wav: this is not a WAV, FLAC, MP3, Ogg or AIFF file.',
  );
  await page.keyboard.press('Escape');
  await expect(work).toHaveCount(0);

  const again = page.waitForEvent('filechooser');
  await page.getByTestId('import').click();
  await (await again).setFiles(folderOf(40));
  await expect(work).toContainText(/of 41/);
  await work.getByRole('button', { name: 'Cancel all' }).click();
  await expect(work).toHaveCount(0);
});

test('a new project is called after its first sound, and a name of its own stays', async ({ page }) => {
  await newProject(page);
  await expect(page.getByTestId('project-name')).toHaveText('New project');
  // First steps offer sounds of the shelf, to try it with.
  await page.getByTestId('offers').getByRole('button', { name: /^Cut / }).first().click();
  await expect(page.getByTestId('slice-count')).toBeVisible();
  const name = await page.getByTestId('part').innerText();
  await expect(page.getByTestId('project-name')).toHaveText(name.split('\n')[0]!);
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('project-name')).toHaveText('New project');
});

test('every command is found by a few letters, and done', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await page.keyboard.press('/');
  await page.getByRole('textbox', { name: 'Find a command' }).fill('deal ag');
  await expect(page.getByTestId('commands').getByRole('listitem')).toHaveCount(1);
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('hand-count')).toHaveText('2 of 2');
  await expect(page.getByTestId('commands')).toHaveCount(0);
  await page.keyboard.press('/');
  await page.getByRole('textbox', { name: 'Find a command' }).fill('running');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(new RegExp(`/order/${id}`));
  // What cannot be done at a place is not offered there.
  await page.getByRole('link', { name: 'yappa' }).click();
  await expect(page).toHaveURL(/\/$/);
  await page.reload();
  await page.keyboard.press('/');
  await page.getByRole('textbox', { name: 'Find a command' }).fill('deal again');
  await expect(page.getByText('Nothing is called that.')).toBeVisible();
});

test('the keyboard comes back to where it was when a dialog or a menu goes', async ({ page }) => {
  await projectWith(page, LOOP);
  const play = page.getByTestId('play');
  await play.focus();
  await page.keyboard.press('/');
  const field = page.getByRole('textbox', { name: 'Find a command' });
  await expect(field).toBeFocused();
  // There is nothing else in it to go to.
  await page.keyboard.press('Tab');
  await expect(field).toBeFocused();
  await page.keyboard.press('Escape');
  await expect(play).toBeFocused();
  await page.keyboard.press('?');
  await expect(
    page.getByRole('heading', { name: 'All shortcuts' }).or(page.getByText('All shortcuts').first()),
  ).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(play).toBeFocused();
  await page.keyboard.press('Tab');
  await page.keyboard.press('Shift+Tab');
  const menu = page.getByRole('button', { name: /^More for/ }).first();
  await menu.focus();
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowDown');
  // Pressed before the list is there, the arrow would open it again.
  await expect(page.locator('.v-list-item:focus')).toHaveCount(1);
  // While it still opens it does not hear Escape.
  await restingBox(page.locator('.v-list-item:focus'));
  await page.keyboard.press('Escape');
  await expect(menu).toBeFocused();
});

test('with the keyboard alone: a sound is cut, a slice chosen, changed, heard, and a pattern dealt', async ({
  page,
}) => {
  const id = await newProject(page);
  const tabTo = async (name: RegExp) => {
    for (let step = 0; step < 120; step++) {
      await page.keyboard.press('Tab');
      const found = await page.evaluate(() => {
        const element = window.document.activeElement;
        const outline = element ? getComputedStyle(element).outlineStyle : '';
        const field = element?.closest('.v-field');
        const isSeen = outline !== 'none' || field?.classList.contains('v-field--focused') === true;
        return { name: element?.getAttribute('aria-label') ?? element?.textContent?.trim() ?? '', isSeen };
      });
      if (!name.test(found.name)) continue;
      expect(found.isSeen, `${found.name} shows that it has the focus`).toBe(true);
      return;
    }
    throw new Error(`${name} was not reached with the Tab key`);
  };
  await tabTo(/^Cut /);
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('slice-count')).toBeVisible();
  // The bench is built band by band: the last of them is there, and the details.
  await expect(page.getByTestId('deal')).toBeVisible();
  await expect(page.getByTestId('pattern-canvas')).toBeVisible();
  await expect(page.getByRole('complementary').getByRole('heading', { level: 2 })).toBeVisible();
  await page.keyboard.press('ArrowRight');
  await expect(page.getByRole('heading', { name: 'Slice 1' })).toBeVisible();
  await tabTo(/^tune$/);
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('ArrowUp');
  await saved(page);
  const { document } = await firstPart(page, id);
  expect(Object.values(document.zones).filter(({ values }) => values.tuneCents === 200)).toHaveLength(1);
  await tabTo(/^Deal/);
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('hand-count')).toHaveText('2 of 2');
  const heard = await listen(page, ENGINE_RATE, () => page.keyboard.press('z', { delay: 60 }));
  expect(peakOf(heard[0]!)).toBeGreaterThan(0.01);
  expect((await loadDocument(page, id)).partOrder).toHaveLength(1);
});

/** What runs over the edge of the window, or is cut off in its own box. */
function overflowing(page: Page): Promise<string[]> {
  return page.evaluate(() => {
    const found: string[] = [];
    if (document.documentElement.scrollWidth > innerWidth) found.push('the page scrolls sideways');
    for (const button of document.querySelectorAll<HTMLElement>('main button, nav button, nav a')) {
      const box = button.getBoundingClientRect();
      const scroller = button.closest('.hands, .cards, .tags, .v-slide-group, .v-table__wrapper, .rail, .transport');
      if (box.width === 0 || scroller) continue;
      if (box.right > innerWidth + 1 || box.left < -1)
        found.push(button.getAttribute('aria-label') ?? button.innerText);
    }
    return found;
  });
}

/** As by the browser's own ways back and forth: without loading the page anew, whatever of it is in view. */
async function walkTo(page: Page, path: string): Promise<void> {
  await page.evaluate((to) => {
    history.pushState({}, '', to);
    dispatchEvent(new PopStateEvent('popstate', { state: {} }));
  }, path);
}

test('windows from the smallest to the largest, and at 200 percent, show everything that is needed', async ({
  page,
}) => {
  test.slow();
  const id = await projectWith(page, LOOP);
  const sizes = [
    [2560, 1440],
    [1280, 800],
    [1024, 640],
    // 1280 by 800 at 200 percent.
    [640, 400],
  ] as const;
  for (const [width, height] of sizes) {
    await page.setViewportSize({ width, height });
    for (const [place, title] of [
      ['bench', 'Bench'],
      ['shape', 'Shape'],
      ['order', 'Running order'],
      ['away', 'Take away'],
    ] as const) {
      await walkTo(page, `/${place}/${id}`);
      await expect(page.getByRole('main', { name: title })).toBeVisible();
      await expect(page.getByTestId('play')).toBeInViewport({ ratio: 1 });
      expect(await overflowing(page), `${place} at ${width}`).toEqual([]);
    }
    await walkTo(page, `/bench/${id}`);
    const source = page.getByTestId('source-canvas');
    await source.scrollIntoViewIfNeeded();
    await expect(page.getByTestId('slice-count')).toBeVisible();
    expect((await source.boundingBox())!.height, `the source at ${width}`).toBeGreaterThan(60);
    if (width >= 1024) continue;
    // The details lie over the place, and are opened there.
    await page.getByRole('button', { name: 'Show the details' }).click();
    await expect(page.getByRole('complementary', { name: 'Details' })).toBeInViewport();
    await page.getByRole('button', { name: 'Hide the details' }).click();
    await expect(page.getByRole('complementary', { name: 'Details' })).toHaveCount(0);
  }
});

test('for fingers every control is 40 pixels tall', async ({ browser }) => {
  const page = await browser.newPage({ hasTouch: true, isMobile: true, viewport: { width: 1280, height: 900 } });
  await projectWith(page, LOOP);
  const low = await page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>('.v-btn, .v-field')]
      .filter((one) => one.offsetParent !== null && one.getBoundingClientRect().height < 39.5)
      .map((one) => one.getAttribute('aria-label') ?? one.innerText),
  );
  expect(low).toEqual([]);
  await page.close();
});

/** Bytes of the page's own scripts and styles, as they are sent, until it can be used. */
async function firstLoad(page: Page, open: () => Promise<unknown>): Promise<{ script: number; style: number }> {
  const bytes = { script: 0, style: 0 };
  const loads: Promise<void>[] = [];
  const count = (response: Response) => {
    const kind = response.request().resourceType();
    if (kind !== 'script' && kind !== 'stylesheet') return;
    // Workers and the audio thread are no part of the page's own first load.
    if (/worker|worklet/.test(response.url())) return;
    loads.push(
      response
        .finished()
        .then(() => response.request().sizes())
        .then(({ responseBodySize }) => {
          bytes[kind === 'script' ? 'script' : 'style'] += responseBodySize;
        }),
    );
  };
  page.on('response', count);
  await open();
  // What comes later, when all is quiet, is no part of it.
  page.off('response', count);
  await Promise.all(loads);
  return bytes;
}

/** The application's own start; the bench, opened by its address, brings the whole of what is worked with. */
const START_SCRIPT_BYTES = 250_000;
const BENCH_SCRIPT_BYTES = 290_000;

test('the first load of the built application is within its budget, at the shelf and on the bench', async ({
  page,
  browser,
}) => {
  await projectWith(page, LOOP);
  const { pathname } = new URL(page.url());
  for (const path of ['/', pathname]) {
    const fresh = await (await browser.newContext()).newPage();
    const bytes = await firstLoad(fresh, async () => {
      await fresh.goto(path);
      const sign = path === '/' ? 'new-project' : 'slice-count';
      await expect(fresh.getByTestId(sign)).toBeVisible();
    });
    test.info().annotations.push({ type: `first load of ${path}`, description: JSON.stringify(bytes) });
    expect(bytes.script).toBeGreaterThan(50_000);
    expect(bytes.script).toBeLessThan(path === '/' ? START_SCRIPT_BYTES : BENCH_SCRIPT_BYTES);
    expect(bytes.style).toBeLessThan(60_000);
    await fresh.context().close();
  }
});

test('a part of the page that cannot be fetched is told of, and the page works on', async ({ page }) => {
  await projectWith(page, LOOP);
  const parts = '**/assets/ShortcutSheet*.js';
  await page.route(parts, (route) => route.abort());
  await page.keyboard.press('?');
  await expect(page.getByText('A part of the page could not be fetched.')).toBeVisible();
  await page.unroute(parts);
  const heard = await listen(page, ENGINE_RATE / 2);
  expect(peakOf(heard[0]!)).toBeGreaterThan(0.05);
});
