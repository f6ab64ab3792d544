/** The way back: earlier versions, versions that were not taken, and what was deleted. */
import { expect } from '@playwright/test';
import { tempoOf } from '../support/edits.ts';
import { firstDifference } from '../support/signals.ts';
import { test } from './one-window.ts';
import {
  changeElsewhere,
  ENGINE_RATE,
  expectedSound,
  fromMenu,
  listen,
  loadAssets,
  loadDocument,
  newProject,
  peakOf,
  playedPattern,
  projectWith,
  renameProject,
  saved,
} from './support.ts';

const LOOP = 'tests/fixtures/loops/swing-04.flac';

test('an earlier version is looked at, heard, gone back to, and copied into a project of its own', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await page.getByTestId('deal').click();
  await saved(page);
  const dealt = await loadDocument(page, id);
  const events = (await playedPattern(page, id)).events.map(({ sliceId }) => sliceId);
  await page.getByTestId('deal').click();
  await saved(page);
  const assets = await loadAssets(page, dealt);

  await fromMenu(page, 'The project', 'Versions');
  const list = page.getByTestId('versions').getByRole('listitem');
  await expect(list.last()).toContainText('as it was begun');
  await list.filter({ hasText: 'deal' }).nth(1).click();
  await expect(page.getByTestId('viewing')).toContainText('An earlier version');
  await expect(page.getByTestId('hand-count')).toHaveText('2 of 2');
  const heard = await listen(page, 2 * ENGINE_RATE);
  expect(peakOf(heard[0]!)).toBeGreaterThan(0.05);
  expect(firstDifference(heard[0]!, expectedSound(dealt, assets, 2 * ENGINE_RATE)[0]!)).toBe(-1);
  await page.getByTestId('play').click();

  // Nothing is changed while it is looked at.
  await page.getByTestId('deal').click();
  await expect(page.getByText('This is an earlier version')).toBeVisible();
  expect((await playedPattern(page, id)).pattern.handOrder).toHaveLength(3);

  await page.getByRole('button', { name: 'Go back to it' }).click();
  await expect(page.getByTestId('viewing')).toHaveCount(0);
  expect((await playedPattern(page, id)).events.map(({ sliceId }) => sliceId)).toEqual(events);
  // Going back is a step like any other.
  await page.keyboard.press('Control+z');
  expect((await playedPattern(page, id)).pattern.handOrder).toHaveLength(3);

  await fromMenu(page, 'The project', 'Versions');
  await list.filter({ hasText: 'deal' }).last().click();
  await page.getByRole('button', { name: 'Copy into a new project' }).click();
  await expect(page).not.toHaveURL(new RegExp(id));
  await expect(page.getByTestId('hand-count')).toHaveText('2 of 2');
  const copy = await loadDocument(page, page.url().split('/').at(-1)!);
  expect(copy.parts).toEqual(dealt.parts);
});

test('the version that is not taken in a conflict stands among the versions', async ({ page, context }) => {
  const id = await projectWith(page, LOOP);
  await changeElsewhere(context, id);
  await page.getByRole('spinbutton', { name: 'tempo', exact: true }).focus();
  await page.keyboard.type('77');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert').filter({ hasText: 'changed elsewhere' })).toBeVisible();
  await page.getByRole('button', { name: 'take the other' }).click();
  await expect(page.getByTestId('hand-count')).toHaveText('2 of 2');
  expect(tempoOf(await loadDocument(page, id))).not.toBe(77);
  await fromMenu(page, 'The project', 'Versions');
  await page
    .getByTestId('versions')
    .getByRole('listitem')
    .filter({ hasText: 'not taken when two windows met' })
    .click();
  await expect(page.getByRole('spinbutton', { name: 'tempo', exact: true })).toHaveValue('77.00');
  await page.getByRole('button', { name: 'Go back to it' }).click();
  await saved(page);
  expect(tempoOf(await loadDocument(page, id))).toBe(77);
});

test('leaving in the middle of a conflict keeps this window’s version', async ({ page, context }) => {
  const id = await projectWith(page, LOOP);
  await changeElsewhere(context, id);
  await page.getByRole('button', { name: 'click', exact: true }).click();
  await expect(page.getByText('changed in another window')).toBeVisible();
  await page.getByRole('link', { name: 'Shelf' }).click();
  await expect(page.getByTestId('new-project')).toBeVisible();
  await page.goBack();
  await expect(page.getByText('changed in another window')).toBeVisible();
  await page.getByRole('button', { name: 'go on with mine' }).click();
  await expect(page.getByTestId('save-state')).toHaveText('saved');
  await expect(page.getByRole('button', { name: 'click', exact: true })).toHaveAttribute('aria-pressed', 'true');
});

test('what was deleted is listed, brought back, and given up when asked', async ({ page }) => {
  const id = await newProject(page);
  await renameProject(page, 'A drowned pier');
  await saved(page);
  await page.getByRole('link', { name: 'Shelf' }).click();
  await fromMenu(page, 'More for A drowned pier', 'Delete');
  const deleted = page.getByTestId('deleted');
  await page.getByRole('button', { name: /^deleted/ }).click();
  await expect(deleted).toContainText('A drowned pier');
  await expect(page.getByText('kept for 30 days')).toBeVisible();
  await page.getByRole('button', { name: 'Bring back A drowned pier' }).click();
  await page.getByRole('button', { name: 'all', exact: true }).click();
  await expect(page.getByTestId('projects')).toContainText('A drowned pier');
  await fromMenu(page, 'More for A drowned pier', 'Delete');
  await page.getByRole('button', { name: /^deleted/ }).click();
  await page.getByRole('button', { name: 'Empty now' }).click();
  await page.getByRole('button', { name: 'Empty', exact: true }).click();
  await expect(deleted).toContainText('Nothing was deleted.');
  expect((await page.request.post(`/api/projects/${id}/restore`)).status()).toBe(404);
});
