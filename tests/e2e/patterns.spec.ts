/** Patterns written by hand: many strips chosen, changed, copied, brought home; what plays then is heard. */
import { expect, test, type Page } from '@playwright/test';
import {
  ENGINE_RATE,
  expectedSound,
  fromMenu,
  goTo,
  listen,
  loadAssets,
  loadDocument,
  menuField,
  peakOf,
  playedPattern,
  projectWith,
  saved,
  type,
  unfold,
  watchForTrouble,
} from './support.ts';

const LOOP = 'tests/fixtures/loops/swing-04.flac';

/** Middle of a strip on the ribbon, by its place in the pattern. */
async function stripPoint(page: Page, id: string, place: number) {
  const { events, pattern, loop } = await playedPattern(page, id);
  const lengthTicks = pattern?.lengthTicks ?? loop.bars * loop.beatsPerBar * 960;
  const box = (await page.getByTestId('pattern-canvas').boundingBox())!;
  const event = events[place]!;
  const middle = (event.positionTicks + Math.min(event.lengthTicks, 120) / 2) / lengthTicks;
  return { x: box.x + box.width * middle, y: box.y + box.height * 0.8 };
}

/** Does the engine play just what the saved document says? */
async function expectHeardAsSaved(page: Page, id: string, seconds = 1.2): Promise<void> {
  await saved(page);
  const document = await loadDocument(page, id);
  const frames = Math.round(seconds * ENGINE_RATE);
  const heard = await listen(page, frames);
  await page.getByTestId('play').click();
  const wanted = expectedSound(document, await loadAssets(page, document), frames);
  expect(peakOf(wanted[0]!)).toBeGreaterThan(0.05);
  const off = peakOf(heard[0]!.map((sample, i) => sample - wanted[0]![i]!));
  expect(off).toBeLessThan(1e-4);
}

test('strips are chosen by a rule and changed together, heard, undone', async ({ page }) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await fromMenu(page, 'Choose strips', 'every second one');
  await fromMenu(page, 'Change strips', 'short');
  const { pattern, events } = await playedPattern(page, id);
  expect(pattern).toBeDefined();
  events.forEach(({ lengthTicks }, place) => {
    if (place % 2 === 0) expect(lengthTicks).toBeLessThanOrEqual(120);
  });
  expect(events.some(({ lengthTicks }) => lengthTicks > 120)).toBe(true);
  await expectHeardAsSaved(page, id);
  // One change, one step: the copy of home and what was done to it go together.
  await page.keyboard.press('Control+z');
  expect((await playedPattern(page, id)).pattern).toBeUndefined();
  expect(trouble).toEqual([]);
});

test('strips are copied, put down after themselves and in another pattern, and carried with Ctrl held', async ({
  page,
}) => {
  const id = await projectWith(page, LOOP);
  await page.getByRole('button', { name: 'new pattern' }).click();
  await fromMenu(page, 'Change strips', 'go home');
  const before = (await playedPattern(page, id)).events;
  const first = await stripPoint(page, id, 0);
  await page.mouse.click(first.x, first.y);
  await page.keyboard.press('Control+c');
  await page.keyboard.press('Control+v');
  const pasted = (await playedPattern(page, id)).events;
  expect(pasted).toHaveLength(before.length + 1);
  const copies = pasted.filter(({ zoneId }) => zoneId === before[0]!.zoneId);
  expect(copies).toHaveLength(2);
  // Right after what was copied, on the grid of sixteenths.
  expect(copies[1]!.positionTicks % 240).toBeCloseTo(0, 6);
  expect(copies[1]!.positionTicks).toBeGreaterThanOrEqual(before[0]!.positionTicks + before[0]!.lengthTicks - 1);

  await page.getByRole('button', { name: 'new pattern' }).click();
  await page.keyboard.press('Control+Shift+V');
  const elsewhere = (await playedPattern(page, id)).events;
  expect(elsewhere.map(({ zoneId, positionTicks }) => [zoneId, positionTicks])).toEqual([
    [before[0]!.zoneId, before[0]!.positionTicks],
  ]);

  const from = await stripPoint(page, id, 0);
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.keyboard.down('Control');
  await page.mouse.move(from.x + 150, from.y, { steps: 5 });
  await page.mouse.up();
  await page.keyboard.up('Control');
  const carried = (await playedPattern(page, id)).events;
  expect(carried).toHaveLength(2);
  expect(carried[0]!.positionTicks).toBe(elsewhere[0]!.positionTicks);
});

test('how far from home is seen, and a pattern goes home and sounds as the loop', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await page.getByTestId('deal').click();
  const distance = page.getByTestId('home-distance');
  await expect(distance).toBeVisible();
  await expect(distance).not.toHaveText(/^0% /);
  await fromMenu(page, 'Change strips', 'go home');
  await expect(distance).toHaveText('0% from home');
  const { document, part, cut, events } = await playedPattern(page, id);
  expect(events.map(({ sliceId }) => sliceId)).toEqual(
    [...Object.values(cut.slices)].sort((a, b) => a.startFrame - b.startFrame).map((slice) => slice.id),
  );
  expect(document.patterns[part.activePatternId]!.handOrder.length).toBeGreaterThan(1);
  await expectHeardAsSaved(page, id);
});

test('repeats drawn together and rising are heard as they are set; another sound takes a strip’s place', async ({
  page,
}) => {
  const id = await projectWith(page, LOOP);
  const first = await stripPoint(page, id, 0);
  await page.mouse.click(first.x, first.y);
  await unfold(page, 'Repeats');
  await type(page, 'repeats', '4');
  await type(page, 'draw together', '100');
  await type(page, 'rise in level', '-9');
  const { events } = await playedPattern(page, id);
  expect(events[0]!.values).toMatchObject({ repeats: 4, repeatPull: 1, repeatGainDb: -9 });
  await menuField(page, 'plays').click();
  await page.getByRole('option').nth(3).click();
  await expect.poll(async () => (await playedPattern(page, id)).events[0]!.sliceId).not.toBe(events[0]!.sliceId);
  await expectHeardAsSaved(page, id);
});

test('in the rows, too; a narrow window still has the menus', async ({ page }) => {
  await projectWith(page, LOOP);
  await page.keyboard.press('F4');
  await expect(page.getByTestId('rows-canvas')).toBeVisible();
  await fromMenu(page, 'Change strips', 'a step later');
  await page.setViewportSize({ width: 1024, height: 640 });
  await expect(page.getByRole('button', { name: 'Change strips' })).toBeInViewport();
  await expect(page.getByRole('button', { name: 'Choose strips' })).toBeInViewport();
  await goTo(page, 'Shape');
});
