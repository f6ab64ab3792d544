/** However a window is left, the next one shows what it showed: what is not saved is kept in the browser's database. */
import { expect } from '@playwright/test';
import { test } from './one-window.ts';
import { loadDocument, projectWith, saved, type } from './support.ts';

const LOOP = 'tests/fixtures/loops/swing-04.flac';
const tempoField = 'tempo';

test('edits made while the server is away survive a reload, all of them, and are saved when it is back', async ({
  page,
}) => {
  const id = await projectWith(page, LOOP);
  await page.route('**/saves', (route) => route.abort());
  for (const tempo of ['110', '120', '130']) await type(page, tempoField, tempo);
  await expect(page.getByTestId('save-state')).not.toHaveText('saved');
  // What is kept is there within a second; then the page goes without being asked.
  await expect
    .poll(() =>
      page.evaluate(
        () =>
          new Promise((resolve) => {
            const opening = indexedDB.open('yappa');
            opening.onsuccess = () => {
              const asked = opening.result.transaction('drafts').objectStore('drafts').getAll();
              asked.onsuccess = () => resolve(JSON.stringify(asked.result).includes('130'));
            };
          }),
      ),
    )
    .toBe(true);
  const questions: string[] = [];
  page.on('dialog', (dialog) => {
    questions.push(dialog.type());
    void dialog.accept();
  });
  await page.reload();
  expect(questions).toEqual(['beforeunload']);
  await expect(page.getByTestId('slice-count')).toBeVisible();
  await expect(page.getByLabel('tempo', { exact: true }).first()).toHaveValue(/^130/);
  await page.unroute('**/saves');
  await saved(page);
  expect((await loadDocument(page, id)).song.values.tempoBpm).toBe(130);
});

test('a backup comes from the shelf as one file', async ({ page }) => {
  await page.goto('/');
  const arriving = page.waitForEvent('download');
  await page.getByTestId('backup').click();
  expect((await arriving).suggestedFilename()).toMatch(/^yappa-\d{4}-\d\d-\d\d\.sqlite$/);
});
