/** Recording on keys while the loop runs, and keys that put patterns on: what is written, what is undone, what is heard. */
import { expect, type Page } from '@playwright/test';
import { eventsOf } from '#core/queries/patterns.ts';
import { test, testAnew } from './one-window.ts';
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
  saved,
  type,
  watchForTrouble,
} from './support.ts';

const LOOP = 'tests/fixtures/loops/swing-04.flac';

/** Waits until the song has gone on by so many rounds. */
async function playRounds(page: Page, rounds: number, lengthBars: number): Promise<void> {
  const bar = async () => Number((await page.getByTestId('position').textContent())!.split('.')[0]);
  const from = await bar();
  await expect.poll(bar, { timeout: 20_000, intervals: [50] }).toBeGreaterThanOrEqual(from + rounds * lengthBars);
}

async function stripsNow(page: Page, id: string) {
  await saved(page);
  const { document, part } = await playedPattern(page, id);
  return eventsOf(document, part.activePatternId);
}

test('keys are recorded while the pattern goes round; each round is undone by itself', async ({ page }) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await page.getByRole('button', { name: 'new pattern' }).click();
  await type(page, 'tempo', '120');
  await page.getByTestId('record').click();
  await expect(page.getByTestId('recording')).toHaveText('recording: 0 strips');
  await expect(page.getByTestId('play')).toHaveAttribute('aria-pressed', 'true');
  const { pattern } = await playedPattern(page, id);
  const bars = pattern!.lengthTicks / 3840;
  await engineFor(page, 250);
  await page.keyboard.press('z', { delay: 60 });
  await expect(page.getByTestId('recording')).toHaveText('recording: 1 strip');
  await playRounds(page, 1, bars);
  await page.keyboard.press('x', { delay: 60 });
  await page.keyboard.press('c', { delay: 60 });
  await expect(page.getByTestId('recording')).toHaveText('recording: 3 strips');
  await page.getByTestId('record').click();
  await expect(page.getByTestId('recording')).toHaveCount(0);
  // The song plays on.
  await expect(page.getByTestId('play')).toHaveAttribute('aria-pressed', 'true');
  await page.getByTestId('play').click();
  const all = await stripsNow(page, id);
  expect(all).toHaveLength(3);
  expect(new Set(all.map(({ zoneId }) => zoneId)).size).toBe(3);

  const document = await loadDocument(page, id);
  const frames = ENGINE_RATE;
  const heard = await listen(page, frames);
  await page.getByTestId('play').click();
  const wanted = expectedSound(document, await loadAssets(page, document), frames);
  expect(peakOf(wanted[0]!)).toBeGreaterThan(0.02);
  expect(peakOf(heard[0]!.map((sample, i) => sample - wanted[0]![i]!))).toBeLessThan(1e-4);

  // The last round alone goes, then the one before.
  await page.keyboard.press('Control+z');
  expect(await stripsNow(page, id)).toHaveLength(1);
  await page.keyboard.press('Control+z');
  expect(await stripsNow(page, id)).toHaveLength(0);
  expect(trouble).toEqual([]);
});

test('what was there gives way from the first key on, and comes back behind where recording ends', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await page.getByRole('button', { name: 'How it is recorded' }).click();
  await choose(page, menuField(page, 'what is there'), 'gives way');
  await type(page, 'draw to grid', '100');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Alt+c');
  await type(page, 'tempo', '40');
  const before = await stripsNow(page, id);
  await page.getByTestId('play').click();
  await engineFor(page, 700);
  await page.getByTestId('record').click();
  // Early in a round, whatever the machine is doing.
  await playRounds(page, 1, 1);
  await engineFor(page, 1_000);
  await page.keyboard.press('z', { delay: 60 });
  await expect(page.getByTestId('recording')).toHaveText('recording: 1 strip');
  await engineFor(page, 700);
  await page.getByTestId('record').click();
  await page.getByTestId('play').click();
  const after = await stripsNow(page, id);
  const places = new Set(before.map(({ positionTicks }) => positionTicks));
  const mine = after.filter(({ positionTicks, values }) => !places.has(positionTicks) || values.velocity !== undefined);
  expect(mine).toHaveLength(1);
  // On the grid of sixteenths, to the tick.
  expect(mine[0]!.positionTicks % 240).toBe(0);
  // What lay before the key and behind the end of recording is there.
  // How far the recording went depends on the machine: what gave way is one stretch, from the key on.
  const kept = after.filter((strip) => !mine.includes(strip)).map((one) => one.positionTicks);
  const gone = [...places].sort((a, b) => a - b).filter((ticks) => !kept.includes(ticks));
  expect(gone.length).toBeGreaterThan(0);
  expect(gone[0]!).toBeGreaterThanOrEqual(mine[0]!.positionTicks - 120);
  expect(kept.some((ticks) => ticks < gone[0]!)).toBe(true);
  expect(kept.some((ticks) => ticks > gone.at(-1)!)).toBe(true);
  expect(kept.every((ticks) => ticks < gone[0]! || ticks > gone.at(-1)!)).toBe(true);
  expect(kept.every((ticks) => places.has(ticks))).toBe(true);
});

test('a key puts a pattern on as long as it is pressed; another lets the part rest; it is seen and heard', async ({
  page,
}) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await page.getByTestId('deal').click();
  await page.getByRole('button', { name: 'colour and keys' }).click();
  const card = page.getByLabel('Colour and keys of patterns');
  await card.getByRole('button', { name: 'colour 3' }).click();
  await choose(page, menuField(page, 'another takes over'), 'at once');
  await card.getByRole('button', { name: 'this pattern on a key' }).click();
  await card.getByRole('checkbox', { name: 'while held' }).check();
  // Learned: the letter N, which plays the tenth slice otherwise.
  await card.getByRole('button', { name: 'learn the key' }).click();
  await page.keyboard.press('Escape');
  await page.keyboard.press('n', { delay: 50 });
  await expect.poll(async () => (await saved(page), (await playedPattern(page, id)).part.switches?.[0]?.key)).toBe(57);
  await page.getByRole('tab', { name: 'home' }).click();
  await saved(page);
  const document = await loadDocument(page, id);
  const [part] = Object.values(document.parts);
  expect(document.patterns[part!.switches![0]!.patternId!]!.colour).toBe(2);
  const assets = await loadAssets(page, document);
  const frames = ENGINE_RATE;
  const held = { ...document, parts: { [part!.id]: { ...part!, activePatternId: part!.switches![0]!.patternId! } } };
  const dealt = expectedSound(held, assets, frames);
  const home = expectedSound(document, assets, frames);

  await page.keyboard.down('n');
  await expect(page.getByRole('tab').filter({ hasText: 'pattern 1' })).toHaveClass(/held/);
  const whileHeld = await listen(page, frames);
  await page.keyboard.up('n');
  await expect(page.getByRole('tab').filter({ hasText: 'pattern 1' })).not.toHaveClass(/held/);
  await page.getByTestId('play').click();
  const after = await listen(page, frames);
  await page.getByTestId('play').click();
  const off = (a: Float32Array, b: Float32Array) => peakOf(a.map((sample, i) => sample - b[i]!));
  expect(off(dealt[0]!, home[0]!)).toBeGreaterThan(0.05);
  expect(off(whileHeld[0]!, dealt[0]!)).toBeLessThan(1e-4);
  expect(off(after[0]!, home[0]!)).toBeLessThan(1e-4);
  expect(trouble).toEqual([]);
});

test('a switch lets the part rest until it is pressed again', async ({ page }) => {
  await projectWith(page, LOOP);
  await page.getByRole('button', { name: 'colour and keys' }).click();
  const card = page.getByLabel('Colour and keys of patterns');
  await card.getByRole('button', { name: 'this pattern on a key' }).click();
  await choose(page, menuField(page, 'what C2 does'), 'rest');
  await card.getByRole('button', { name: 'learn the key' }).click();
  await page.keyboard.press('Escape');
  await page.keyboard.press('z', { delay: 50 });
  await page.keyboard.press('z', { delay: 50 });
  await expect(page.getByTestId('resting')).toBeVisible();
  const silent = await listen(page, 20_000);
  expect(peakOf(silent[0]!)).toBe(0);
  await page.keyboard.press('z', { delay: 50 });
  await expect(page.getByTestId('resting')).toHaveCount(0);
  await page.getByTestId('play').click();
});

testAnew('how late sound leaves the machine is taken from the browser at a press', async ({ page }) => {
  await page.addInitScript(() => {
    Object.defineProperty(AudioContext.prototype, 'baseLatency', { get: () => 0.012 });
    Object.defineProperty(AudioContext.prototype, 'outputLatency', { get: () => 0.03 });
  });
  await projectWith(page, LOOP);
  await page.getByTestId('play').click();
  await page.getByTestId('play').click();
  await page.getByRole('button', { name: 'How it is recorded' }).click();
  const measured = page.getByRole('button', { name: '42 ms, as the browser measures' });
  await measured.click();
  await expect(page.getByRole('spinbutton', { name: 'earlier by' })).toHaveValue('42');
  await expect(measured).toHaveCount(0);
});
