/** On the way to the keys: chord, runner and echoes, played, seen, written down, printed, recorded and undone. */
import { expect, type Page } from '@playwright/test';
import { test } from './one-window.ts';
import {
  choose,
  engineFor,
  heardAsSaved,
  listen,
  loadDocument,
  menuField,
  peakOf,
  playedPattern,
  projectWith,
  saved,
  watchForTrouble,
} from './support.ts';

const LOOP = 'tests/fixtures/loops/swing-04.flac';
const card = (page: Page, kind: string) => page.getByTestId('helper-card').filter({ hasText: kind });

/** A project whose keys, grown, have a runner before them that plays all from one key. */
async function withRunner(page: Page): Promise<string> {
  const id = await projectWith(page, LOOP);
  await page.keyboard.press('F3');
  await page.getByTestId('helpers').getByRole('button', { name: 'runner', exact: true }).click();
  await choose(page, menuField(page, 'plays'), 'all filled keys');
  await saved(page);
  return id;
}

test('one key runs through the loop by itself; what it played is written down, and sounds the same again', async ({
  page,
}) => {
  const trouble = watchForTrouble(page);
  const id = await withRunner(page);
  await choose(page, menuField(page, 'rate').first(), '1/8');
  const [heard] = await listen(page, 44_100, () => page.keyboard.down('z'));
  expect(peakOf(heard!)).toBeGreaterThan(0.05);
  // Step after step, also in the second half of it.
  expect(peakOf(heard!.subarray(33_000))).toBeGreaterThan(0.02);
  const struck = await page.evaluate(
    () =>
      (window.yappa.engine.status as unknown as { parts: { helpers: { heldKeys: number[] }[] }[] }).parts[0]!.helpers,
  );
  expect(struck[0]!.heldKeys).toEqual([48]);
  await page.keyboard.up('z');
  // Nothing runs on.
  await expect.poll(() => page.evaluate(() => window.yappa.engine.status.sounding.length)).toBe(0);

  await page.locator('[data-action=write-down]').click();
  const { events, document, part } = await playedPattern(page, id);
  expect(events.length).toBeGreaterThan(3);
  const zones = part.zoneOrder;
  expect(events.slice(0, 4).map(({ zoneId }) => zoneId)).toEqual(zones.slice(0, 4));
  for (const { values } of events) expect(values).toMatchObject({ onKey: true, pastHelpers: true });
  expect(Object.keys(document.helpers)).toHaveLength(1);
  await heardAsSaved(page, id);
  await page.keyboard.press('Control+z');
  await saved(page);
  expect((await loadDocument(page, id)).parts[part.id]!.patternOrder).toEqual([]);
  expect(trouble).toEqual([]);
});

test('a held note is recorded as it was played, and drives the runner when it comes again; also after a reload', async ({
  page,
}) => {
  const trouble = watchForTrouble(page);
  const id = await withRunner(page);
  await page.keyboard.press('Shift+Space');
  await engineFor(page, 250);
  await page.keyboard.down('x');
  await engineFor(page, 700);
  await page.keyboard.up('x');
  await engineFor(page, 150);
  await page.keyboard.press('Shift+Space');
  await page.getByTestId('play').click();
  await saved(page);
  const { events, part } = await playedPattern(page, id);
  const own = events.filter(({ values }) => values.onKey);
  expect(own).toHaveLength(1);
  expect(own[0]!.zoneId).toBe(part.zoneOrder[2]);
  await page.reload();
  await expect(page.getByTestId('play')).toBeVisible();
  await heardAsSaved(page, id, 88_200);
  // Off, the note reaches its key as it is.
  await page.keyboard.press('F3');
  await card(page, 'runner').getByRole('button', { name: 'runner on' }).click();
  await heardAsSaved(page, id);
  await page.keyboard.press('Control+z');
  await expect(card(page, 'runner').getByRole('button', { name: 'runner on' })).toHaveAttribute('aria-pressed', 'true');
  expect(trouble).toEqual([]);
});

test('chords are built by a click, stand in any order, and what they play is printed', async ({ page }) => {
  const trouble = watchForTrouble(page);
  const id = await withRunner(page);
  await choose(page, menuField(page, 'plays'), 'held keys');
  await page.getByTestId('helpers').getByRole('button', { name: 'add', exact: true }).click();
  await page.getByText('One key plays several').click();
  // It stands before the runner by itself.
  await expect(page.getByTestId('helper-card').first()).toContainText('chord');
  await page.getByTestId('chord-keys').getByRole('button', { name: '2 semitones above', exact: true }).click();
  await page.keyboard.down('z');
  await engineFor(page, 900);
  await page.keyboard.up('z');
  await page.getByTestId('helpers').getByRole('button', { name: 'Print what they played' }).click();
  const dialog = page.getByTestId('print');
  await expect(dialog).toContainText('cut at every hit');
  await dialog.getByRole('button', { name: 'Print', exact: true }).click();
  await expect.poll(async () => (await loadDocument(page, id)).partOrder.length, { timeout: 60_000 }).toBe(2);
  const document = await loadDocument(page, id);
  const [first, printed] = document.partOrder.map((partId) => document.parts[partId]!);
  const [helper] = first!.helperOrder.map((helperId) => document.helpers[helperId]!);
  expect(helper).toMatchObject({ kind: 'chord', intervals: [0, 2, 3, 7], values: { chord: 'own' } });
  expect(Object.keys(document.cuts[printed!.cutOrder[0]!]!.slices).length).toBeGreaterThan(3);
  // Printed it is a sound: no pattern of it was put down.
  expect(first!.patternOrder).toEqual([]);
  expect(trouble).toEqual([]);
});
