/** Drags that do not go as planned: each ends, and is one step or none. */
import { expect, type Page } from '@playwright/test';
import { test, testAnew } from './one-window.ts';
import { firstPart, loadDocument, newProject, pointIn, projectWith, restingBox, saved, unfold } from './support.ts';

const LOOP = 'tests/fixtures/loops/swing-04.flac';
/** How far down the numbers of the markers stand, as a share of the source's height. */
const NUMBERS = 0.2;

async function starts(page: Page, id: string): Promise<number[]> {
  return (await firstPart(page, id)).placed.map((at) => at.startFrame);
}

/** Where the marker of a slice can be taken. */
async function markerPoint(page: Page, id: string, place: number) {
  const { placed, document, cut } = await firstPart(page, id);
  const { frames } = document.sources[cut.sourceId]!;
  return pointIn(page.getByTestId('source-canvas'), placed[place]!.startFrame / frames, NUMBERS);
}

test('undo in the middle of a drag takes the drag back, and what the hand still does is not meant', async ({
  page,
}) => {
  const id = await projectWith(page, LOOP);
  const before = await starts(page, id);
  const marker = await markerPoint(page, id, 3);
  await page.mouse.move(marker.x, marker.y);
  await page.mouse.down();
  await page.mouse.move(marker.x + 12, marker.y, { steps: 4 });
  await page.keyboard.press('Control+z');
  await page.mouse.move(marker.x + 25, marker.y, { steps: 4 });
  await page.mouse.up();
  await saved(page);
  expect(await starts(page, id)).toEqual(before);
  // The next drag is a step of its own.
  await page.mouse.move(marker.x, marker.y);
  await page.mouse.down();
  await page.mouse.move(marker.x + 12, marker.y, { steps: 4 });
  await page.mouse.up();
  await expect.poll(() => starts(page, id)).not.toEqual(before);
  await page.keyboard.press('Control+z');
  await saved(page);
  expect(await starts(page, id)).toEqual(before);
});

test('a pointer that is cancelled ends its drag, and the field can be dragged again', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await unfold(page, 'Channel');
  const field = page.getByRole('spinbutton', { name: 'stop fade' });
  const fadeMs = async () => (await firstPart(page, id)).part.values.stopFadeMs ?? 3;
  const box = await restingBox(field);
  const drag = async (by: number) => {
    await page.mouse.move(box.x + 8, box.y + 8);
    await page.mouse.down();
    await page.mouse.move(box.x + 8 + by, box.y + 8, { steps: 6 });
  };
  await drag(20);
  // As when a pen leaves the tablet, or the system takes the touch away.
  await field.dispatchEvent('pointercancel', { pointerId: 1, bubbles: true });
  await page.mouse.move(box.x + 150, box.y + 8, { steps: 3 });
  await page.mouse.up();
  await saved(page);
  const cancelled = await fadeMs();
  expect(cancelled).toBeLessThan(20);
  await drag(40);
  await page.mouse.up();
  await saved(page);
  expect(await fadeMs()).toBeGreaterThan(cancelled);
  await page.keyboard.press('Control+z');
  await saved(page);
  expect(await fadeMs()).toBeCloseTo(cancelled, 6);
});

test('two markers dragged one right after the other are two steps', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  const before = await starts(page, id);
  const [first, second] = [await markerPoint(page, id, 2), await markerPoint(page, id, 5)];
  for (const marker of [first, second]) {
    await page.mouse.move(marker.x, marker.y);
    await page.mouse.down();
    await page.mouse.move(marker.x + 10, marker.y, { steps: 3 });
    await page.mouse.up();
  }
  await expect
    .poll(async () => (await starts(page, id)).filter((frame, place) => frame !== before[place]).length)
    .toBe(2);
  await page.keyboard.press('Control+z');
  await expect
    .poll(async () => (await starts(page, id)).filter((frame, place) => frame !== before[place]).length)
    .toBe(1);
  await page.keyboard.press('Control+z');
  await expect.poll(() => starts(page, id)).toEqual(before);
});

test('the seed is dragged without dealing at every step', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await page.getByTestId('deal').click();
  await expect(page.getByTestId('hand-count')).toHaveText('2 of 2');
  await page.getByRole('button', { name: 'this hand' }).click();
  const box = await restingBox(page.getByRole('spinbutton', { name: 'seed' }));
  await page.mouse.move(box.x + 20, box.y + 8);
  await page.mouse.down();
  await page.mouse.move(box.x + 90, box.y + 8, { steps: 20 });
  await page.mouse.up();
  await expect(page.getByTestId('hand-count')).toHaveText('3 of 3');
  await saved(page);
  const document = await loadDocument(page, id);
  expect(Object.values(document.patterns)[0]!.handOrder).toHaveLength(3);
});

test('a sound that is missing is asked for once, not at every edit, and again when told to', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  let asked = 0;
  await page.route('**/api/sources/*/audio', (route) => {
    asked++;
    return route.fulfill({ status: 404, json: { code: 'audio.missing', message: 'not here', details: {} } });
  });
  await newProject(page);
  // The shelf has asked for what lies under its cursor.
  asked = 0;
  await page.goto(`/bench/${id}`);
  await expect(page.getByRole('button', { name: 'Try again' })).toHaveCount(1);
  for (let step = 0; step < 4; step++) await page.getByRole('button', { name: 'click', exact: true }).click();
  await saved(page);
  expect(asked).toBe(1);
  await expect(page.getByRole('button', { name: 'Try again' })).toHaveCount(1);
  await page.unroute('**/api/sources/*/audio');
  await page.getByRole('button', { name: 'Try again' }).click();
  await page.getByTestId('play').click();
  await expect(page.getByTestId('position')).not.toHaveText('1.1.000');
});

testAnew('the ends of the loop are dragged with the click on without sending the sound again', async ({ page }) => {
  await page.addInitScript(() => {
    const sent = { samples: 0, previews: 0 };
    Object.assign(window, { sent });
    const post = MessagePort.prototype.postMessage;
    MessagePort.prototype.postMessage = function (this: MessagePort, message: unknown, ...others: unknown[]) {
      const { type, source } = (message ?? {}) as { type?: string; source?: { channels: Float32Array[] } };
      if (type === 'source') sent.samples += source!.channels[0]!.length;
      if (type === 'preview') sent.previews++;
      return (post as (...args: unknown[]) => void).call(this, message, ...others);
    } as typeof post;
  });
  await projectWith(page, LOOP);
  const sent = () => page.evaluate(() => ({ ...(window as unknown as { sent: Record<string, number> }).sent }));
  await page.getByRole('button', { name: 'hear with click' }).click();
  await expect.poll(async () => (await sent()).previews).toBe(1);
  const before = await sent();
  const box = await restingBox(page.getByRole('spinbutton', { name: 'start', exact: true }));
  await page.mouse.move(box.x + 8, box.y + 8);
  await page.mouse.down();
  await page.mouse.move(box.x + 80, box.y + 8, { steps: 15 });
  await page.mouse.up();
  const after = await sent();
  expect(after.previews).toBeGreaterThan(before.previews! + 5);
  expect(after.samples).toBe(before.samples);
  await page.getByRole('button', { name: 'hear with click' }).click();
});
