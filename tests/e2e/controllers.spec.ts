/** Settings and actions by hand: learned on the stand-in and on a plugged in device, heard, undone, kept. */
import { expect, type Page } from '@playwright/test';
import { test, testAnew } from './one-window.ts';
import { connectDevices, fakeMidi } from './midi-stand-in.ts';
import { longestTaskOf } from './trace.ts';
import {
  choose,
  firstPart,
  goTo,
  heardAsSaved,
  loadDocument,
  menuField,
  playedPattern,
  projectWith,
  restingBox,
  saved,
  unfold,
  watchForTrouble,
} from './support.ts';

const LOOP = 'tests/fixtures/loops/swing-04.flac';
const dial = (page: Page, number: number) => page.getByRole('slider', { name: `dial ${number}`, exact: true });

/** Turns a dial of the stand-in by so many pixels upwards. */
async function turn(page: Page, number: number, up: number): Promise<void> {
  const box = await restingBox(dial(page, number));
  await page.mouse.move(box.x + 25, box.y + 20);
  await page.mouse.down();
  await page.mouse.move(box.x + 25, box.y + 20 - up, { steps: 8 });
  await page.mouse.up();
}

test('a dial of the stand-in learns a level, is met before it moves it, sounds as saved, and is one step back', async ({
  page,
}) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await goTo(page, 'Shape');
  await page.keyboard.press('Alt+s');
  await expect(page.getByTestId('stand-in')).toBeVisible();
  await page.keyboard.press('Alt+z');
  // The setting first, then the dial; a dial first goes as well.
  const level = page.getByRole('complementary').locator('.learnable').filter({ hasText: 'level' }).first();
  await level.click({ position: { x: 5, y: 5 } });
  await expect(level).toHaveClass(/chosen/);
  await turn(page, 2, 20);
  await expect(dial(page, 2)).toContainText('level');
  await page.keyboard.press('Escape');
  await expect(page.locator('.learnable')).toHaveCount(0);
  const gainOf = async () => {
    const { document, part } = await firstPart(page, id);
    return document.channels[part.channelId]!.values.gainDb ?? 0;
  };
  // The level stands at 0 of -60 to 12 dB: the dial comes from below, and takes over where it meets it.
  await turn(page, 2, 20);
  expect(await gainOf()).toBe(0);
  await turn(page, 2, 100);
  await expect(dial(page, 2)).toHaveAttribute('aria-valuenow', '127');
  await saved(page);
  expect(await gainOf()).toBe(12);
  await turn(page, 2, -40);
  await saved(page);
  const now = await gainOf();
  expect(now).toBeLessThan(0);
  await heardAsSaved(page, id);
  await page.keyboard.press('Control+z');
  await saved(page);
  // One turn, one step; and the dial shows where the level stands again.
  expect([0, 12]).toContain(await gainOf());
  await expect(dial(page, 2)).not.toHaveAttribute('aria-valuenow', '91');
  // A second setting on the same dial, upside down.
  await unfold(page, 'Moved by hand');
  const card = page.locator('.card').filter({ hasText: 'Moved by hand' });
  await card.getByRole('button', { name: /dial 2/ }).click();
  await page.getByRole('spinbutton', { name: 'from', exact: true }).focus();
  await page.keyboard.type('100');
  await page.keyboard.press('Enter');
  await page.getByRole('spinbutton', { name: 'to', exact: true }).focus();
  await page.keyboard.type('50');
  await page.keyboard.press('Enter');
  await saved(page);
  const [mapping] = Object.values((await loadDocument(page, id)).mappings);
  expect(mapping).toMatchObject({ device: 'Stand-in controller', values: { from: 1, to: 0.5 } });
  // Closed, what it moves is kept, and said to be away.
  await page.keyboard.press('Escape');
  await page.keyboard.press('Alt+s');
  await expect(card).toContainText('not plugged in');
  expect(trouble).toEqual([]);
});

test('pads act: they deal, mute, and switch patterns, and make no sound then', async ({ page }) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await page.keyboard.press('Alt+s');
  const pad = (number: number) => page.getByRole('button', { name: `pad ${number}`, exact: true });
  await unfold(page, 'Moved by hand');
  for (const [words, number] of [
    ['deal', 3],
    ['mute the part', 4],
    ['deal pitches alone', 5],
  ] as const) {
    await page.getByRole('button', { name: 'do …' }).click();
    await page.getByRole('listitem').or(page.locator('.v-list-item')).getByText(words, { exact: true }).click();
    await pad(number).click();
    await expect(pad(number)).toContainText(words);
  }
  await page.keyboard.press('Escape');
  await pad(3).click();
  await saved(page);
  const dealt = await playedPattern(page, id);
  expect(dealt.pattern.handOrder).toHaveLength(2);
  await pad(5).click();
  await saved(page);
  const coloured = await playedPattern(page, id);
  // The order stays: only pitches are others.
  const place = (one: (typeof coloured.events)[number]) => [one.zoneId, one.positionTicks];
  expect(coloured.events.map(place)).toEqual(dealt.events.map(place));
  expect(coloured.events.some(({ values }) => values.tuneCents)).toBe(true);
  await pad(4).click();
  await saved(page);
  const { document, part } = await firstPart(page, id);
  expect(document.channels[part.channelId]!.values.muted).toBe(true);
  expect(trouble).toEqual([]);
});

testAnew(
  'a plugged in device: a thousand moves a second are one step, nothing is compiled, and it is told where its setting stands',
  async ({ page }) => {
    const trouble = watchForTrouble(page);
    const midi = await fakeMidi(page, ['Bosun box']);
    const id = await projectWith(page, LOOP);
    await connectDevices(page, 'Bosun box');
    await page.keyboard.press('Alt+z');
    await midi.send('Bosun box', [[0xb0, 74, 60]]);
    await page.locator('.channel .learnable').click({ position: { x: 4, y: 4 } });
    await page.keyboard.press('Escape');
    await saved(page);
    // It takes over at once when it passes the level; from there on up and down.
    const moves = Array.from({ length: 3000 }, (_, step) => [0xb0, 74, Math.round(63.5 - 63.5 * Math.cos(step / 40))]);
    moves.push([0xb0, 74, 32]);
    const longestMs = await longestTaskOf(page, 'a thousand moves a second', async () => {
      await midi.send('Bosun box', moves, 1000);
      await saved(page);
    });
    expect(longestMs).toBeLessThan(60);
    const { document, part } = await firstPart(page, id);
    expect(document.channels[part.channelId]!.values.gainDb).toBeCloseTo(-60 + (72 * 32) / 127, 1);
    await heardAsSaved(page, id);
    await page.keyboard.press('Control+z');
    await saved(page);
    expect((await firstPart(page, id)).document.channels[part.channelId]!.values.gainDb ?? 0).toBe(0);
    // The device shows where it stands: 60 of 72 dB up.
    await expect
      .poll(async () => (await midi.sent('Bosun box')).at(-1)?.bytes)
      .toEqual([0xb0, 74, Math.round((60 / 72) * 127)]);
    await midi.unplug('Bosun box');
    await unfold(page, 'Moved by hand');
    await expect(page.locator('.card').filter({ hasText: 'Moved by hand' })).toContainText('not plugged in');
    expect(trouble).toEqual([]);
  },
);

testAnew(
  'what a device moves is kept for every project, goes with the chosen part, is told finely, and can be taken back',
  async ({ page }) => {
    const trouble = watchForTrouble(page);
    const midi = await fakeMidi(page, ['Capstan']);
    await page.context().grantPermissions(['midi']);
    await projectWith(page, LOOP);
    await connectDevices(page, 'Capstan');
    await page.keyboard.press('Alt+z');
    await midi.send('Capstan', [[0xb0, 7, 60]]);
    await page.locator('.channel .learnable').click({ position: { x: 4, y: 4 } });
    await page.keyboard.press('Escape');
    await unfold(page, 'Moved by hand');
    const card = page.locator('.card').filter({ hasText: 'Moved by hand' });
    await card.getByRole('button', { name: /controller 7/ }).click();
    await choose(page, menuField(page, 'tells'), 'where, finely');
    await page.keyboard.press('Escape');
    await saved(page);
    await card.getByRole('button', { name: 'in every project' }).click();
    await expect(page.getByText('Capstan does this in every project now.')).toBeVisible();

    // Another project knows nothing of it, and does what the device brings along, with whichever part is chosen. What was
    // connected once is heard again when the page is opened anew.
    const id = await projectWith(page, LOOP);
    expect(Object.keys((await loadDocument(page, id)).mappings)).toEqual([]);
    await unfold(page, 'Moved by hand');
    await expect(card).toContainText('in every project');
    const gainOf = async () => {
      const { document, part } = await firstPart(page, id);
      return document.channels[part.channelId]!.values.gainDb ?? 0;
    };
    await midi.send('Capstan', [
      [0xb0, 7, 120],
      [0xb0, 7, 64],
      [0xb0, 39, 32],
    ]);
    await saved(page);
    const share = (64 * 128 + 32) / 16_383;
    expect(await gainOf()).toBeCloseTo(-60 + 72 * share, 1);
    await heardAsSaved(page, id);
    await page.keyboard.press('Control+z');
    await saved(page);
    expect(await gainOf()).toBe(0);
    // It is told in 16,384 steps: 60 of 72 dB up.
    const place = Math.round((60 / 72) * 16_383);
    await expect
      .poll(async () => (await midi.sent('Capstan')).slice(-2).map(({ bytes }) => bytes))
      .toEqual([
        [0xb0, 7, place >> 7],
        [0xb0, 39, place & 127],
      ]);
    const takeOff = async () => {
      await card.getByRole('button', { name: /controller 7/ }).click();
      await page.getByRole('button', { name: 'take it off every project', exact: true }).click();
      await expect(card).not.toContainText('Capstan');
    };
    await takeOff();
    await page.getByRole('button', { name: 'Undo', exact: true }).last().click();
    await expect(card).toContainText('in every project');
    // Another window takes it off: it is seen once this one is come back to.
    const kept = (await (await page.request.get('/api/shelf/device')).json()) as { id: string }[];
    for (const { id: one } of kept) await page.request.delete(`/api/shelf/device/${one}`);
    await page.evaluate(() => window.dispatchEvent(new Event('focus')));
    await expect(card).not.toContainText('Capstan');
    expect(trouble).toEqual([]);
  },
);
