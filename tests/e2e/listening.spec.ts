/** Finding a sound on the shelf: by tag, by name, by ear, as it is and in time with the open song. */
import { expect, type Page } from '@playwright/test';
import { songValues } from '#core/queries/values.ts';
import { test } from './one-window.ts';
import {
  ENGINE_RATE,
  listen,
  loadDocument,
  peakOf,
  pickFiles,
  projectWith,
  restingBox,
  saved,
  type,
} from './support.ts';

const LOOP = 'tests/fixtures/loops/swing-04.flac';
const ROW = 'tr[data-id]';

const rows = (page: Page) => page.getByTestId('sources').locator(ROW);
const details = (page: Page) => page.getByRole('complementary', { name: 'The sound' });

async function names(page: Page): Promise<string[]> {
  return rows(page).locator('b.name').allInnerTexts();
}

test('sounds are sorted, searched, and filtered by tags; several are tagged and deleted at once', async ({ page }) => {
  await page.goto('/');
  await pickFiles(page, page.getByTestId('import'), [
    'tests/fixtures/loops/perc-02.flac',
    'tests/fixtures/loops/fast-04.flac',
  ]);
  await expect(rows(page).filter({ hasText: 'fast-04' })).toHaveCount(1);
  await expect(rows(page).filter({ hasText: 'perc-02' })).toHaveCount(1);
  const header = page.getByTestId('sources').getByRole('columnheader', { name: 'name' });
  await header.click();
  const up = await names(page);
  expect(up).toEqual([...up].sort((a, b) => a.localeCompare(b)));
  await header.click();
  // Of a long list only what is in view is there: the other end of it now, downwards.
  const down = await names(page);
  expect(down).toEqual([...down].sort((a, b) => b.localeCompare(a)));
  expect(down[0]!.localeCompare(up[0]!)).toBeGreaterThan(0);

  const search = page.getByRole('textbox', { name: 'Search the shelf' });
  await search.fill('break');
  await expect.poll(async () => (await names(page)).every((name) => /break|brushes/i.test(name))).toBe(true);
  await search.fill('');

  const tag = `pier ${test.info().retry}`;
  // Of a long list only what is in view is there: what came last stands first.
  await page.getByTestId('sources').getByRole('columnheader', { name: 'when' }).click();
  if ((await names(page))[0] !== 'fast-04')
    await page.getByTestId('sources').getByRole('columnheader', { name: 'when' }).click();
  for (const name of ['perc-02', 'fast-04']) {
    await rows(page).filter({ hasText: name }).getByRole('checkbox').check();
  }
  await rows(page).filter({ hasText: 'fast-04' }).locator('b').click();
  await expect(details(page)).toContainText('and 1 more');
  await page.getByRole('combobox', { name: 'Tags' }).fill(tag);
  await page.keyboard.press('Enter');
  await expect(rows(page).filter({ hasText: tag })).toHaveCount(2);
  await page
    .getByRole('button', { name: `Only ${tag}` })
    .or(page.getByLabel(`Only ${tag}`))
    .first()
    .click();
  await expect(rows(page)).toHaveCount(2);
  await expect(page.getByTestId('sound-count')).toContainText('2 of');

  await page.getByRole('button', { name: 'Delete the chosen sounds' }).click();
  await expect(rows(page)).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(rows(page)).toHaveCount(2);
});

test('the shelf goes by keys: the cursor moves, Space hears, Enter cuts', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('textbox', { name: 'Search the shelf' }).fill('deckhand');
  await expect(rows(page)).toHaveCount(1);
  await page.getByTestId('sources').focus();
  await page.keyboard.press('ArrowDown');
  await expect(rows(page).first()).toHaveAttribute('aria-current', 'true');
  await expect(page.getByTestId('listening')).toContainText('slices at hits');
  const heard = await listen(page, 2 * ENGINE_RATE, () => page.keyboard.press('Space'));
  expect(peakOf(heard[0]!)).toBeGreaterThan(0.1);
  await page.keyboard.press('Space');
  await expect(page.getByLabel('Play Deckhand break').first()).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('project-name')).toHaveText('Deckhand break');
  await expect(page.getByTestId('slice-count')).toBeVisible();
  // It tells where it is used.
  await saved(page);
  await page.getByRole('link', { name: 'Shelf', exact: true }).click();
  await expect(page.getByTestId('uses')).toContainText('Deckhand break');
});

test('a loop is heard in the tempo of the open song, round and round, and as it is', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await type(page, 'tempo', '104');
  await saved(page);
  const { tempoBpm } = songValues(await loadDocument(page, id));
  await page.getByRole('link', { name: 'Shelf', exact: true }).click();
  await page.getByRole('textbox', { name: 'Search the shelf' }).fill('deckhand');
  const row = rows(page).filter({ hasText: 'Deckhand break' });
  await row.locator('b').click();
  await expect(row).toContainText('101.00 → 104.00');
  const round = Math.round(((8 * 60) / tempoBpm) * ENGINE_RATE);
  const seconds = (2 * 8 * 60) / tempoBpm + 2;
  const heard = await listen(page, Math.round(seconds * ENGINE_RATE), () =>
    row.getByLabel('Play Deckhand break').click(),
  );
  const begins = heard[0]!.findIndex((sample) => Math.abs(sample) > 0.01);
  expect(begins).toBeGreaterThanOrEqual(0);
  // The second round is the first, exactly two bars of the song later.
  let differs = 0;
  for (let i = begins + 2000; i < begins + round - 4000; i += 37) {
    differs = Math.max(differs, Math.abs(heard[0]![i]! - heard[0]![i + round]!));
  }
  expect(differs).toBeLessThan(0.001);
  expect(peakOf(heard[0]!)).toBeGreaterThan(0.1);
  await page.getByRole('button', { name: 'as it is' }).click();
  await expect(row).not.toContainText('→');
});

test('a slice of the listening strip is heard alone', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('textbox', { name: 'Search the shelf' }).fill('buoy bells');
  await rows(page).first().locator('b').click();
  await expect(page.getByTestId('listening')).toContainText('slice');
  const strip = await restingBox(page.getByTestId('listening-canvas'));
  const heard = await listen(page, 3 * ENGINE_RATE, () => page.mouse.click(strip.x + 20, strip.y + 30));
  const sounding = heard[0]!.filter((sample) => Math.abs(sample) > 0.001).length;
  expect(sounding).toBeGreaterThan(2000);
  expect(peakOf(heard[0]!.subarray(heard[0]!.length - 400))).toBe(0);
});

test('ten thousand sounds are sorted, searched and scrolled to their end; all are chosen at once', async ({ page }) => {
  const one = (place: number) => ({
    id: place.toString(16).padStart(64, '0'),
    name: `${['keel', 'mast', 'rope'][place % 3]} ${String(place).padStart(5, '0')}`,
    sampleRate: 44_100,
    channels: 2,
    frames: 88_200,
    byteLength: 352_800,
    createdAt: 1_700_000_000_000 - place * 60_000,
    facts: { tempo: { bpm: 60 + (place % 120), bars: 2 }, skyline: Array.from({ length: 96 }, (_, i) => (i % 9) / 9) },
    tags: place % 2 === 0 ? ['break'] : ['chords', 'soft'],
    isUsed: true,
    hasPrints: true,
  });
  const body = JSON.stringify(Array.from({ length: 10_000 }, (_, place) => one(place)));
  await page.route('**/api/sources', (route) => route.fulfill({ body, contentType: 'application/json' }));
  try {
    await page.goto('/');
    await expect(page.getByTestId('sound-count')).toHaveText('10000 sounds');
    await expect(rows(page).first()).toContainText('keel 00000');
    const header = page.getByTestId('sources').getByRole('columnheader', { name: 'name' });
    await header.click();
    await header.click();
    await expect(rows(page).first()).toContainText('rope 09998');
    const search = page.getByRole('textbox', { name: 'Search the shelf' });
    await search.fill('mast 0999');
    await expect(page.getByTestId('sound-count')).toHaveText('3 of 10000');
    await expect.poll(() => names(page)).toEqual(['mast 09997', 'mast 09994', 'mast 09991']);
    await search.fill('');
    await expect(async () => {
      await page
        .getByTestId('sources')
        .locator('.v-table__wrapper')
        .evaluate((one) => (one.scrollTop = 1e6));
      await expect(rows(page).last()).toContainText('keel 00000', { timeout: 1_000 });
    }).toPass();
    expect(await rows(page).count()).toBeLessThan(60);
    const all = page.getByRole('checkbox', { name: 'Choose all' });
    await all.check();
    await expect(rows(page).last().getByRole('checkbox')).toBeChecked();
    await expect(page.getByRole('button', { name: 'Delete the chosen sounds' })).toBeEnabled();
    await all.uncheck();
    // From one to another with Shift; the keyboard goes on where nothing was in the page yet.
    await rows(page).last().getByRole('checkbox').click();
    await rows(page)
      .nth(-4)
      .getByRole('checkbox')
      .click({ modifiers: ['Shift'] });
    await expect(rows(page).getByRole('checkbox', { checked: true })).toHaveCount(4);
    await rows(page).last().locator('b').click();
    for (let times = 0; times < 5; times++) await page.keyboard.press('PageUp');
    await expect(page.locator('tr[aria-current]')).toBeInViewport();
    await expect(page.locator('tr[aria-current]')).toContainText('keel 00150');
  } finally {
    await page.unroute('**/api/sources');
    await page.goto('/');
  }
});
