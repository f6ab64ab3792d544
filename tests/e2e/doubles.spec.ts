/** Doubles under hits, and tunings on keys: laid, set, undone, there again, and heard as the core plays them. */
import { randomUUID } from 'node:crypto';
import { mkdirSync, writeFileSync } from 'node:fs';
import { expect } from '@playwright/test';
import { writeWav } from '#core/formats/wav-write.ts';
import { zonesOfPart } from '#core/queries/zones.ts';
import { test } from './one-window.ts';
import {
  choose,
  ENGINE_RATE,
  firstPart,
  goTo,
  heardAsSaved,
  loadDocument,
  menuField,
  peakOf,
  pickFiles,
  projectWith,
  saved,
  type,
  watchForTrouble,
} from './support.ts';

const LOOP = 'tests/fixtures/loops/swing-04.flac';

test('a sound is laid under chosen hits, blended, set, and taken away; it is heard so and there again', async ({
  page,
}) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await goTo(page, 'Shape');
  const plain = await heardAsSaved(page, id);
  const { part } = await firstPart(page, id);
  const document = await loadDocument(page, id);
  const all = zonesOfPart(document, part);
  const roles = [...new Set(all.map(({ at }) => at.slice.role ?? ''))];
  const ofRole = (role: string) => all.filter(({ at }) => at.slice.role === role);
  const role = roles.find((one) => ofRole(one).length > 1 && ofRole(one).length < all.length)!;
  const hits = ofRole(role);

  await page.getByRole('button', { name: 'a double', exact: true }).click();
  const under = menuField(page, 'under');
  await under.click();
  await page
    .getByRole('option', { name: new RegExp(`^(${role}|${role}s) \\(`) })
    .first()
    .click();
  await page.getByRole('button', { name: 'lay it under', exact: true }).click();
  const row = page.getByRole('region', { name: /^under / });
  await expect(row.getByRole('button', { name: /^\d+ hits?$/ })).toHaveText(`${hits.length} hits`);
  await saved(page);
  const [double] = (await firstPart(page, id)).part.doubles!;
  expect(double!.zoneIds).toEqual(hits.map(({ zone }) => zone.id));
  const doubled = await heardAsSaved(page, id);
  expect(peakOf(doubled.map((sample, i) => sample - plain[i]!))).toBeGreaterThan(0.01);

  await type(page, 'blend', '100');
  await type(page, 'follows', '0');
  const instead = await heardAsSaved(page, id);
  expect(peakOf(instead.map((sample, i) => sample - doubled[i]!))).toBeGreaterThan(0.005);
  // Its hits are chosen with a click, and its sound is another one.
  await row.getByRole('button', { name: /^\d+ hits?$/ }).click();
  await expect(page.getByTestId('shape-facts')).toContainText(`${hits.length} sounds`);
  await row.getByRole('button', { name: /^More for under/ }).click();
  await page.locator('.v-overlay--active').getByText('Remove', { exact: true }).click();
  await expect(row).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(row).toHaveCount(1);
  // Through a bus of its own: in one step, with a chain of its own.
  await choose(page, menuField(page, 'heard'), 'a bus of its own');
  await page.reload();
  await expect(row).toHaveCount(1);
  await choose(page, menuField(page, 'chain of'), double!.name);
  await page.getByRole('button', { name: 'add an effect' }).click();
  await page.locator('.v-menu .v-list').getByText('crush', { exact: true }).click();
  const crushed = await heardAsSaved(page, id);
  expect(peakOf(crushed.map((sample, i) => sample - instead[i]!))).toBeGreaterThan(0.005);
  await heardAsSaved(page, id);
  expect(trouble).toEqual([]);
});

test('a hit that lies on the shelf only is laid under hits in one step, which is undone in one', async ({ page }) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  const name = `thump ${randomUUID().slice(0, 8)}`;
  const thump = Float32Array.from(
    { length: 12_000 },
    (_, i) => 0.8 * Math.sin(i * 0.009 + 30 * (1 - Math.exp(-i / 900)) * 0.2) * Math.exp(-i / 2_200),
  );
  const path = test.info().outputPath(`${name}.wav`);
  mkdirSync(test.info().outputDir, { recursive: true });
  writeFileSync(path, writeWav({ sampleRate: ENGINE_RATE, channels: [thump] }, { encoding: 'float32' }));
  await goTo(page, 'Shelf');
  await pickFiles(page, page.getByTestId('import'), path);
  await expect(page.getByText(name).first()).toBeVisible();
  await goTo(page, 'Shape');
  const plain = await heardAsSaved(page, id);
  const before = (await firstPart(page, id)).part;
  await page.getByRole('button', { name: 'a double', exact: true }).click();
  await choose(page, menuField(page, 'sound'), `shelf: ${name}`);
  await page.getByRole('button', { name: 'lay it under', exact: true }).click();
  const row = page.getByRole('region', { name: /^under / });
  await expect(row).toHaveCount(1);
  await saved(page);
  const { part, document } = await firstPart(page, id);
  expect(part.cutOrder).toHaveLength(2);
  expect(part.values).toEqual(before.values);
  const laid = zonesOfPart(document, part).find(({ zone }) => zone.id === part.doubles![0]!.soundId)!;
  expect(laid.keys).toBeNull();
  const doubled = await heardAsSaved(page, id);
  expect(peakOf(doubled.map((sample, i) => sample - plain[i]!))).toBeGreaterThan(0.05);
  await page.keyboard.press('Control+z');
  await expect(row).toHaveCount(0);
  await saved(page);
  const undone = (await firstPart(page, id)).part;
  expect(undone).toEqual(before);
  await page.keyboard.press('Control+Shift+Z');
  await expect(row).toHaveCount(1);
  await page.reload();
  await expect(row).toHaveCount(1);
  const again = await heardAsSaved(page, id);
  expect(peakOf(again.map((sample, i) => sample - doubled[i]!))).toBeLessThan(1e-4);
  expect(trouble).toEqual([]);
});

test('tunings of a comb are laid on keys in one gesture, and play the loop like an instrument', async ({ page }) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await goTo(page, 'Shape');
  await page.getByRole('button', { name: 'add an effect' }).click();
  await page.locator('.v-menu .v-list').getByText('tuned comb', { exact: true }).click();
  await page.getByText('Tunings on keys').click();
  await choose(page, menuField(page, 'steps'), 'steps of five');
  await type(page, 'how many', '4');
  await page.getByRole('button', { name: 'lay them on keys' }).click();
  await expect(page.getByText(/They lie on .* to /)).toBeVisible();
  await saved(page);
  const { part } = await firstPart(page, id);
  const notes = part.treatments!.map(({ effects }) => Object.values(effects)[0]!.values.note ?? 48);
  expect(notes).toEqual([48, 51, 53, 55]);
  expect(part.switches!.map(({ key }) => key! - part.switches![0]!.key!)).toEqual([0, 1, 2, 3]);
  // One of them is put on: the comb is tuned so, and heard.
  const before = await heardAsSaved(page, id);
  await page.getByRole('group', { name: 'Treatments' }).getByRole('button', { name: /^.*2/ }).nth(2).click();
  const tuned = await heardAsSaved(page, id);
  const document = await loadDocument(page, id);
  const { note } = Object.values(document.effects)[0]!.values;
  expect(notes).toContain(note ?? 48);
  expect(peakOf(tuned.map((sample, i) => sample - before[i]!))).toBeGreaterThan(0.005);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('group', { name: 'Treatments' }).locator('.one')).toHaveCount(0);
  expect(trouble).toEqual([]);
});
