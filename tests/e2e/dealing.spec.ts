/** Dealing with rules, the row of hands, comparing and breeding: what is dealt is what is kept, and what is heard. */
import { expect } from '@playwright/test';
import { eventsOfHand, orderedEvents } from '#core/queries/patterns.ts';
import { test } from './one-window.ts';
import {
  choose,
  ENGINE_RATE,
  engineFor,
  expectedSound,
  listen,
  loadAssets,
  loadDocument,
  menuField,
  peakOf,
  playedPattern,
  projectWith,
  restingBox,
  saved,
  type,
  watchForTrouble,
} from './support.ts';

const LOOP = 'tests/fixtures/loops/swing-04.flac';

test('beats change places whole, the first bar stays, some strips are divided; the hand tells how', async ({
  page,
}) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await page.keyboard.press('Alt+c');
  await page.getByTestId('deal-rules').click();
  await choose(page, menuField(page, 'unit'), 'beats');
  await type(page, 'busy', '40');
  await page.keyboard.press('Escape');
  await expect(page.getByTestId('deal-rules')).toHaveText('2 rules');
  const before = (await playedPattern(page, id)).events;
  await page.getByTestId('deal').click();
  const { pattern, events } = await playedPattern(page, id);
  expect(events.length).toBeGreaterThan(before.length);
  expect(pattern!.hands[pattern!.handId!]!.rules).toEqual({ unit: 'beat', busyPercent: 40 });
  await expect(page.getByLabel('The hand on the table')).toContainText('unit beats, busy 40 %');
  await page.keyboard.press('Escape');
  expect(trouble).toEqual([]);
});

test('only chosen strips are dealt where only those are to; sounds left out stay', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await page.keyboard.press('Alt+c');
  const before = (await playedPattern(page, id)).events;
  const box = await restingBox(page.getByTestId('pattern-canvas'));
  const { pattern } = await playedPattern(page, id);
  const pointOf = (place: number) => ({
    x: box.x + (box.width * (before[place]!.positionTicks + 60)) / pattern!.lengthTicks,
    y: box.y + box.height * 0.8,
  });
  const clickAt = async (place: number) => page.mouse.click(pointOf(place).x, pointOf(place).y);
  await clickAt(1);
  await page.keyboard.down('Shift');
  await clickAt(3);
  await clickAt(4);
  await page.keyboard.up('Shift');
  await page.keyboard.press('Alt+i');
  const after = (await playedPattern(page, id)).events;
  before.forEach((event, place) => {
    if (![1, 3, 4].includes(place)) expect(after[place]!.zoneId).toBe(event.zoneId);
  });
  expect([1, 3, 4].map((place) => after[place]!.zoneId).sort()).toEqual(
    [1, 3, 4].map((place) => before[place]!.zoneId).sort(),
  );
});

test('hands are named, compared in place, bred, and made patterns; they sound as they are kept', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await page.getByTestId('deal').click();
  await page.getByTestId('deal').click();
  await expect(page.getByTestId('hand-count')).toHaveText('3 of 3');
  await page.getByRole('button', { name: 'this hand' }).click();
  await page.getByLabel('Name of the hand').fill('lantern');
  await page.getByLabel('Name of the hand').press('Enter');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: 'lantern', exact: true })).toHaveAttribute('aria-pressed', 'true');
  const compare = page.getByRole('button', { name: 'compare', exact: true }).first();
  await expect(compare).toBeDisabled();
  await page.getByRole('button', { name: 'Hand 2', exact: true }).click({ modifiers: ['Shift'] });
  await compare.click();
  await expect(page.getByRole('button', { name: 'Hand 2', exact: true })).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('Alt+x');
  await expect(page.getByRole('button', { name: 'lantern', exact: true })).toHaveAttribute('aria-pressed', 'true');

  await page.getByRole('button', { name: 'breed', exact: true }).click();
  await expect(page.getByTestId('hand-count')).toHaveText('4 of 4');
  await saved(page);
  const { pattern } = await playedPattern(page, id);
  const [, one, two] = pattern!.handOrder.map((handId) => orderedEvents(eventsOfHand(pattern!, handId)));
  orderedEvents(pattern!.events).forEach(({ zoneId }, place) =>
    expect([one![place]!.zoneId, two![place]!.zoneId]).toContain(zoneId),
  );

  await page.getByRole('button', { name: 'lantern', exact: true }).click();
  await page.getByRole('button', { name: 'make it a pattern' }).click();
  await expect(page.getByRole('tab', { name: 'lantern' })).toHaveAttribute('aria-selected', 'true');
  await saved(page);
  const document = await loadDocument(page, id);
  const frames = ENGINE_RATE;
  const heard = await listen(page, frames);
  await page.getByTestId('play').click();
  const wanted = expectedSound(document, await loadAssets(page, document), frames);
  expect(peakOf(heard[0]!.map((sample, i) => sample - wanted[0]![i]!))).toBeLessThan(1e-4);
});

test('it deals by itself every round while the song runs, at its end, and stops with it', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await page.keyboard.press('Alt+c');
  await type(page, 'tempo', '300');
  await page.getByTestId('deal-rules').click();
  await choose(page, menuField(page, 'changes'), 'at its end');
  await type(page, 'by itself every', '1');
  await page.keyboard.press('Escape');
  await page.getByTestId('play').click();
  await expect.poll(async () => page.locator('.hand').count(), { timeout: 20_000 }).toBeGreaterThanOrEqual(4);
  await page.getByTestId('play').click();
  await saved(page);
  const { pattern } = await playedPattern(page, id);
  const seeds = pattern!.handOrder.map((handId) => pattern!.hands[handId]!.seed);
  expect(new Set(seeds).size).toBe(seeds.length);
  const count = await page.locator('.hand').count();
  await engineFor(page, 800);
  await expect(page.locator('.hand')).toHaveCount(count);
});
