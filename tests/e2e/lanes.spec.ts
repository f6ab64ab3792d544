/** Movement over the loop: lanes drawn, changed and written while it plays; dials; both seen on what they move, and heard. */
import { expect, type Page } from '@playwright/test';
import { lanesOver, settingOfLane } from '#core/queries/lanes.ts';
import { macrosOf, routesFrom } from '#core/queries/macros.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { test } from './one-window.ts';
import {
  choose,
  ENGINE_RATE,
  engineFor,
  goTo,
  heardAsSaved,
  loadDocument,
  menuField,
  peakOf,
  projectWith,
  restingBox,
  saved,
  watchForTrouble,
} from './support.ts';

const LOOP = 'tests/fixtures/loops/swing-04.flac';
const FRAMES = ENGINE_RATE;
const bands = (page: Page) => page.getByRole('region', { name: /^Lane:/ });

async function pick(page: Page, button: string, setting: string): Promise<void> {
  await page.getByRole('button', { name: button, exact: true }).click();
  await page.getByLabel('Find a setting').fill(setting);
  await page.locator('.found').getByLabel(setting, { exact: false }).first().click();
  await expect(page.locator('.found')).toHaveCount(0);
}

function lanesOf(document: ProjectDocument) {
  const part = document.parts[document.partOrder[0]!]!;
  return lanesOver(document, part.activePatternId);
}

const loudness = (samples: Float32Array, from: number, to: number) =>
  Math.sqrt(samples.subarray(from * FRAMES, to * FRAMES).reduce((sum, x) => sum + x * x, 0));

test('a lane is added, drawn in lines, steps and freely, bent, changed, copied; it is heard, undone and there again', async ({
  page,
}) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await goTo(page, 'Shape');
  const plain = await heardAsSaved(page, id);
  await pick(page, 'a new lane', 'level: ');
  await expect(bands(page)).toHaveCount(1);
  // What it moves says so.
  await expect(page.getByRole('spinbutton', { name: 'level' }).first()).toBeVisible();

  // Lines: a point low in the first quarter.
  const field = page.getByTestId('lane-field').first();
  const box = await restingBox(field);
  await page.getByRole('button', { name: 'Draw points and lines' }).click();
  await page.mouse.click(box.x + 0.02 * box.width, box.y + box.height - 6);
  await page.mouse.click(box.x + 0.9 * box.width, box.y + box.height - 6);
  const points = field.getByRole('slider');
  await expect(points).toHaveCount(3);
  await saved(page);
  const [lane] = lanesOf(await loadDocument(page, id));
  expect(lane!.points.map(({ value }) => Math.round(10 * value))).toEqual([10, 0, 0]);
  const quiet = await heardAsSaved(page, id);
  expect(loudness(quiet, 0.3, 0.9)).toBeLessThan(0.15 * loudness(plain, 0.3, 0.9));

  // By keys: a point up, and one taken out.
  await points.nth(1).focus();
  await page.keyboard.press('Shift+ArrowUp');
  await expect(points.nth(1)).toHaveAttribute('aria-valuenow', '10');
  await page.keyboard.press('Delete');
  await expect(points).toHaveCount(2);
  await field.focus();
  await page.keyboard.press('Enter');
  await expect(points).toHaveCount(3);
  await page.keyboard.press('Control+z');
  await expect(points).toHaveCount(2);

  // Steps over the first half, freely over the second.
  await page.getByRole('button', { name: 'Draw steps of the grid' }).click();
  await page.mouse.move(box.x + 2, box.y + 8);
  await page.mouse.down();
  await page.mouse.move(box.x + 0.5 * box.width, box.y + 40, { steps: 12 });
  await page.mouse.up();
  await page.getByRole('button', { name: 'Draw freely' }).click();
  await page.mouse.move(box.x + 0.6 * box.width, box.y + 40);
  await page.mouse.down();
  await page.mouse.move(box.x + 0.8 * box.width, box.y + 10, { steps: 12 });
  await page.mouse.up();
  await saved(page);
  const drawn = lanesOf(await loadDocument(page, id))[0]!.points;
  expect(drawn.filter(({ stays }) => stays).length).toBeGreaterThan(3);
  expect(drawn.length).toBeGreaterThan(8);
  await heardAsSaved(page, id);

  // A shape in note values, a length of its own, the same for another setting.
  await page.getByRole('button', { name: 'More for this lane' }).click();
  await choose(page, menuField(page, 'a shape each'), '1/8');
  await page.getByRole('button', { name: 'pulse', exact: true }).click();
  await choose(page, menuField(page, 'length'), '1/2 dotted');
  await pick(page, 'the same for …', 'pan: ');
  await page.keyboard.press('Escape');
  await expect(bands(page)).toHaveCount(2);
  const pulsed = await heardAsSaved(page, id);
  expect(peakOf(pulsed.map((sample, i) => sample - plain[i]!))).toBeGreaterThan(0.01);

  // Undone to nothing, done again, opened again.
  const after = await loadDocument(page, id);
  expect(lanesOf(after).map(({ lengthTicks }) => lengthTicks)).toEqual([2880, 2880]);
  const until = async (key: string, count: number) => {
    for (let n = 0; n < 20 && (await bands(page).count()) !== count; n++) await page.keyboard.press(key);
    await expect(bands(page)).toHaveCount(count);
  };
  await until('Control+z', 0);
  await until('Control+Shift+Z', 2);
  await saved(page);
  expect((await loadDocument(page, id)).modulators).toEqual(after.modulators);
  await page.reload();
  await expect(bands(page)).toHaveCount(2);
  expect(trouble).toEqual([]);
});

test('a setting that is moved while the song plays is written into a lane, round by round', async ({ page }) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await goTo(page, 'Shape');
  await choose(page, menuField(page, 'writing'), 'write while touched');
  await page.getByTestId('play').click();
  await engineFor(page, 300);
  const level = page.getByRole('spinbutton', { name: 'level' }).last();
  const box = await restingBox(level);
  await page.mouse.move(box.x + 20, box.y + box.height / 2);
  await page.mouse.down();
  for (let step = 1; step <= 20; step++) {
    await page.mouse.move(box.x + 20, box.y + box.height / 2 + 4 * step);
    await engineFor(page, 25);
  }
  await page.mouse.up();
  await page.getByTestId('play').click();
  await expect(bands(page)).toHaveCount(1);
  await saved(page);
  const document = await loadDocument(page, id);
  const [lane] = lanesOf(document);
  const route = settingOfLane(document, lane!)!;
  expect(route).toMatchObject({ paramId: 'gainDb', target: { kind: 'channel' } });
  // The setting itself stays as it was; what was written is what was moved, downwards.
  expect(document.channels[route.target.id!]!.values.gainDb).toBeUndefined();
  const written = lane!.points.map(({ value }) => value);
  expect(written.length).toBeGreaterThan(4);
  expect(Math.min(...written)).toBeLessThan(Math.max(...written) - 0.05);
  await choose(page, menuField(page, 'writing'), 'write nothing');
  await heardAsSaved(page, id);
  // A step a round, of which a busy machine has more: the last one first, and the lane itself.
  for (let n = 0; n < 40 && (await bands(page).count()) > 0; n++) await page.keyboard.press('Control+z');
  await expect(bands(page)).toHaveCount(0);
  expect(trouble).toEqual([]);
});

test('a dial moves several settings over ranges of their own; put on by a right press, seen on them, heard', async ({
  page,
}) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await goTo(page, 'Shape');
  await pick(page, 'dial 1', 'tune: ');
  const level = page.getByRole('spinbutton', { name: 'level' }).first();
  await level.click({ button: 'right' });
  await page.locator('.v-overlay--active .v-list').getByText('dial 1', { exact: true }).click();
  const dial = page.getByRole('region', { name: 'dial 1' });
  await expect(dial.locator('.moved')).toHaveCount(2);
  await dial.getByRole('button', { name: 'More for dial 1' }).click();
  await page.locator('.v-overlay--active').getByText('Rename', { exact: true }).click();
  await page.getByLabel('Name of the dial').fill('Deep water');
  await page.keyboard.press('Enter');
  const named = page.getByRole('region', { name: 'Deep water' });

  // Its range: down by an octave, and the slider to its end.
  await named.locator('.moved').first().click();
  const to = page.locator('.v-overlay--active').getByRole('spinbutton', { name: 'to', exact: true });
  await to.focus();
  await page.keyboard.type('-12');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await named.getByRole('slider').focus();
  await page.keyboard.press('End');
  await saved(page);
  const document = await loadDocument(page, id);
  const [macro] = macrosOf(document);
  expect(macro).toMatchObject({ name: 'Deep water', values: { position: 1 } });
  const routes = routesFrom(document, macro!.id);
  expect(routes.map(({ paramId }) => paramId).sort()).toEqual(['gainDb', 'tuneCents']);
  expect(routes.find(({ paramId }) => paramId === 'tuneCents')!.values.amount).toBe(-1);
  await heardAsSaved(page, id);

  await named.getByRole('button', { name: 'More for Deep water' }).click();
  await page.locator('.v-overlay--active').getByText('Remove', { exact: true }).click();
  await expect(named).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(named.locator('.moved')).toHaveCount(2);
  await fromMenuIsThere(page);
  expect(trouble).toEqual([]);
});

/** Nothing is left open that would take the next press. */
async function fromMenuIsThere(page: Page): Promise<void> {
  await expect(page.locator('.v-overlay--active')).toHaveCount(0);
}
