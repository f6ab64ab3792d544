/** A pitch made flat: a voice that glides becomes an instrument over the keys, or stays in its place on one note. */
import { writeFileSync } from 'node:fs';
import { expect } from '@playwright/test';
import { writeWav } from '#core/formats/wav-write.ts';
import { midiToHz } from '#core/units/pitch.ts';
import { voice, VOICE_RATE } from '../support/voice.ts';
import { test } from './one-window.ts';
import {
  choose,
  firstPart,
  fromMenu,
  heardAsSaved,
  listen,
  loadAssets,
  pointIn,
  projectWith,
  saved,
  watchForTrouble,
} from './support.ts';

/** Frames of the period that repeats best. */
function periodOf(samples: Float32Array, around: number): number {
  let [best, most] = [0, -Infinity];
  for (let lag = Math.round(0.8 * around); lag < 1.25 * around; lag++) {
    let both = 0;
    for (let i = 0; i < 6_000; i++) both += samples[i]! * samples[i + lag]!;
    if (both > most) [best, most] = [lag, both];
  }
  return best;
}

test('a voice that glides lies on one note over free keys, each as long as it is; in its place, too; and is undone', async ({
  page,
}, info) => {
  const trouble = watchForTrouble(page);
  const samples = voice((seconds) => 52 + 5 * seconds, 1.2);
  const file = info.outputPath('net mender.wav');
  writeFileSync(file, writeWav({ sampleRate: VOICE_RATE, channels: [samples] }, { encoding: 'pcm24' }));
  const id = await projectWith(page, file);
  await choose(page, page.getByTestId('cut-method'), 'in equal parts');
  await page.getByRole('spinbutton', { name: 'parts', exact: true }).focus();
  await page.keyboard.type('1');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('slice-count')).toHaveText('1 slice');
  const at = await pointIn(page.getByTestId('source-canvas'), 0.5, 0.5);
  await page.mouse.click(at.x, at.y);
  const before = await firstPart(page, id);
  await fromMenu(page, 'more for these', 'Make its pitch flat …');
  await page.getByTestId('flat').getByRole('button', { name: 'Make it flat' }).click();
  await expect(page.getByText(/It lies on .* is its own\./)).toBeVisible();
  await saved(page);
  const after = await firstPart(page, id);
  const zone = after.document.zones[after.part.zoneOrder.at(-1)!]!;
  expect(after.part.zoneOrder).toHaveLength(before.part.zoneOrder.length + 1);
  expect(zone.values.keepsLength).toBe(true);
  expect(zone.keys!.high - zone.keys!.low).toBeGreaterThan(10);
  const { sourceId } = after.document.cuts[zone.plays.cutId]!;
  const made = (await loadAssets(page, after.document)).get(sourceId)!.channels[0]!;
  expect(Math.abs(made.length - samples.length)).toBeLessThan(50);
  // Early and late it is on the same note, which it was not.
  const period = VOICE_RATE / midiToHz(55);
  const periods = [8_000, 36_000].map((from) => periodOf(made.subarray(from), period));
  expect(Math.abs(periods[0]! - periods[1]!)).toBeLessThanOrEqual(2);
  const was = [8_000, 36_000].map((from) => periodOf(samples.subarray(from), period));
  expect(Math.abs(was[0]! - was[1]!)).toBeGreaterThan(20);
  // The new sound is chosen, and heard.
  const [heard] = await listen(page, VOICE_RATE, async () => {
    await page.getByRole('button', { name: 'hear it', exact: true }).click();
  });
  const begins = heard!.findIndex((value) => Math.abs(value) > 0.02);
  expect(Math.abs(periodOf(heard!.subarray(begins + 8_000), period) - periods[0]!)).toBeLessThanOrEqual(2);
  await page.keyboard.press('Control+z');
  await saved(page);
  expect((await firstPart(page, id)).part.zoneOrder).toEqual(before.part.zoneOrder);

  await page.mouse.click(at.x, at.y);
  await fromMenu(page, 'more for these', 'Make its pitch flat …');
  await page.getByTestId('flat').getByRole('button', { name: 'in its place' }).click();
  await page.getByTestId('flat').getByRole('button', { name: 'Make it flat' }).click();
  const sourceNow = async () => Object.values((await firstPart(page, id)).document.cuts)[0]!.sourceId;
  const first = Object.values(before.document.cuts)[0]!.sourceId;
  await expect.poll(sourceNow).not.toBe(first);
  await heardAsSaved(page, id);
  await page.keyboard.press('Control+z');
  await expect.poll(sourceNow).toBe(first);
  expect(trouble).toEqual([]);
});

test('where no note is heard it says so, and nothing is made', async ({ page }) => {
  const id = await projectWith(page, 'tests/fixtures/loops/swing-04.flac');
  const at = await pointIn(page.getByTestId('source-canvas'), 0.01, 0.5);
  await page.mouse.click(at.x, at.y);
  const { document } = await firstPart(page, id);
  const sounds = Object.keys(document.sources).length;
  await page.keyboard.press('ArrowRight');
  await fromMenu(page, 'more for these', 'Make its pitch flat …');
  await page.getByTestId('flat').getByRole('button', { name: 'Make it flat' }).click();
  await expect(page.getByText(/No single note is heard in/)).toBeVisible();
  expect(Object.keys((await firstPart(page, id)).document.sources)).toHaveLength(sounds);
});
