/** Ways to sound of a part: kept, put on while it plays, held by a key; seen and heard. */
import { expect, type Page } from '@playwright/test';
import { patternLengthTicks } from '#core/queries/patterns.ts';
import { soundOfPart } from '#core/queries/treatments.ts';
import { songValues, zoneValues } from '#core/queries/values.ts';
import { test } from './one-window.ts';
import {
  choose,
  earlyInBar,
  ENGINE_RATE,
  firstPart,
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
  watchForTrouble,
} from './support.ts';

const LOOP = 'tests/fixtures/loops/swing-04.flac';

const put = (page: Page, name: string) => page.getByRole('button', { name, exact: true });

/** Two treatments on the Shape place: the loop as it is, and dark and quiet. The second one is on. */
async function withTwo(page: Page): Promise<string> {
  const id = await projectWith(page, LOOP);
  await goTo(page, 'Shape');
  await put(page, 'keep this sound').click();
  await expect(put(page, 'treatment 1')).toHaveAttribute('aria-pressed', 'true');
  await put(page, 'its sounds').click();
  const sound = page.getByRole('region', { name: 'Sound' });
  await sound.getByRole('spinbutton', { name: 'level', exact: true }).focus();
  await page.keyboard.type('-14');
  await page.keyboard.press('Enter');
  await expect(put(page, 'treatment 1')).toHaveAttribute('aria-pressed', 'false');
  await put(page, 'keep this sound').click();
  await fromMenu(page, 'More for treatment 2', 'Rename');
  await page.getByLabel('Name of the treatment').fill('far off');
  await page.keyboard.press('Enter');
  await expect(put(page, 'far off')).toHaveAttribute('aria-pressed', 'true');
  return id;
}

test('how a part sounds is kept, put on at the next bar while it plays, and heard', async ({ page }) => {
  const trouble = watchForTrouble(page);
  const id = await withTwo(page);
  const dark = await firstPart(page, id);
  await page.getByTestId('play').click();
  await earlyInBar(page);
  await put(page, 'treatment 1').click();
  await expect(page.locator('.treatments')).toContainText('next bar');
  await expect(page.locator('.treatments')).not.toContainText('next bar');
  await page.getByTestId('play').click();
  await saved(page);
  const plain = await firstPart(page, id);
  const [first, second] = plain.part.treatments!;
  const now = soundOfPart(plain.document, plain.part);
  expect({ ...first, ...now }).toEqual(first);
  expect({ ...second, ...soundOfPart(dark.document, dark.part) }).toEqual(second);
  expect(now.zones).not.toEqual(second!.zones);
  await heardAsSaved(page, id);
  await page.keyboard.press('Control+z');
  await expect(put(page, 'far off')).toHaveAttribute('aria-pressed', 'true');
  await heardAsSaved(page, id);

  // As it sounds now under the old name; and given up.
  await fromMenu(page, 'More for treatment 1', 'Keep anew');
  await expect(put(page, 'treatment 1')).toHaveAttribute('aria-pressed', 'true');
  await fromMenu(page, 'More for far off', 'Give it up');
  await expect(put(page, 'far off')).toHaveCount(0);
  expect(trouble).toEqual([]);
});

test('a key puts a treatment on as long as it is pressed; the document stays as it is', async ({ page }) => {
  const id = await withTwo(page);
  await put(page, 'treatment 1').click();
  await fromMenu(page, 'More for far off', 'On a key, while held …');
  await page.keyboard.press('z');
  await expect(page.locator('.one').filter({ hasText: 'far off' })).toContainText('C3');
  const before = await loadDocument(page, id);
  const plain = await listen(page, ENGINE_RATE);
  await page.getByTestId('play').click();
  await page.keyboard.down('z');
  await expect(page.locator('.one').filter({ hasText: 'far off' })).toHaveClass(/held/);
  const [quiet] = await listen(page, ENGINE_RATE);
  await page.keyboard.up('z');
  await page.getByTestId('play').click();
  expect(peakOf(quiet!) / peakOf(plain[0]!)).toBeCloseTo(10 ** (-14 / 20), 2);
  expect((await listen(page, ENGINE_RATE))[0]).toEqual(plain[0]);
  expect(await loadDocument(page, id)).toEqual(before);
});

test('a pedal mutes a sound, and deals', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await page.getByTestId('deal').click();
  await page.getByRole('button', { name: 'colour and keys' }).click();
  const card = page.getByLabel('Colour and keys of patterns');
  await card.getByRole('button', { name: 'this pattern on a key' }).click();
  await choose(page, menuField(page, 'what C2 does'), 'mute 1 kick 1');
  await card.getByRole('button', { name: 'learn the key' }).click();
  await page.keyboard.press('Escape');
  const pedal = page.getByTestId('devices-menu').getByRole('button', { name: 'pedal' });
  const press = async () => {
    await page.getByTestId('devices').click();
    await pedal.click();
    await pedal.click();
    await page.keyboard.press('Escape');
  };
  await press();
  await expect.poll(async () => (await firstPart(page, id)).part.switches?.[0]?.control).toBe(20);
  const { part, document } = await firstPart(page, id);
  const kick = part.switches![0]!.zoneId!;
  expect(zoneValues(document.zones[kick]!).muted).toBe(false);
  await press();
  await expect.poll(async () => zoneValues((await loadDocument(page, id)).zones[kick]!).muted).toBe(true);
  await heardAsSaved(page, id);
  await press();
  await expect.poll(async () => zoneValues((await loadDocument(page, id)).zones[kick]!).muted).toBe(false);

  await page.getByRole('button', { name: 'colour and keys' }).click();
  await choose(page, menuField(page, 'what controller 20 does'), 'deal');
  await page.keyboard.press('Escape');
  await press();
  await expect(page.getByTestId('hand-count')).toHaveText('3 of 3');
});

test('from one treatment to another over a pattern: a dial that a lane moves, heard as saved, undone in one step', async ({
  page,
}) => {
  const id = await withTwo(page);
  await put(page, 'the part').click();
  const plain = await heardAsSaved(page, id, ENGINE_RATE);
  await page.getByRole('button', { name: 'More for treatment 1' }).click();
  await page.getByText('Over this pattern to …').click();
  await page.getByRole('listitem').filter({ hasText: 'far off' }).last().click();
  await expect(page.getByRole('region', { name: /^Lane:/ })).toHaveCount(1);
  await expect(page.getByText('treatment 1 – far off').first()).toBeVisible();
  const led = await heardAsSaved(page, id, 2 * ENGINE_RATE);
  // The first half is as loud as the first treatment, four times as loud as the one that was on.
  const loudest = (from: number, to: number) => peakOf(led.subarray(from * ENGINE_RATE, to * ENGINE_RATE));
  expect(loudest(0, 0.9)).toBeGreaterThan(3 * peakOf(plain.subarray(0, 0.9 * ENGINE_RATE)));
  expect(loudest(0, 0.9)).toBeGreaterThan(2 * loudest(1.2, 1.9));
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('region', { name: /^Lane:/ })).toHaveCount(0);
  await expect(page.getByText('treatment 1 – far off')).toHaveCount(0);
});

test('a pattern puts treatments on where it is told to: laid, dragged, chosen anew, by keys; heard, undone, kept', async ({
  page,
}) => {
  const trouble = watchForTrouble(page);
  const id = await withTwo(page);
  await put(page, 'the part').click();
  const field = page.getByTestId('treatment-field');
  const change = page.getByTestId('treatment-change');
  const there = async () => {
    const { part } = await firstPart(page, id);
    return part.treatmentChanges?.[part.activePatternId] ?? [];
  };
  const pick = async (words: string) => {
    const menu = page.locator('.v-menu.v-overlay--active');
    await menu.getByText(words, { exact: true }).click();
    await expect(menu).toHaveCount(0);
  };
  const box = await restingBox(field);
  await page.mouse.click(box.x + box.width / 2 + 3, box.y + 20);
  await pick('treatment 1');
  await expect(change).toHaveText('treatment 1');
  const { part, document } = await firstPart(page, id);
  const length = patternLengthTicks(document, part.activePatternId);
  const [first] = part.treatments!;
  expect(await there()).toEqual([{ at: length / 2, treatmentId: first!.id }]);

  // Quiet by itself, and in the second half of the loop as the first treatment has it.
  const tempo = songValues(document).tempoBpm;
  const frames = Math.round((length / 960) * (60 / tempo) * ENGINE_RATE);
  const heard = await heardAsSaved(page, id, frames);
  const [early, late] = [heard.subarray(0, frames / 2), heard.subarray(frames / 2)].map(peakOf);
  expect(late! / early!).toBeGreaterThan(3);

  const chip = await restingBox(change);
  await page.mouse.move(chip.x + 20, chip.y + 10);
  await page.mouse.down();
  await page.mouse.move(chip.x + 20 - box.width / 4, chip.y + 10, { steps: 5 });
  await page.mouse.up();
  await saved(page);
  const [moved] = await there();
  expect(moved!.at).toBeCloseTo(length / 4, -2);
  await change.focus();
  await page.keyboard.press('ArrowRight');
  await expect.poll(async () => (await there())[0]!.at).toBeGreaterThan(moved!.at);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect.poll(there).toEqual([{ at: length / 2, treatmentId: first!.id }]);

  await change.click();
  await pick('as it does by itself');
  await expect(change).toHaveText('by itself');
  await field.focus();
  await page.keyboard.press('Enter');
  await pick('treatment 1');
  await expect(change).toHaveCount(2);
  // Within the reach of one a click puts another one on: at once after a choice, too.
  await page.mouse.click(box.x + box.width * 0.7, box.y + 20);
  const aside: [number, number] = [box.x + box.width * 0.9, box.y + 20];
  await page
    .locator('.v-menu.v-overlay--active')
    .getByText('as it does by itself', { exact: true })
    .evaluate(async (item: HTMLElement, [clientX, clientY]) => {
      item.click();
      await new Promise(requestAnimationFrame);
      const under = item.ownerDocument.elementFromPoint(clientX, clientY)!;
      under.dispatchEvent(new MouseEvent('click', { bubbles: true, clientX, clientY }));
      await new Promise((done) => setTimeout(done, 100));
    }, aside);
  await pick('far off');
  await expect(change).toHaveCount(4);
  await heardAsSaved(page, id, frames);
  await page.reload();
  await expect(change).toHaveCount(4);
  await change.first().focus();
  await page.keyboard.press('Delete');
  await expect(change).toHaveCount(3);
  await expect.poll(async () => (await there())[0]).toEqual({ at: length / 2 });
  expect(trouble).toEqual([]);
});
