/** The places of a project: what each shows is true, and the music goes on while one walks between them. */
import { readFileSync } from 'node:fs';
import AxeBuilder from '@axe-core/playwright';
import { unzipSync } from 'fflate';
import { expect, type Page } from '@playwright/test';
import { bounce } from '#core/engine/bounce.ts';
import { compilePlan } from '#core/engine/plan/compile.ts';
import { renderAll } from '#core/engine/plan/render-all.ts';
import { decodeSoundFile } from '#core/formats/decode.ts';
import { soundingSlice } from '#core/takeaway/sounding-slices.ts';
import { measureMix } from '#core/analysis/loudness.ts';
import { readWav } from '#core/formats/wav-read.ts';
import { channelValues, zoneValues } from '#core/queries/values.ts';
import { firstDifference } from '../support/signals.ts';
import { test } from './one-window.ts';
import {
  choose,
  ENGINE_RATE,
  expectedSound,
  firstPart,
  fromMenu,
  goTo,
  listen,
  loadAssets,
  loadDocument,
  menuField,
  peakOf,
  pickFiles,
  playedPattern,
  pointIn,
  projectWith,
  restingBox,
  saved,
  type,
  watchForTrouble,
} from './support.ts';

const LOOP = 'tests/fixtures/loops/swing-04.flac';
const NOTES = 'tests/fixtures/loops/pluck-01.flac';
const PLACES = ['Bench', 'Shape', 'Running order', 'Take away', 'Shelf'];

/**
 * What shuts somebody out.
 * @param within what is looked at, where something lies over the rest
 * @param rules which of them; all when not given
 */
async function violations(page: Page, { within = 'body', rules }: { within?: string; rules?: string[] } = {}) {
  // In the page itself: the other way opens a window for each look.
  const builder = new AxeBuilder({ page }).include(within).setLegacyMode();
  const found = await (rules ? builder.withRules(rules) : builder).analyze();
  return found.violations.map(({ id, nodes }) => `${id}: ${nodes[0]?.html.slice(0, 160)}`);
}

/** What can be wrong with what opens over the page. */
const OVERLAY_RULES = [
  'color-contrast',
  'aria-required-children',
  'aria-required-parent',
  'aria-input-field-name',
  'aria-tooltip-name',
  'aria-allowed-role',
  'button-name',
];

/** A second sound for the open project. */
async function addSound(page: Page, file: string): Promise<void> {
  await page.getByRole('button', { name: '+ add a sound' }).click();
  await pickFiles(page, page.getByRole('button', { name: 'From a file …', exact: true }), file);
  await expect(page.getByTestId('part')).toHaveCount(2);
  await saved(page);
}

test('no place shuts anybody out, by day and by night, grown or not', async ({ page }) => {
  test.slow();
  const trouble = watchForTrouble(page);
  await projectWith(page, LOOP);
  for (const theme of ['day', 'night']) {
    // The colours are all that the night changes.
    const rules = theme === 'night' ? ['color-contrast'] : undefined;
    if (theme === 'night') await page.getByRole('button', { name: 'night' }).click();
    for (const place of PLACES) {
      await page.getByRole('link', { name: place, exact: true }).click();
      await expect(page.getByRole('main', { name: place })).toBeVisible();
      // What stands around the places is the same in all.
      const within = place === 'Bench' && theme === 'day' ? 'body' : 'main';
      expect(await violations(page, { within, rules }), `${place}, ${theme}`).toEqual([]);
    }
    await goTo(page, 'Bench');
    for (const key of ['F2', 'F3', 'F4']) {
      await page.keyboard.press(key);
      expect(await violations(page, { within: 'main', rules }), `${key}, ${theme}`).toEqual([]);
      await page.keyboard.press(key);
    }
    // What opens there is of the same colours as what opens by day, one of which stands for all.
    const isNight = theme === 'night';
    await page.keyboard.press('ArrowRight');
    expect(await violations(page, { within: 'main', rules }), `a slice, ${theme}`).toEqual([]);
    await page.getByRole('button', { name: 'likeness' }).click();
    expect(await violations(page, { within: 'main', rules }), `likeness, ${theme}`).toEqual([]);
    await page.getByRole('button', { name: 'likeness' }).click();
    // What opens over the bench, and words of what is not to be had.
    const opened: [string, () => Promise<void>][] = [
      ['choosing slices', () => page.getByRole('button', { name: 'Select slices' }).click()],
      ['a choice', () => page.getByTestId('snap-to').click()],
      ['more for slices', () => page.getByRole('button', { name: 'more for these' }).click()],
      ['silence', () => page.getByRole('button', { name: 'trim silence' }).click()],
      ['a tooltip', () => page.getByTestId('play').hover()],
    ];
    for (const [what, open] of opened) {
      if (isNight && what !== 'choosing slices' && what !== 'a tooltip') continue;
      await open();
      if (what === 'a tooltip') await expect(page.getByRole('tooltip')).toBeVisible();
      // Half faded in it would be pale.
      await page.waitForFunction(
        () =>
          [...document.querySelectorAll('.v-overlay__content')].every(
            (one) => one.getAnimations().length === 0 && getComputedStyle(one).opacity === '1',
          ),
        null,
        { timeout: 5_000 },
      );
      // What lies over the page stands in no region of it: only what has opened is looked at.
      const found = await violations(page, {
        within: what === 'silence' ? '[data-testid="trim"]' : '.v-overlay-container',
        rules: rules ?? OVERLAY_RULES,
      });
      expect(found, `${what}, ${theme}`).toEqual([]);
      await page.keyboard.press('Escape');
      await expect(page.locator('.v-menu.v-overlay--active')).toHaveCount(0);
    }
    if (isNight) break;
    await fromMenu(page, 'The project', 'Versions');
    await page.getByTestId('versions').getByRole('listitem').last().click();
    await expect(page.getByTestId('viewing')).toBeVisible();
    expect(await violations(page, { rules }), `an earlier version, ${theme}`).toEqual([]);
    await page.getByTestId('viewing').getByRole('button', { name: 'Close' }).click();
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('/');
    await expect(page.getByTestId('commands')).toBeVisible();
    expect(await violations(page, { within: '.v-dialog', rules }), `the search, ${theme}`).toEqual([]);
    await page.keyboard.press('Escape');
  }
  expect(trouble).toEqual([]);
});

test('every place has its address, and the music plays on from one to the next without a missing sample', async ({
  page,
}) => {
  const id = await projectWith(page, LOOP);
  await saved(page);
  const document = await loadDocument(page, id);
  const assets = await loadAssets(page, document);
  const frames = 4 * ENGINE_RATE;
  const heard = await listen(page, frames, undefined, async () => {
    for (const place of PLACES.slice(1)) {
      await page.getByRole('link', { name: place, exact: true }).click();
      await expect(page.getByRole('main', { name: place })).toBeVisible();
    }
  });
  expect(firstDifference(heard[0]!, expectedSound(document, assets, frames)[0]!)).toBe(-1);
  await expect(page.getByTestId('play')).toHaveAttribute('aria-pressed', 'true');
  for (const address of ['shape', 'order', 'away', 'bench']) {
    await page.goto(`/${address}/${id}`);
    await page.reload();
    await expect(page.getByTestId('project-name')).toHaveText('swing-04');
    expect(page.url()).toContain(`/${address}/${id}`);
  }
});

test('Shape of a part with thousands of sounds builds what is in view, and what comes into it', async ({ page }) => {
  await projectWith(page, LOOP);
  await choose(page, page.getByTestId('cut-method'), 'in equal parts');
  await type(page, 'parts', '3000');
  await expect(page.getByTestId('slice-count')).toHaveText(/^\d,?\d{3} slices$/);
  await goTo(page, 'Shape');
  await page.getByRole('button', { name: 'its sounds', exact: true }).click();
  const tiles = page.getByTestId('zone-tiles').getByRole('button');
  await expect(tiles.first()).toBeVisible();
  expect(await tiles.count()).toBeLessThan(300);
  // The height of what is not built yet comes a moment later: who scrolls goes on until the end.
  await expect(async () => {
    await page.locator('.shape').evaluate((node) => node.scrollTo(0, node.scrollHeight));
    await expect(tiles.last()).toContainText(/2[5-9]\d\d|3000/, { timeout: 1000 });
  }).toPass();
  await tiles.last().click();
  await expect(page.getByTestId('shape-facts')).toContainText(/slice 2[5-9]\d\d|slice 3000/);
});

test('Shape: a dragged envelope and filter are what sounds, of all slices or of those chosen', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await goTo(page, 'Shape');
  await page.getByRole('button', { name: 'its sounds', exact: true }).click();
  const envelope = page.getByTestId('envelope');
  const grip = async (name: string) => {
    const box = await restingBox(envelope.getByRole('slider', { name }));
    return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
  };
  // The point of the decay goes down and to the right: later and quieter.
  const from = await grip('decay and sustain');
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move(from.x + 60, from.y + 60, { steps: 6 });
  await page.mouse.up();
  await saved(page);
  let document = await loadDocument(page, id);
  const shapes = () => Object.values(document.zones).map((zone) => zoneValues(zone));
  expect(new Set(shapes().map(({ decayMs, sustain }) => `${decayMs} ${sustain}`)).size).toBe(1);
  expect(shapes()[0]!.decayMs).toBeGreaterThan(20);
  expect(shapes()[0]!.sustain).toBeLessThan(0.8);
  // One drag is one step.
  await page.keyboard.press('Control+z');
  await saved(page);
  document = await loadDocument(page, id);
  expect(shapes()[0]!.sustain).toBe(1);
  await page.keyboard.press('Control+Shift+Z');

  // One slice gets a filter; the same for all follows in one step.
  await page.getByTestId('zone-tiles').getByRole('button').first().click();
  await choose(page, page.locator('.filter .v-select'), 'low pass');
  const curve = page.getByTestId('filter-curve');
  const point = await restingBox(curve.getByRole('slider'));
  await page.mouse.move(point.x + 6, point.y + 6);
  await page.mouse.down();
  await page.mouse.move(point.x - 160, point.y + 6, { steps: 6 });
  await page.mouse.up();
  await saved(page);
  document = await loadDocument(page, id);
  expect(shapes().filter(({ filter }) => filter === 'low')).toHaveLength(1);
  expect(shapes().find(({ filter }) => filter === 'low')!.cutoffHz).toBeLessThan(6000);
  await page.getByRole('button', { name: 'the same for all' }).click();
  await saved(page);
  document = await loadDocument(page, id);
  expect(new Set(shapes().map(({ filter, cutoffHz }) => `${filter} ${cutoffHz}`)).size).toBe(1);
  const assets = await loadAssets(page, document);
  const heard = await listen(page, 2 * ENGINE_RATE);
  expect(peakOf(heard[0]!)).toBeGreaterThan(0.02);
  expect(firstDifference(heard[0]!, expectedSound(document, assets, 2 * ENGINE_RATE)[0]!)).toBe(-1);
});

test('Running order: patterns are switched, put in order, and every part has its own level and meter', async ({
  page,
}) => {
  const id = await projectWith(page, LOOP);
  for (let made = 0; made < 2; made++) await fromMenu(page, 'more of patterns', 'copy the pattern');
  await addSound(page, NOTES);
  await goTo(page, 'Running order');
  await expect(page.getByTestId('order-facts')).toContainText('2 parts');
  const [first, second] = [page.getByTestId('order-part').nth(0), page.getByTestId('order-part').nth(1)];
  await first.getByRole('button', { name: 'swing-04: pattern 1' }).click();
  await saved(page);
  let document = await loadDocument(page, id);
  const part = () => document.parts[document.partOrder[0]!]!;
  expect(document.patterns[part().activePatternId]!.name).toBe('pattern 1');

  // The second pattern is dragged before the first.
  await first.getByRole('button', { name: 'swing-04: pattern 2' }).hover();
  await page.waitForLoadState('networkidle');
  const grip = await restingBox(first.getByRole('button', { name: 'swing-04: pattern 2' }));
  const goal = await restingBox(first.getByRole('button', { name: 'swing-04: pattern 1' }));
  await page.mouse.move(grip.x + 40, grip.y + 30);
  await page.mouse.down();
  await page.mouse.move(grip.x, grip.y + 30, { steps: 5 });
  await page.mouse.move(goal.x + 20, goal.y + 30, { steps: 10 });
  await page.mouse.up();
  await expect
    .poll(async () => {
      document = await loadDocument(page, id);
      return part().patternOrder.map((patternId) => document.patterns[patternId]!.name);
    })
    .toEqual(['pattern 2', 'pattern 1']);

  // Parts, too, are put in order: by their grips in the rail.
  const parts = page.getByTestId('part');
  await parts.nth(1).hover();
  await page.waitForLoadState('networkidle');
  const part2 = await restingBox(parts.nth(1).locator('.grip'));
  const part1 = await restingBox(parts.nth(0));
  await page.mouse.move(part2.x + 6, part2.y + 8);
  await page.mouse.down();
  await page.mouse.move(part2.x + 6, part2.y - 10, { steps: 5 });
  await page.mouse.move(part1.x + 30, part1.y + 6, { steps: 10 });
  await page.mouse.up();
  const namesInOrder = async () => {
    document = await loadDocument(page, id);
    return document.partOrder.map((partId) => document.parts[partId]!.name);
  };
  await expect.poll(namesInOrder).toEqual(['pluck-01', 'swing-04']);
  await page.keyboard.press('Control+z');
  await expect.poll(namesInOrder).toEqual(['swing-04', 'pluck-01']);

  await first.getByRole('button', { name: 'mute' }).click();
  await saved(page);
  document = await loadDocument(page, id);
  expect(channelValues(document.channels[part().channelId]!).muted).toBe(true);
  await page.getByTestId('play').click();
  const level = (row: typeof first) => row.getByRole('meter').getAttribute('aria-valuenow').then(Number);
  await expect.poll(() => level(second)).toBeGreaterThan(-30);
  expect(await level(first)).toBeLessThanOrEqual(-48);
});

test('Take away: it tells how loud the mix is, lowers what is over, and does the same once more', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await type(page, 'level', '12');
  await goTo(page, 'Take away');
  await choose(page, page.getByTestId('mix-encoding'), 'WAV, 32 bit float');
  await expect(page.getByTestId('mix-peak')).toContainText('+');
  const shown = async () => Number.parseFloat((await page.getByTestId('mix-peak').innerText()).replace('+', ''));
  const taken = async () => {
    const downloading = page.waitForEvent('download');
    await page.getByTestId('away-run').click();
    return readWav(readFileSync(await (await downloading).path())).audio;
  };
  const loud = measureMix(await taken(), 10);
  expect(loud.truePeakDb).toBeGreaterThan(0);
  expect(Math.abs((await shown()) - loud.truePeakDb)).toBeLessThan(0.06);
  expect(await page.getByTestId('mix-loudness').innerText()).toBe(`${loud.loudnessLufs.toFixed(1)} LUFS`);

  await page.getByRole('button', { name: /^lower by/ }).click();
  await expect.poll(shown).toBeLessThan(-0.9);
  expect(Math.abs(measureMix(await taken(), 10).truePeakDb + 1)).toBeLessThan(0.01);
  await expect(page.getByTestId('undo')).toHaveAttribute('data-tip', /lower by/);

  // Several at once are one zip; it can be done again as it was.
  await page.getByRole('checkbox', { name: 'Slices of a part' }).check();
  await page.getByRole('checkbox', { name: 'Source with markers' }).check();
  await expect(page.getByTestId('away-sum')).toContainText(/\d+ files/);
  const { placed } = await firstPart(page, id);
  await expect(page.getByTestId('away-sum')).toContainText(`${placed.length + 2} files`);
  const zipping = page.waitForEvent('download');
  await page.getByTestId('away-run').click();
  const zip = await zipping;
  expect(zip.suggestedFilename()).toBe('swing-04.zip');
  const files = unzipSync(readFileSync(await zip.path()));
  expect(Object.keys(files).sort()).toEqual(['swing-04 slices.zip', 'swing-04 with markers.wav', 'swing-04.wav']);
  expect(Object.keys(unzipSync(files['swing-04 slices.zip']!))).toHaveLength(placed.length);
  await expect(page.getByTestId('taken-before').getByRole('listitem')).toHaveCount(3);
  await page.getByRole('checkbox', { name: 'Slices of a part' }).uncheck();
  const again = page.waitForEvent('download');
  await page.getByRole('button', { name: 'swing-04.zip once more' }).click();
  expect(Object.keys(unzipSync(readFileSync(await (await again).path())))).toHaveLength(3);
  await expect(page.getByRole('checkbox', { name: 'Slices of a part' })).toBeChecked();
});

test('slices are taken as they sound, in one file of equal lengths, the very samples of the core; a source as AIFF', async ({
  page,
}) => {
  const id = await projectWith(page, LOOP);
  await goTo(page, 'Take away');
  const taken = async () => {
    const downloading = page.waitForEvent('download');
    await page.getByTestId('away-run').click();
    const download = await downloading;
    return { name: download.suggestedFilename(), bytes: readFileSync(await download.path()) };
  };
  await page.getByRole('checkbox', { name: 'Mix', exact: true }).uncheck();
  await page.getByRole('checkbox', { name: 'Slices of a part' }).check();
  await choose(page, page.getByTestId('slices-way'), 'as they sound');
  await choose(page, page.getByTestId('slices-holder'), 'one file');
  await choose(page, menuField(page, 'files'), 'WAV, 32 bit float');
  await type(page, 'fade out', '0');
  const slices = await taken();
  expect(slices.name).toBe('swing-04 in equal lengths.wav');
  const { audio, cues } = readWav(slices.bytes);
  const { part, placed } = await firstPart(page, id);
  expect(cues).toHaveLength(placed.length);
  const document = await loadDocument(page, id);
  const assets = await loadAssets(page, document);
  const stretch = cues[1]!.frame;
  for (const place of [0, 3]) {
    const alone = soundingSlice(document, part, part.cutOrder[0]!, placed[place]!.slice.id)!;
    const renderings = renderAll(alone.document, assets);
    const plan = compilePlan(alone.document, ENGINE_RATE, { assets, renderings });
    const wanted = await bounce(plan, { lengthTicks: alone.lengthTicks, ringOut: true });
    const there = audio.channels[0]!.subarray(place * stretch, (place + 1) * stretch);
    expect(peakOf(wanted.channels[0]!)).toBeGreaterThan(0.02);
    expect(peakOf(wanted.channels[0]!.map((sample, i) => sample - there[i]!))).toBeLessThan(1e-6);
  }

  await page.getByRole('checkbox', { name: 'Slices of a part' }).uncheck();
  await page.getByRole('checkbox', { name: 'Source with markers' }).check();
  await page.getByTestId('source-ending').getByText('AIFF').click();
  const source = await taken();
  expect(source.name).toBe('swing-04 with markers.aiff');
  expect(source.bytes.subarray(8, 12).toString()).toBe('AIFF');
  await page.getByRole('checkbox', { name: 'Source with markers' }).uncheck();
  await page.getByRole('checkbox', { name: 'Mix', exact: true }).check();
  await choose(page, page.getByTestId('mix-encoding'), 'MP3, 256 kbit/s');
  const mp3 = await taken();
  expect(mp3.name).toBe('swing-04.mp3');
  const decoded = await decodeSoundFile(mp3.bytes);
  expect(decoded.format).toBe('mp3');
  expect(peakOf(decoded.audio.channels[0]!)).toBeGreaterThan(0.02);
});

test('the pattern in rows: strips are put down, boxed, moved, and struck harder or softer', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await fromMenu(page, 'more of patterns', 'copy the pattern');
  await page.keyboard.press('F4');
  const rows = page.getByTestId('rows-canvas');
  const before = await playedPattern(page, id);
  // A double click on the top row puts its sound there.
  const box = await restingBox(rows);
  await page.mouse.dblclick(box.x + 164 + (box.width - 164) * 0.55, box.y + 34);
  await expect.poll(async () => (await playedPattern(page, id)).events.length).toBe(before.events.length + 1);
  const added = (await playedPattern(page, id)).events.find(({ id: one }) => !before.events.some((e) => e.id === one))!;
  expect(added.positionTicks % 240).toBe(0);

  // A sweep over the lane sets all that it passes.
  const lane = page.getByTestId('strip-lane');
  const left = await pointIn(lane, 0.17, 0.5);
  const right = await pointIn(lane, 0.99, 0.5);
  await page.mouse.move(left.x, left.y);
  await page.mouse.down();
  await page.mouse.move(right.x, right.y, { steps: 30 });
  await page.mouse.up();
  await expect
    .poll(async () => (await playedPattern(page, id)).events.every(({ values }) => (values.velocity ?? 1) < 0.7))
    .toBe(true);
  await page.keyboard.press('Control+z');
  await expect
    .poll(async () => (await playedPattern(page, id)).events.every(({ values }) => values.velocity === undefined))
    .toBe(true);

  // A box drawn round everything selects everything.
  await page.mouse.move(box.x + box.width - 4, box.y + box.height - 3);
  await page.mouse.down();
  await page.mouse.move(box.x + 168, box.y + 24, { steps: 8 });
  await page.mouse.up();
  await expect(page.getByRole('heading', { name: /strips$/ })).toHaveText(`${before.events.length + 1} strips`);
});

test('the source grown: a marker is dragged in the magnified window, by a few samples', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await page.keyboard.press('F2');
  const before = await firstPart(page, id);
  const source = page.getByTestId('source-canvas');
  const { frames, sampleRate } = before.document.sources[before.cut.sourceId]!;
  const wanted = before.placed[3]!.startFrame;
  const over = await pointIn(source, wanted / frames, 0.5);
  await page.mouse.move(over.x, over.y);
  const close = page.getByTestId('magnified-canvas');
  // Straight down into the window, which keeps what it shows.
  const box = await restingBox(close);
  const shownSeconds = Number.parseFloat(await page.getByTestId('close-frame').innerText());
  const spanFrames = 0.06 * sampleRate;
  const x = box.x + box.width * (0.5 + (wanted / sampleRate - shownSeconds) * (sampleRate / spanFrames));
  await page.mouse.move(x, box.y + box.height / 2);
  await page.keyboard.down('Alt');
  await page.mouse.down();
  await page.mouse.move(x + 20, box.y + box.height / 2, { steps: 5 });
  await page.mouse.up();
  await page.keyboard.up('Alt');
  const after = await firstPart(page, id);
  const moved = after.placed[3]!.startFrame - wanted;
  const expected = (20 * spanFrames) / box.width;
  expect(Math.abs(moved - expected)).toBeLessThan(expected * 0.5 + 6);
  // Quiet places can be drawn taller, and seen as they are again.
  await page.keyboard.press('Control+ArrowUp');
  await expect(page.getByRole('spinbutton', { name: 'height' })).toHaveValue('1.5');
  await page.getByRole('button', { name: 'whole' }).first().click();
  await expect(page.getByRole('spinbutton', { name: 'height' })).toHaveValue('1.0');
  await choose(page, page.getByTestId('ruler'), 'seconds');
});

test('likeness: no dot lies on another, a lasso selects, and a line leads to the nearest sound', async ({ page }) => {
  await projectWith(page, LOOP);
  await page.getByRole('button', { name: 'likeness' }).click();
  await page.keyboard.press('F2');
  const chart = page.getByTestId('likeness-chart');
  const dots = chart.locator('.dot');
  await expect(dots.first()).toBeVisible();
  const count = await dots.count();
  // They have settled when they stay where they are.
  let last = '';
  await expect
    .poll(async () => {
      const now = await chart.evaluate((svg) => [...svg.querySelectorAll('circle')].map((c) => c.outerHTML).join());
      const isStill = now === last;
      last = now;
      return isStill;
    })
    .toBe(true);
  const circles = await dots
    .locator('circle')
    .evaluateAll((list) =>
      list.map((one) => ['cx', 'cy', 'r'].map((name) => Number(one.getAttribute(name))) as [number, number, number]),
    );
  circles.forEach(([x, y, r], i) => {
    for (const [otherX, otherY] of circles.slice(i + 1)) {
      expect(Math.hypot(x - otherX, y - otherY)).toBeGreaterThan(2 * r - 0.5);
    }
  });
  await dots.nth(2).click();
  await expect(page.getByRole('heading', { name: 'Slice 3' })).toBeVisible();
  await expect(page.getByTestId('nearest')).toHaveCount(1);
  const box = await restingBox(chart);
  const corners: [number, number][] = [
    [2, 2],
    [box.width - 2, 2],
    [box.width - 2, box.height - 2],
    [2, box.height - 2],
  ];
  await page.mouse.move(box.x + 2, box.y + 2);
  await page.mouse.down();
  for (const [x, y] of corners) await page.mouse.move(box.x + x, box.y + y, { steps: 6 });
  await page.mouse.up();
  await expect(page.getByRole('heading', { name: /slices$/ })).toHaveText(`${count} slices`);
});

test('a setting of many is changed by as much, or to the same, as chosen', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await page.keyboard.press('ArrowRight');
  const level = () => page.getByRole('complementary').getByRole('spinbutton', { name: 'level', exact: true });
  await level().focus();
  await page.keyboard.type('-6');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Control+a');
  await expect(level()).toHaveValue('mixed');
  const drag = async () => {
    const box = await restingBox(level());
    await page.mouse.move(box.x + 10, box.y + 8);
    await page.mouse.down();
    await page.mouse.move(box.x + 30, box.y + 8, { steps: 5 });
    await page.mouse.up();
  };
  const gains = async () => {
    const { document } = await firstPart(page, id);
    return Object.values(document.zones).map((zone) => zoneValues(zone).gainDb);
  };
  await drag();
  const spread = await gains();
  expect(Math.max(...spread) - Math.min(...spread)).toBeCloseTo(6, 5);
  expect(Math.max(...spread)).toBeGreaterThan(1);
  await page.getByRole('button', { name: 'all the same' }).click();
  await drag();
  expect(new Set(await gains()).size).toBe(1);
  await fromMenu(page, 'Select slices', 'none');
  await expect(page.getByRole('heading', { name: 'swing-04' })).toBeVisible();
});
