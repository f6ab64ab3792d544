/** The running order: sections made, patterns placed, stretched, muted; played as the core plays them; written by playing. */
import { readFileSync, statSync } from 'node:fs';
import { pathToFileURL } from 'node:url';
import { expect, type Page } from '@playwright/test';
import { unzipSync } from 'fflate';
import { readWav } from '#core/formats/wav-read.ts';
import { orderLayout, sectionValues } from '#core/order/layout.ts';
import { patternLengthTicks } from '#core/queries/patterns.ts';
import { songValues } from '#core/queries/values.ts';
import { framesPerTick } from '#core/units/time.ts';
import { test } from './one-window.ts';
import {
  choose,
  ENGINE_RATE,
  engineFor,
  expectedSound,
  goTo,
  listen,
  loadAssets,
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

async function toSections(page: Page): Promise<void> {
  await goTo(page, 'Running order');
  await page.getByRole('button', { name: 'sections', exact: true }).click();
}

async function section(page: Page, id: string, place: number) {
  const document = await loadDocument(page, id);
  return { document, section: document.sections[document.sectionOrder[place]!]! };
}

test('sections with tempi of their own are played one after another, as the core plays them, from anywhere', async ({
  page,
}) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await toSections(page);
  await page.getByRole('button', { name: 'begin with what is on now' }).click();
  await page.getByRole('button', { name: 'add a section', exact: true }).click();
  await expect(page.getByTestId('section')).toHaveCount(2);
  await choose(page, menuField(page, 'tempo'), 'its own');
  await type(page, 'own tempo', '140');
  await type(page, 'arrives in', '1');
  await saved(page);
  const { document, section: second } = await section(page, id, 1);
  expect(sectionValues(second)).toMatchObject({ tempoFrom: 'own', tempoBpm: 140, arriveBars: 1 });
  const layout = orderLayout(document);
  const assets = await loadAssets(page, document);
  const from = layout.sections[1]!.startTicks - 960;

  await page.getByRole('button', { name: 'play the running order' }).click();
  const frames = 3 * ENGINE_RATE;
  const [whole] = await listen(page, frames);
  await page.getByTestId('play').click();
  const [wanted] = expectedSound(document, assets, frames, { followsOrder: true });
  expect(peakOf(whole!)).toBeGreaterThan(0.05);
  expect(peakOf(whole!.map((sample, i) => sample - wanted![i]!))).toBeLessThan(1e-4);

  // From a click on its ruler on: a beat before the second section.
  await expect.poll(() => page.evaluate(() => Math.max(...window.yappa.engine.status.peaks))).toBeLessThan(1e-6);
  const ruler = await restingBox(page.getByTestId('order-ruler'));
  const barWidth = 44;
  await choose(page, menuField(page, 'snap'), '1/4 bar');
  const x = (from / (4 * 960)) * barWidth + 2;
  const [there] = await listen(page, frames, () => page.mouse.click(ruler.x + x, ruler.y + 8));
  const [begun] = expectedSound(document, assets, frames, { followsOrder: true, fromTicks: from });
  const first = there!.findIndex((sample) => Math.abs(sample) > 1e-4);
  const wantedFirst = begun!.findIndex((sample) => Math.abs(sample) > 1e-4);
  // Up to its end, from where it goes round.
  const count = 2 * ENGINE_RATE - Math.max(first, wantedFirst);
  const off = Float32Array.from({ length: count }, (_, i) => there![first + i]! - begun![wantedFirst + i]!);
  expect(peakOf(off)).toBeLessThan(1e-3);
  await expect(page.getByTestId('position')).toContainText(/^\d+\./);
  // On the bench it is said that what is chosen there is not what is heard, with the way out.
  await goTo(page, 'Bench');
  await page.getByTestId('order-line').getByRole('button', { name: 'play rounds instead' }).click();
  await expect(page.getByTestId('order-line')).toHaveCount(0);
  await page.getByTestId('play').click();
  expect(trouble).toEqual([]);
});

test('patterns are dragged into a section, moved, stretched, muted and made fills; each is one step to undo', async ({
  page,
}) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await page.getByTestId('deal').click();
  await toSections(page);
  await page.getByRole('button', { name: 'begin with four empty bars' }).click();
  const lane = page.getByTestId('order-lane');
  await page.getByTestId('section').click();
  await page
    .getByTestId('tray-pattern')
    .nth(1)
    .dragTo(lane, { targetPosition: { x: 44 + 6, y: 40 } });
  await expect(page.getByTestId('placing')).toHaveCount(1);
  const placing = async () => (await section(page, id, 0)).section.placings[0]!;
  const roundTicks = (await placing()).lengthTicks;
  expect((await placing()).startTicks).toBe(3840);

  const box = await restingBox(page.getByTestId('placing'));
  await page.mouse.move(box.x + 20, box.y + 50);
  await page.mouse.down();
  await page.mouse.move(box.x + 20 - 30, box.y + 50, { steps: 4 });
  await page.mouse.up();
  await expect.poll(async () => (await placing()).startTicks).toBe(0);
  const moved = await restingBox(page.getByTestId('placing'));
  await page.mouse.move(moved.x + moved.width - 3, moved.y + 50);
  await page.mouse.down();
  await page.mouse.move(moved.x + moved.width + 41, moved.y + 50, { steps: 4 });
  await page.mouse.up();
  await expect.poll(async () => (await placing()).lengthTicks).toBe(roundTicks + 3840);
  // By the keyboard, too.
  await page.getByTestId('placing').focus();
  await page.keyboard.press('ArrowRight');
  await expect.poll(async () => (await placing()).startTicks).toBe(3840);
  await page.getByRole('button', { name: 'mute', exact: true }).last().click();
  await expect.poll(async () => (await placing()).muted).toBe(true);
  await page.getByRole('button', { name: 'fill', exact: true }).click();
  await expect.poll(async () => (await placing()).isFill).toBe(true);
  for (let n = 0; n < 5; n++) await page.getByTestId('undo').click();
  await expect.poll(async () => (await placing()).startTicks).toBe(3840);
  expect(await placing()).toMatchObject({ lengthTicks: roundTicks, muted: false, isFill: false });
  await page.reload();
  await expect(page.getByTestId('placing')).toHaveCount(1);
  expect(trouble).toEqual([]);
});

test('what is switched and muted while it plays becomes a section when it stops', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await page.getByTestId('deal').click();
  await goTo(page, 'Running order');
  await page.getByRole('button', { name: 'on now', exact: true }).click();
  await page.getByRole('button', { name: 'write what I play' }).click();
  await page.getByTestId('play').click();
  await engineFor(page, 1500);
  await page.getByRole('button', { name: 'swing-04: home' }).click();
  await engineFor(page, 3500);
  await page.getByTestId('play').click();
  await expect(page.getByText(/What was played is a section of \d+ bars? now/)).toBeVisible();
  const { document, section: written } = await section(page, id, 0);
  const part = document.parts[document.partOrder[0]!]!;
  expect(written.placings.map(({ patternId }) => patternId)).toEqual([part.patternOrder[0], part.activePatternId]);
  const [first, second] = written.placings;
  expect(first!.startTicks).toBe(0);
  expect(second!.startTicks % 3840).toBe(0);
  expect(second!.startTicks).toBe(first!.lengthTicks);
});

test('stems, drum by drum, add up to the mix; a project leaves as a zip, opens as a new one, and comes into another', async ({
  page,
}) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await goTo(page, 'Take away');
  for (const name of ['Stems', 'Instrument', 'The whole project'])
    await page.getByRole('checkbox', { name, exact: true }).check();
  await page.getByRole('button', { name: 'drums of parts', exact: true }).click();
  const downloading = page.waitForEvent('download');
  await page.getByTestId('away-run').click();
  const files = unzipSync(readFileSync(await (await downloading).path()));
  const named = (ending: RegExp) => Object.entries(files).filter(([name]) => ending.test(name));
  const mix = readWav(files['swing-04.wav']!).audio.channels[0]!;
  const stems = named(/ - \d\d /).map(([, bytes]) => readWav(bytes).audio.channels[0]!);
  expect(Object.keys(files)).toEqual(expect.arrayContaining([expect.stringMatching(/ kicks\.wav$/)]));
  expect(stems.length).toBeGreaterThan(1);
  // On steps of 24 bit each.
  const off = mix.map((sample, i) => sample - stems.reduce((sum, stem) => sum + (stem[i] ?? 0), 0));
  expect(peakOf(off)).toBeLessThan(1e-6);
  const instrument = unzipSync(files['swing-04 instrument.zip']!);
  expect(new TextDecoder().decode(instrument['swing-04.sfz'])).toContain('<region>');

  const before = await loadDocument(page, id);
  const zip = { name: 'swing-04.zip', mimeType: 'application/zip', buffer: Buffer.from(files['swing-04.zip']!) };
  await goTo(page, 'Shelf');
  const listed = async () => (await (await page.request.get('/api/projects')).json()) as { id: string; name: string }[];
  const known = new Set((await listed()).map((one) => one.id));
  const onShelf = page.waitForEvent('filechooser');
  await page.getByTestId('import').click();
  await (await onShelf).setFiles([zip]);
  const others = async () => (await listed()).filter((one) => !known.has(one.id));
  await expect.poll(async () => (await others()).map(({ name }) => name)).toEqual(['swing-04']);
  const [made] = await others();
  // The project is there before what is in it.
  const sourcesOf = async () => Object.keys((await loadDocument(page, made!.id)).sources);
  await expect.poll(sourcesOf).toEqual(Object.keys(before.sources));
  const opened = await loadDocument(page, made!.id);
  const sound = async (document: typeof before) =>
    expectedSound(document, await loadAssets(page, document), ENGINE_RATE)[0]!;
  const [first, again] = [await sound(before), await sound(opened)];
  expect(peakOf(first.map((sample, i) => sample - again[i]!))).toBe(0);

  await goTo(page, 'Bench');
  await page.getByRole('button', { name: '+ add a sound' }).click();
  const into = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'From a file …', exact: true }).click();
  await (await into).setFiles([zip]);
  await expect(page.getByTestId('part')).toHaveCount(2);
  await page.getByTestId('undo').click();
  await expect(page.getByTestId('part')).toHaveCount(1);
  expect(trouble).toEqual([]);
});

test('a page that plays has all in one file: from the disk, without a network, it sounds as the core plays it', async ({
  page,
  browser,
}) => {
  const id = await projectWith(page, LOOP);
  await page.getByTestId('deal').click();
  // Slower than the loop: the page has to make its ringing tails itself.
  await type(page, 'tempo', '103');
  await saved(page);
  await goTo(page, 'Take away');
  await page.getByRole('checkbox', { name: 'Mix', exact: true }).uncheck();
  await page.getByRole('checkbox', { name: 'A page that plays', exact: true }).check();
  const downloading = page.waitForEvent('download');
  await page.getByTestId('away-run').click();
  const path = test.info().outputPath('swing-04.html');
  await (await downloading).saveAs(path);
  const document = await loadDocument(page, id);
  const assets = await loadAssets(page, document);
  const soundBytes = [...assets.values()].reduce(
    (sum, { channels }) => sum + 2 * channels.length * channels[0]!.length,
    0,
  );
  expect(statSync(path).size - 1.4 * soundBytes).toBeLessThan(1_000_000);

  const context = await browser.newContext({ offline: true, viewport: { width: 1280, height: 800 } });
  const alone = await context.newPage();
  // Also where the engine and its helpers are long in coming, what is stretched is said to be on its way from the start.
  await alone.addInitScript(() => {
    const { postMessage } = Worker.prototype;
    Worker.prototype.postMessage = function (this: Worker, ...args: unknown[]) {
      setTimeout(() => Reflect.apply(postMessage, this, args), 300);
    };
    const { addModule } = Worklet.prototype;
    Worklet.prototype.addModule = async function (url, options) {
      await new Promise((resolve) => setTimeout(resolve, 1500));
      return addModule.call(this, url, options);
    };
  });
  const asked: string[] = [];
  alone.on('request', (request) => asked.push(request.url()));
  const trouble = watchForTrouble(alone);
  await alone.goto(pathToFileURL(path).href);
  await expect(alone.getByTestId('page-part')).toHaveCount(1);
  const lengthTicks = patternLengthTicks(document, document.parts[document.partOrder[0]!]!.activePatternId);
  const { tempoBpm } = songValues(document);
  const frames = Math.round(2 * lengthTicks * framesPerTick(tempoBpm, ENGINE_RATE));
  const [heard] = await hear(alone, frames);
  const [wanted] = expectedSound(document, assets, frames);
  expect(peakOf(heard!)).toBeGreaterThan(0.05);
  expect(peakOf(heard!.map((sample, i) => sample - wanted![i]!))).toBeLessThan(1e-6);

  // Dealt there, it plays what was dealt; keys play, too.
  await alone.getByTestId('page-play').click();
  await alone.getByTestId('page-deal').click();
  const dealt = await alone.evaluate(() => JSON.stringify((window as unknown as PlayingPage).yappa.document()));
  const [other] = await hear(alone, ENGINE_RATE);
  const [expected] = expectedSound(JSON.parse(dealt) as typeof document, assets, ENGINE_RATE);
  expect(peakOf(other!.map((sample, i) => sample - expected![i]!))).toBeLessThan(1e-6);
  expect(peakOf(other!.map((sample, i) => sample - wanted![i]!))).toBeGreaterThan(0.01);
  await alone.getByTestId('page-play').click();
  await expect.poll(() => alone.evaluate(() => Math.max(...window.yappa.engine.status.peaks))).toBeLessThan(1e-6);
  // A slice is over in a moment: it is looked for from before the key on.
  const loud = alone.waitForFunction(() => Math.max(...window.yappa.engine.status.peaks) > 0.01, undefined, {
    polling: 'raf',
  });
  await alone.keyboard.down('z');
  await loud;
  await alone.keyboard.up('z');
  expect(asked.filter((url) => !/^(file|blob|data):/.test(url))).toEqual([]);
  expect(trouble).toEqual([]);
  await context.close();
});

interface PlayingPage {
  yappa: { document(): unknown };
}

/** Plays from the start and records it; once what is stretched is there. */
async function hear(alone: Page, frames: number): Promise<Float32Array[]> {
  await expect(alone.getByText('slices are still being made')).toHaveCount(0);
  await alone.evaluate(() => window.yappa.engine.resume());
  const capturing = alone.evaluate(async (count) => {
    const { left, right } = await window.yappa.engine.capture(count, true);
    return [Array.from(left), Array.from(right)];
  }, frames);
  await alone.getByTestId('page-play').click();
  return (await capturing).map((samples) => Float32Array.from(samples));
}

test('a section has a treatment on and a lane over it: heard as the core plays them, undone, and there after a reload', async ({
  page,
}) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await goTo(page, 'Shape');
  await page.getByRole('button', { name: 'keep this sound', exact: true }).click();
  await page.getByRole('button', { name: 'its sounds', exact: true }).click();
  await page.getByRole('region', { name: 'Sound' }).getByRole('spinbutton', { name: 'level', exact: true }).focus();
  await page.keyboard.type('-18');
  await page.keyboard.press('Enter');
  await toSections(page);
  await page.getByRole('button', { name: 'begin with what is on now' }).click();
  await page.getByRole('button', { name: 'add a section', exact: true }).click();
  await page.getByTestId('placing').nth(1).click();
  await choose(page, menuField(page, 'sounds as'), 'treatment 1');
  await expect(page.getByRole('button', { name: /sounds as treatment 1/ })).toBeVisible();
  const over = page.getByTestId('section-lanes');
  await over.getByRole('button', { name: 'a new lane' }).click();
  await page.getByLabel('Find a setting').fill('swing-04: level: all of it');
  await page.keyboard.press('Enter');
  await expect(over.getByRole('region', { name: /^Lane: level/ })).toBeVisible();
  const field = over.getByTestId('lane-field');
  const box = await restingBox(field);
  await page.mouse.click(box.x + box.width * 0.1, box.y + 8);
  await page.mouse.click(box.x + box.width * 0.8, box.y + box.height - 8);
  await expect(field.getByRole('slider')).toHaveCount(3);
  await saved(page);
  const { document, section: second } = await section(page, id, 1);
  const [treatment] = document.parts[document.partOrder[0]!]!.treatments!;
  expect(second.placings[0]).toMatchObject({ treatmentId: treatment!.id });

  await page.getByRole('button', { name: 'play the running order' }).click();
  const { startTicks } = orderLayout(document).sections[1]!;
  const toSecond = Math.round((startTicks / 960) * (60 / songValues(document).tempoBpm) * ENGINE_RATE);
  const frames = toSecond + 2 * ENGINE_RATE;
  const heardNow = async () => {
    const [heard] = await listen(page, frames);
    await page.getByTestId('play').click();
    await expect.poll(() => page.evaluate(() => Math.max(...window.yappa.engine.status.peaks))).toBeLessThan(1e-6);
    return heard!;
  };
  const off = (heard: Float32Array, wanted: Float32Array) => peakOf(heard.map((sample, i) => sample - wanted[i]!));
  const assets = await loadAssets(page, document);
  const wanted = expectedSound(document, assets, frames, { followsOrder: true })[0]!;
  const heard = await heardNow();
  expect(off(heard, wanted)).toBeLessThan(1e-4);
  // The first section sounds as the part does by itself, 18 dB lower.
  const loudest = (from: number, to: number) => peakOf(heard.subarray(from, to));
  expect(loudest(toSecond, toSecond + ENGINE_RATE / 2)).toBeGreaterThan(4 * loudest(0, ENGINE_RATE / 2));

  await page.keyboard.press('Control+z');
  await expect(field.getByRole('slider')).toHaveCount(2);
  await page.keyboard.press('Control+Shift+Z');
  await expect(field.getByRole('slider')).toHaveCount(3);
  await saved(page);
  await page.reload();
  await saved(page);
  const again = (await section(page, id, 1)).document;
  expect(again).toEqual(document);
  expect(trouble).toEqual([]);
});
