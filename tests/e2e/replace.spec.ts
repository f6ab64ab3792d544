/** Another loop in the place of a part's: what was made of the first stays, and is heard with the new one. */
import { expect } from '@playwright/test';
import { zoneValues } from '#core/queries/values.ts';
import { test } from './one-window.ts';
import {
  choose,
  firstPart,
  goTo,
  heardAsSaved,
  loadDocument,
  menuField,
  peakOf,
  projectWith,
  saved,
  watchForTrouble,
} from './support.ts';

test('a loop is replaced by one of the shelf: settings, chain and patterns stay; it is told, heard and undone', async ({
  page,
}) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, 'tests/fixtures/loops/swing-04.flac');
  await page.getByTestId('deal').click();
  await goTo(page, 'Shape');
  await page.getByRole('button', { name: 'add an effect' }).click();
  await page.locator('.v-menu .v-list').getByText('drive', { exact: true }).click();
  await page.getByRole('button', { name: 'its sounds', exact: true }).click();
  const tune = page.getByRole('spinbutton', { name: 'tune', exact: true }).first();
  await tune.focus();
  await page.keyboard.type('-3');
  await page.keyboard.press('Enter');
  await saved(page);
  const before = await loadDocument(page, id);
  const was = (await firstPart(page, id)).part;

  await goTo(page, 'Bench');
  await page.getByRole('button', { name: '+ add a sound' }).click();
  await choose(page, menuField(page, 'Where it comes to'), 'in place of the loop of swing-04');
  await page.getByLabel('Sounds of the shelf').getByText('Deckhand break', { exact: true }).click();
  await expect(
    page.getByText(/Deckhand break is in its place: \d+ of \d+ slices found their like by role/),
  ).toBeVisible();
  await saved(page);
  const after = await loadDocument(page, id);
  const { part } = await firstPart(page, id);
  expect(after.partOrder).toEqual(before.partOrder);
  expect(Object.values(after.sources).map(({ name }) => name)).toEqual(['Deckhand break']);
  expect(after.patterns).toEqual(before.patterns);
  expect(after.effects).toEqual(before.effects);
  for (const zoneId of was.zoneOrder) expect(zoneValues(after.zones[zoneId]!).tuneCents).toBe(-300);
  expect(part.activePatternId).toBe(was.activePatternId);

  expect(peakOf(await heardAsSaved(page, id))).toBeGreaterThan(0.02);

  await page.keyboard.press('Control+z');
  await saved(page);
  expect((await loadDocument(page, id)).cuts).toEqual(before.cuts);
  expect(trouble).toEqual([]);
});
