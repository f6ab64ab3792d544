/** A part printed: what it plays becomes a sound of its own, beside it, in its place, or on a key of it. */
import { expect, type Page } from '@playwright/test';
import { test } from './one-window.ts';
import {
  ENGINE_RATE,
  expectedSound,
  fromMenu,
  heardAsSaved,
  loadAssets,
  loadDocument,
  peakOf,
  projectWith,
  saved,
  watchForTrouble,
} from './support.ts';

const LOOP = 'tests/fixtures/loops/swing-04.flac';

async function print(page: Page, part: string, choices: readonly string[]): Promise<void> {
  await fromMenu(page, `More for ${part}`, 'Print …');
  const dialog = page.getByTestId('print');
  for (const words of choices) await dialog.getByRole('button', { name: words, exact: true }).click();
  await dialog.getByRole('button', { name: 'Print', exact: true }).click();
  await expect(dialog).toHaveCount(0);
}

test('a dealt pattern is printed beside its part, in its place and on a key; it sounds the same, and is taken back', async ({
  page,
}) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await page.getByTestId('deal').click();
  await saved(page);
  const before = await loadDocument(page, id);
  const parts = page.getByTestId('parts').getByRole('listitem');
  await print(page, 'swing-04', ['with its chain', 'beside it']);
  await expect.poll(async () => (await loadDocument(page, id)).partOrder.length).toBe(2);
  await saved(page);
  const printed = await loadDocument(page, id);
  const [oldId, newId] = printed.partOrder as [string, string];
  const cut = printed.cuts[printed.parts[newId]!.cutOrder[0]!]!;
  const { events } = before.patterns[before.parts[oldId]!.activePatternId]!;
  expect(Object.keys(cut.slices).length).toBeLessThanOrEqual(Object.keys(events).length + 1);
  expect(Object.keys(cut.slices).length).toBeGreaterThan(3);
  expect(cut.loop).not.toBeNull();

  // Alone it sounds as its part did, all round the loop.
  const assets = await loadAssets(page, printed);
  const alone = (partId: string) => {
    const others = printed.partOrder.filter((other) => other !== partId);
    const channels = { ...printed.channels };
    for (const other of others) {
      const { channelId } = printed.parts[other]!;
      channels[channelId] = { ...channels[channelId]!, values: { ...channels[channelId]!.values, muted: true } };
    }
    return expectedSound({ ...printed, channels }, assets, ENGINE_RATE);
  };
  const [was, is] = [alone(oldId), alone(newId)];
  for (const side of [0, 1]) expect(peakOf(is[side]!.map((x, i) => x - was[side]![i]!))).toBeLessThan(1e-5);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await loadDocument(page, id)).partOrder.length).toBe(1);

  const plain = await heardAsSaved(page, id, ENGINE_RATE);
  await print(page, 'swing-04', ['in its place']);
  await expect(page.getByText('swing-04,').first()).toBeVisible();
  await saved(page);
  expect((await loadDocument(page, id)).partOrder).toHaveLength(1);
  const instead = await heardAsSaved(page, id, ENGINE_RATE);
  expect(peakOf(instead.map((x, i) => x - plain[i]!))).toBeLessThan(2e-4);
  await page.keyboard.press('Control+z');
  await expect(parts.or(page.getByText('swing-04', { exact: true })).first()).toBeVisible();

  await print(page, 'swing-04', ['on a key of it', '2']);
  await expect(page.getByText('lies on the next free key')).toBeVisible();
  await saved(page);
  const keyed = await loadDocument(page, id);
  const part = keyed.parts[keyed.partOrder[0]!]!;
  expect(part.cutOrder).toHaveLength(2);
  expect(keyed.cuts[part.cutOrder[1]!]!.loop).toBeNull();
  await page.reload();
  await heardAsSaved(page, id, ENGINE_RATE);
  expect(trouble).toEqual([]);
});
