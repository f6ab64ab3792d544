/** Chains of effects: put in, ordered, switched, compared, carried to other parts, sent to; seen, kept and heard. */
import { expect, type Page } from '@playwright/test';
import { effectPicture } from '../../src/web/components/chain/effect-pictures.ts';
import { EFFECT_KINDS, EFFECT_WORDS } from '#core/params/effects.ts';
import { test } from './one-window.ts';
import {
  choose,
  ENGINE_RATE,
  engineFor,
  fromMenu,
  goTo,
  heardAsSaved,
  listen,
  loadDocument,
  menuField,
  peakOf,
  projectWith,
  restingBox,
  saved,
  type,
  watchForTrouble,
} from './support.ts';

const LOOP = 'tests/fixtures/loops/swing-04.flac';
/** As long as is listened. */
const FRAMES = ENGINE_RATE / 2;
const cards = (page: Page) => page.getByTestId('effect-card');

async function add(page: Page, words: string): Promise<void> {
  await page.getByRole('button', { name: 'add an effect' }).click();
  await page.locator('.v-menu .v-list').getByText(words, { exact: true }).click();
  await expect(page.locator('.v-menu.v-overlay--active')).toHaveCount(0);
}

async function order(page: Page): Promise<string[]> {
  return cards(page).evaluateAll((all) => all.map((one) => one.getAttribute('aria-label') ?? ''));
}

test('effects are put in, set, dragged into order, switched and taken out; what is heard is what the core plays', async ({
  page,
}) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await goTo(page, 'Shape');
  const plain = await heardAsSaved(page, id, FRAMES);
  for (const words of ['drive', 'limiter', 'echo']) await add(page, words);
  expect(await order(page)).toEqual(['drive', 'limiter', 'echo']);
  // The last one is chosen: its settings stand in the details.
  await choose(page, menuField(page, 'time'), '1/8');
  await type(page, 'feedback', '60');
  const driven = await heardAsSaved(page, id, FRAMES);
  expect(peakOf(driven.map((sample, i) => sample - plain[i]!))).toBeGreaterThan(0.01);

  // The echo is dragged to the front.
  const from = await restingBox(cards(page).nth(2).getByRole('button', { name: 'echo', exact: true }));
  const to = await restingBox(cards(page).nth(0));
  await page.mouse.move(from.x + 10, from.y + 8);
  await page.mouse.down();
  await page.mouse.move(from.x - 40, from.y + 10, { steps: 4 });
  await page.mouse.move(to.x + 8, to.y + 10, { steps: 8 });
  // Those that give way move: once more over the first when they have.
  await restingBox(cards(page).nth(0));
  await page.mouse.move(to.x + 4, to.y + 14, { steps: 4 });
  await page.mouse.up();
  await expect.poll(() => order(page)).toEqual(['echo', 'drive', 'limiter']);
  await page.keyboard.press('Control+z');
  await expect.poll(() => order(page)).toEqual(['drive', 'limiter', 'echo']);

  await page.getByRole('button', { name: 'drive on', exact: true }).first().click();
  await expect(page.getByRole('button', { name: 'drive on', exact: true }).first()).toHaveAttribute(
    'aria-pressed',
    'false',
  );
  await cards(page).nth(2).getByRole('button', { name: 'echo', exact: true }).click();
  await cards(page).nth(2).getByRole('button', { name: 'echo', exact: true }).click();
  await page.getByRole('button', { name: 'Take it out' }).click();
  expect(await order(page)).toEqual(['drive', 'limiter']);
  const dry = await heardAsSaved(page, id, FRAMES);
  // Bypassed, and below the ceiling: the loop as it was, later by what the limiter looks ahead.
  expect(Math.abs(peakOf(dry) - peakOf(plain))).toBeLessThan(0.02);
  await page.reload();
  await expect.poll(() => order(page)).toEqual(['drive', 'limiter']);
  expect(trouble).toEqual([]);
});

test('paths side by side: effects in each, dragged from one to another and out; heard as saved, undone, kept', async ({
  page,
}) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await goTo(page, 'Shape');
  await add(page, 'side by side');
  const path = (number: number) => page.getByRole('group', { name: `path ${number}`, exact: true });
  const inPath = (number: number) => path(number).getByTestId('path-effect').allTextContents();
  const addTo = async (number: number, words: string) => {
    await page.getByRole('button', { name: `Add an effect to path ${number}` }).click();
    await page.locator('.v-menu .v-list').getByText(words, { exact: true }).click();
    await expect(page.locator('.v-menu.v-overlay--active')).toHaveCount(0);
  };
  await addTo(2, 'drive');
  await type(page, 'drive', '30');
  await addTo(2, 'limiter');
  await expect.poll(() => inPath(2)).toEqual(['drive', 'limiter']);
  await type(page, 'level 2', '-16');
  const beside = await heardAsSaved(page, id, FRAMES);

  // From the second path into the first.
  const chip = path(2).getByTestId('path-effect').first().getByRole('button', { name: 'drive', exact: true });
  const dragTo = async (x: number, y: number) => {
    const from = await restingBox(chip);
    await chip.hover();
    // What drags is fetched as the pointer comes.
    const list = path(1).locator('.effects');
    await expect
      .poll(() => list.evaluate((one) => Object.keys(one).some((name) => name.startsWith('Sortable'))))
      .toBe(true);
    await page.mouse.move(from.x + 6, from.y + 6);
    await page.mouse.down();
    await page.mouse.move(from.x + 12, from.y + 2, { steps: 4 });
    await expect(page.locator('.sortable-ghost')).toHaveCount(1);
    await page.mouse.move(x, y, { steps: 10 });
    // It lies there before it is let go.
    let nudge = 0;
    await expect
      .poll(async () => {
        await page.mouse.move(x + (++nudge % 3), y);
        return path(1).getByTestId('path-effect').count();
      })
      .toBe(1);
    await page.mouse.up();
  };
  const empty = await restingBox(path(1).getByText('as it comes in').or(path(1).locator('.effects')));
  await dragTo(empty.x + 30, empty.y + empty.height / 2);
  await expect.poll(() => inPath(1)).toEqual(['drive']);
  await expect.poll(() => inPath(2)).toEqual(['limiter']);
  const other = await heardAsSaved(page, id, FRAMES);
  expect(peakOf(other.map((sample, i) => sample - beside[i]!))).toBeGreaterThan(0.01);
  await page.keyboard.press('Control+z');
  await expect.poll(() => inPath(2)).toEqual(['drive', 'limiter']);

  // By the keyboard: where it stands is a choice among its settings; out of its path it comes behind all of them.
  await chip.click();
  await choose(page, menuField(page, 'stands'), 'in line');
  await expect.poll(() => order(page)).toEqual(['side by side', 'drive']);
  await choose(page, menuField(page, 'stands'), 'path 1');
  await expect.poll(() => order(page)).toEqual(['side by side']);

  // One after another: one setting leads from path to path.
  await page.getByRole('button', { name: 'Another path' }).click();
  await page.getByRole('button', { name: 'side by side', exact: true }).click();
  await choose(page, menuField(page, 'they join'), 'one after another');
  await type(page, 'which', '50');
  await heardAsSaved(page, id, FRAMES);
  await page.getByRole('button', { name: 'Take path 2 out' }).click();
  await expect.poll(() => inPath(1)).toEqual(['drive']);
  await saved(page);
  await page.reload();
  await expect.poll(() => inPath(1)).toEqual(['drive']);
  await page.getByRole('button', { name: 'side by side', exact: true }).click();
  await page.getByRole('button', { name: 'Take it out' }).click();
  expect(await order(page)).toEqual([]);
  expect(trouble).toEqual([]);
});

test('a chain is compared with none, kept on the shelf, put on another part, and sent to through a bus', async ({
  page,
}) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await goTo(page, 'Shape');
  for (const words of ['equaliser', 'gate', 'ducking']) await add(page, words);
  await page.getByRole('button', { name: 'Compare with no chain' }).click();
  await expect(page.getByRole('button', { name: 'Whole chain on' })).toHaveAttribute('aria-pressed', 'false');
  await page.keyboard.press('Alt+e');
  await expect(page.getByRole('button', { name: 'Whole chain on' })).toHaveAttribute('aria-pressed', 'true');

  // A point of the equaliser by hand, steps of the gate drawn.
  await cards(page).nth(0).getByRole('button', { name: 'equaliser', exact: true }).click();
  const bell = page.getByRole('slider', { name: 'bell 2' });
  const at = await restingBox(bell);
  await page.mouse.move(at.x + 6, at.y + 6);
  await page.mouse.down();
  await page.mouse.move(at.x + 20, at.y - 30, { steps: 5 });
  await page.mouse.up();
  await expect(bell).toHaveAttribute('aria-valuetext', /Hz, [5-9]\.|Hz, 1\d\./);
  await cards(page).nth(1).getByRole('button', { name: 'gate', exact: true }).click();
  await choose(page, menuField(page, 'opens'), 'in steps');
  const steps = await restingBox(page.getByTestId('gate-steps'));
  await page.mouse.move(steps.x + 2, steps.y + steps.height - 2);
  await page.mouse.down();
  await page.mouse.move(steps.x + steps.width / 2, steps.y + steps.height - 2, { steps: 16 });
  await page.mouse.up();
  await expect(page.getByRole('slider', { name: 'step 3', exact: true })).toHaveAttribute('aria-valuenow', '0');
  await heardAsSaved(page, id, FRAMES);

  await fromMenu(page, 'whole chain …', 'Keep on the shelf …');
  await page.getByLabel('Name of the chain').fill('tar and rope');
  await page.keyboard.press('Enter');
  await expect(page.getByText('The chain “tar and rope” is on the shelf.')).toBeVisible();
  await fromMenu(page, /^More for swing/, 'Copy');
  await expect(cards(page)).toHaveCount(3);
  for (let n = 3; n > 0; n--) {
    // The one behind is chosen when one goes.
    if (n === 3) await cards(page).first().getByRole('button').first().click();
    await page.getByRole('button', { name: 'Take it out' }).click();
    await expect(cards(page)).toHaveCount(n - 1);
  }
  await page.getByRole('button', { name: 'whole chain …' }).click();
  await page.getByText('From the shelf', { exact: true }).click();
  await page.getByText('tar and rope', { exact: true }).click();
  await expect.poll(() => order(page)).toEqual(['equaliser', 'gate', 'ducking']);

  await goTo(page, 'Running order');
  await page.getByRole('button', { name: 'send to' }).click();
  await page.locator('.v-menu .v-list').getByText('a new bus', { exact: true }).click();
  await expect(page.getByTestId('order-bus')).toContainText('from swing');
  await page.getByRole('button', { name: 'its chain' }).click();
  await add(page, 'room');
  // What is sent is wet there.
  await expect(cards(page).getByRole('spinbutton', { name: 'wet' })).toHaveValue('100');
  await heardAsSaved(page, id, FRAMES);
  // On the shelf it is renamed, and taken off.
  await goTo(page, 'Shelf');
  await page.getByRole('button', { name: 'chains' }).click();
  const list = page.getByTestId('chains');
  await expect(list).toContainText('equaliser, gate, ducking');
  await list.getByRole('button', { name: 'Rename tar and rope' }).click();
  await page.getByLabel('Name of the chain').fill('hemp');
  await page.keyboard.press('Enter');
  await list.getByRole('button', { name: 'Delete hemp' }).click();
  await expect(list).not.toContainText('hemp');
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(list).toContainText('hemp');
  await list.getByRole('button', { name: 'Delete hemp' }).click();
  expect(trouble).toEqual([]);
});

test('every effect has a picture and settings, and none complains', async ({ page }) => {
  const trouble = watchForTrouble(page);
  await projectWith(page, LOOP);
  await goTo(page, 'Shape');
  await page.getByTestId('play').click();
  for (const kind of EFFECT_KINDS) {
    expect(effectPicture(kind, {}).length).toBeGreaterThan(0);
    await add(page, EFFECT_WORDS[kind]);
    await expect(page.getByRole('complementary').getByRole('heading', { level: 2 })).toHaveText(
      new RegExp(EFFECT_WORDS[kind], 'i'),
    );
    await expect(page.getByRole('complementary').getByRole('spinbutton', { name: 'wet' })).toBeVisible();
  }
  await expect(cards(page)).toHaveCount(EFFECT_KINDS.length);
  expect(trouble).toEqual([]);
});

test('what has just sounded is caught as long as a button is held, and nothing of it stays', async ({ page }) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await goTo(page, 'Shape');
  await add(page, 'catch');
  await choose(page, menuField(page, 'length'), '1/16');
  const before = await loadDocument(page, id);
  const plain = await heardAsSaved(page, id, FRAMES);
  const button = await restingBox(page.getByRole('button', { name: 'hold to catch' }));
  const [caught] = await listen(page, FRAMES, undefined, async () => {
    await page.mouse.move(button.x + 20, button.y + 10);
    await page.mouse.down();
    await engineFor(page, 400);
    await page.mouse.up();
  });
  await page.getByTestId('play').click();
  expect(peakOf(caught!.map((sample, i) => sample - plain[i]!))).toBeGreaterThan(0.01);
  await saved(page);
  expect(await loadDocument(page, id)).toEqual(before);
  expect(await page.getByRole('button', { name: 'Undo' }).isEnabled()).toBe(true);
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('complementary').getByText('1/16')).toHaveCount(0);
  expect(trouble).toEqual([]);
});

test('what runs is seen: the spectrum behind an equaliser, what is taken away, loudness; how it gives way is dragged', async ({
  page,
}) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await goTo(page, 'Shape');
  for (const words of ['limiter', 'equaliser']) await add(page, words);
  await page.getByTestId('play').click();
  // The lowest place of a line is the highest that it reaches.
  const highest = () =>
    page
      .getByTestId('spectrum-after')
      .evaluate((line) => Math.min(...(line.getAttribute('points') ?? '').split(' ').map((at) => +at.split(',')[1]!)));
  await expect.poll(highest).toBeLessThan(100);
  await cards(page).first().getByRole('button', { name: 'limiter', exact: true }).click();
  await expect(page.getByTestId('loudness')).toHaveText(/^-\d+\.\d$/);
  await type(page, 'push', '18');
  await expect.poll(async () => Number(await page.getByTestId('taken-db').textContent())).toBeGreaterThan(3);
  await page.getByTestId('play').click();

  await add(page, 'ducking');
  const depth = page.getByRole('slider', { name: 'depth and down in' });
  const { x, y } = await restingBox(depth);
  await page.mouse.move(x + 6, y + 6);
  await page.mouse.down();
  await page.mouse.move(x + 20, y + 36, { steps: 4 });
  await page.mouse.up();
  await saved(page);
  const set = Object.values((await loadDocument(page, id)).effects).find(({ kind }) => kind === 'ducking')!.values;
  expect(set.depthDb).toBeLessThan(-15);
  expect(set.downMs).toBeGreaterThan(5);
  await page.getByRole('slider', { name: 'return' }).press('ArrowRight');
  const ducking = async () =>
    Object.values((await loadDocument(page, id)).effects).find(({ kind }) => kind === 'ducking')!.values;
  // Each is a step of its own.
  await expect.poll(async () => (await ducking()).returnMs).toBeGreaterThan(0);
  await page.keyboard.press('Control+z');
  await expect.poll(ducking).toEqual(set);
  await page.keyboard.press('Control+z');
  await expect.poll(ducking).toEqual({});
  await choose(page, menuField(page, 'under'), 'keys');
  await heardAsSaved(page, id, FRAMES);
  expect(trouble).toEqual([]);
});
