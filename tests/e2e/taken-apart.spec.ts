/** What is in a slice: taken apart, heard, put on keys and put back into the loop, in the browser. */
import { writeFileSync } from 'node:fs';
import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';
import { writeWav } from '#core/formats/wav-write.ts';
import { strike } from '../support/made-drums.ts';
import { test } from './one-window.ts';
import {
  choose,
  firstPart,
  heardAsSaved,
  listen,
  loadAssets,
  loadDocument,
  peakOf,
  pointIn,
  previewHeard,
  projectWith,
  saved,
  watchForTrouble,
} from './support.ts';

const RATE = 44_100;
const STEP = 11_025;

/** A bar at 120: kick, hat, both together, hat, snare, hat, both together, hat. */
function pierBar(path: string): string {
  const samples = new Float32Array(8 * STEP);
  const add = (place: number, sound: Float32Array, gain: number) => {
    for (let i = 0; i < STEP; i++) samples[place * STEP + i]! += gain * (sound[i] ?? 0);
  };
  for (const [stroke, place] of [0, 2, 6].entries()) add(place, strike({ role: 'kick', seed: 3 }, stroke), 0.7);
  for (const [stroke, place] of [1, 2, 3, 5, 6, 7].entries())
    add(place, strike({ role: 'closed hat', seed: 7 }, stroke), 0.35);
  add(4, strike({ role: 'snare', seed: 2 }, 1), 0.6);
  writeFileSync(path, writeWav({ sampleRate: RATE, channels: [samples] }, { encoding: 'pcm24' }));
  return path;
}

/** The third slice, opened, with its two layers named. */
async function openThird(page: Page): Promise<void> {
  await expect(page.getByTestId('slice-count')).toHaveText('8 slices');
  const at = await pointIn(page.getByTestId('source-canvas'), 2.5 / 8, 0.4);
  await page.mouse.click(at.x, at.y);
  await page.getByTestId('open-apart').click();
  const layers = page.getByTestId('layer');
  await expect(layers.first()).toBeVisible();
  if ((await layers.count()) === 1) await page.getByRole('button', { name: 'something else is in it' }).click();
  for (const [place, role] of ['kick', 'closed hat'].entries()) {
    const field = layers.nth(place).getByRole('combobox', { name: 'What it is' });
    if ((await field.inputValue()) !== role) await choose(page, field, role);
  }
  await expect(page.getByTestId('take-apart')).toBeEnabled();
}

/** Correlation of two sounds, each from where it begins. */
function alikeFromTheirStarts(one: Float32Array, other: Float32Array): number {
  const start = (samples: Float32Array) => samples.findIndex((value) => Math.abs(value) > 0.05 * peakOf(samples));
  const [a, b] = [one.subarray(start(one)), other.subarray(start(other))];
  let [both, ofA, ofB] = [0, 0, 0];
  for (let i = 0; i < 5_000; i++) {
    both += a[i]! * b[i]!;
    ofA += a[i]! ** 2;
    ofB += b[i]! ** 2;
  }
  return both / Math.sqrt(ofA * ofB);
}

test('a kick and a hat are taken apart: heard, laid on the next keys as sounds that know where they come from, undone', async ({
  page,
}, info) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, pierBar(info.outputPath('pier bar.wav')));
  await openThird(page);
  const before = await firstPart(page, id);
  const layers = page.getByTestId('layer');
  // Each is known from a lone hit of the loop; a thread leads to it.
  await expect(page.getByTestId('guide-threads').locator('path')).toHaveCount(2);
  const isHeard = previewHeard(page);
  await layers.nth(1).getByRole('button', { name: 'Play closed hat' }).click();
  await isHeard;
  // The border is moved by the keyboard, and comes back.
  const handle = page.getByRole('slider', { name: 'Border, place 2' });
  await handle.focus();
  await page.keyboard.press('ArrowUp');
  await expect(handle).toHaveAttribute('aria-valuenow', '1');
  await page.keyboard.press('ArrowDown');
  await expect(handle).toHaveAttribute('aria-valuenow', '0');
  const { violations } = await new AxeBuilder({ page }).include('[data-testid="apart"]').analyze();
  expect(violations.filter(({ impact }) => impact === 'critical' || impact === 'serious')).toEqual([]);

  await page.getByTestId('take-apart').click();
  await expect(page.getByText('2 new sounds lie on the next free keys.')).toBeVisible();
  await saved(page);
  const after = await firstPart(page, id);
  expect(after.part.zoneOrder).toHaveLength(before.part.zoneOrder.length + 2);
  const fresh = after.part.zoneOrder.slice(-2).map((zoneId) => after.document.zones[zoneId]!);
  const cut = after.document.cuts[fresh[0]!.plays.cutId]!;
  expect(Object.values(cut.slices).map(({ role }) => role)).toEqual(['kick', 'closed hat']);
  const taken = new Set(before.part.zoneOrder.map((zoneId) => before.document.zones[zoneId]!.keys?.low));
  for (const { keys } of fresh) expect(taken.has(keys!.low)).toBe(false);
  const response = await page.request.get('/api/sources');
  const sources = (await response.json()) as { id: string; facts: { origin?: string } }[];
  expect(sources.find((one) => one.id === cut.sourceId)?.facts.origin).toBe('slice 3 of pier bar, taken apart');
  // On its key the kick is heard as it was made: without its hat.
  const audio = (await loadAssets(page, after.document)).get(cut.sourceId)!;
  const kick = Object.values(cut.slices)[0]!;
  const wanted = audio.channels[0]!.subarray(kick.startFrame, kick.endFrame!);
  const [heard] = await listen(page, RATE, async () => {
    await page.getByRole('button', { name: 'hear it', exact: true }).click();
  });
  expect(alikeFromTheirStarts(heard!, wanted)).toBeGreaterThan(0.999);
  await page.keyboard.press('Control+z');
  await saved(page);
  expect((await firstPart(page, id)).part.zoneOrder).toEqual(before.part.zoneOrder);
  expect(trouble).toEqual([]);
});

test('in its place a slice loses its hat, in all that plays it; the loop is what it was elsewhere, and after undo', async ({
  page,
}, info) => {
  const id = await projectWith(page, pierBar(info.outputPath('quay bar.wav')));
  await openThird(page);
  const { document } = await firstPart(page, id);
  const was = Object.values(document.cuts)[0]!;
  const samplesOf = async (sourceId: string) =>
    (await loadAssets(page, await loadDocument(page, id))).get(sourceId)!.channels[0]!;
  const original = await samplesOf(was.sourceId);
  await page.getByRole('button', { name: 'in place', exact: true }).click();
  await expect(page.getByTestId('take-apart')).toBeDisabled();
  await page.getByTestId('layer').nth(1).getByRole('checkbox', { name: 'Keep the closed hat' }).click();
  await page.getByTestId('take-apart').click();
  await expect(page.getByTestId('apart')).toHaveCount(0);
  await saved(page);
  const now = Object.values((await loadDocument(page, id)).cuts)[0]!;
  expect(now.sourceId).not.toBe(was.sourceId);
  expect(now.slices).toEqual(was.slices);
  const changed = await samplesOf(now.sourceId);
  const difference = changed.map((value, i) => value - original[i]!);
  const third = Object.values(now.slices).sort((a, b) => a.startFrame - b.startFrame)[2]!;
  expect(peakOf(difference.subarray(0, third.startFrame))).toBeLessThan(1e-6);
  expect(peakOf(difference.subarray(3 * STEP + 10))).toBeLessThan(1e-6);
  expect(peakOf(difference)).toBeGreaterThan(0.05);
  await heardAsSaved(page, id);
  await page.keyboard.press('Control+z');
  await saved(page);
  expect(Object.values((await loadDocument(page, id)).cuts)[0]!.sourceId).toBe(was.sourceId);
  await page.reload();
  await heardAsSaved(page, id);
});
