/** Cutting in every way, and putting it right by hand. */
import { randomUUID } from 'node:crypto';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { unzipSync } from 'fflate';
import { expect } from '@playwright/test';
import { diff } from '#core/document/diff.ts';
import { readWav } from '#core/formats/wav-read.ts';
import { writeWav } from '#core/formats/wav-write.ts';
import { songValues } from '#core/queries/values.ts';
import { sourceBox } from '../../src/web/components/source/source-box.ts';
import { burstLoop } from '../support/signals.ts';
import { test } from './one-window.ts';
import {
  choose,
  ENGINE_RATE,
  engineFor,
  firstPart as cutOf,
  fromMenu,
  goTo,
  listen,
  loadAssets,
  menuField,
  newProject,
  peakOf,
  pickFiles,
  pointIn,
  projectWith,
  restingBox,
  saved,
  type,
  watchForTrouble,
} from './support.ts';

const LOOP = 'tests/fixtures/loops/swing-04.flac';

test('cuts on a grid, in equal parts and at notes, each with its settings', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  const method = page.getByTestId('cut-method');
  await choose(page, method, 'on a grid');
  await expect(page.getByTestId('slice-count')).toHaveText('16 slices');
  await choose(page, menuField(page, 'Step of the grid'), '1/8');
  await expect(page.getByTestId('slice-count')).toHaveText('8 slices');
  await type(page, 'swing', '66');
  await saved(page);
  const { placed, loop } = await cutOf(page, id);
  const stepFrames = (loop.endFrame - loop.startFrame) / 8;
  expect(Math.abs(placed[1]!.startFrame - stepFrames * 1.32)).toBeLessThan(60);

  await choose(page, method, 'in equal parts');
  await page.getByRole('button', { name: '32', exact: true }).click();
  await expect(page.getByTestId('slice-count')).toHaveText('32 slices');
  await type(page, 'parts', '5');
  await expect(page.getByTestId('slice-count')).toHaveText('5 slices');
  await choose(page, method, 'at notes');
  await expect(page.getByTestId('source-facts')).toContainText('cut at notes');
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('slice-count')).toHaveText('5 slices');
});

test('shows the markers a setting would give while it is dragged, and keeps locked ones', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  const before = await cutOf(page, id);
  await page.getByTestId('source-canvas').click({ position: { x: 400, y: 60 } });
  await page.keyboard.press('Alt+l');
  const locked = (await cutOf(page, id)).placed.find((at) => at.slice.locked)!;
  const field = page.getByRole('spinbutton', { name: 'sensitivity' });
  const box = await restingBox(field);
  await page.mouse.move(box.x + 8, box.y + 8);
  await page.mouse.down();
  await page.mouse.move(box.x - 190, box.y + 8, { steps: 8 });
  await expect(page.getByTestId('slice-count')).not.toHaveText(`${before.placed.length} slices`);
  expect((await cutOf(page, id)).placed).toHaveLength(before.placed.length);
  await page.mouse.up();
  await expect.poll(async () => (await cutOf(page, id)).placed.length).toBeLessThan(before.placed.length);
  expect(
    (await cutOf(page, id)).placed.some((at) => at.slice.id === locked.slice.id && at.startFrame === locked.startFrame),
  ).toBe(true);
});

test('cuts where the file says, and writes its markers back as cue points', async ({ page }) => {
  const audio = burstLoop(88_200, [0, 20_000, 61_000]);
  const path = test.info().outputPath('with-cues.wav');
  mkdirSync(test.info().outputDir, { recursive: true });
  writeFileSync(
    path,
    writeWav(audio, {
      encoding: 'pcm16',
      cues: [
        { frame: 12_345, label: 'x' },
        { frame: 50_000, label: 'y' },
      ],
    }),
  );
  const id = await projectWith(page, path);
  await choose(page, page.getByTestId('cut-method'), 'from the file');
  await expect(page.getByTestId('slice-count')).toHaveText('3 slices');
  // The hits were three slices, too: the places come a moment later.
  await expect.poll(async () => (await cutOf(page, id)).placed.map((at) => at.startFrame)).toEqual([0, 12_345, 50_000]);
  await goTo(page, 'Take away');
  await page.getByRole('checkbox', { name: 'Mix' }).uncheck();
  await page.getByRole('checkbox', { name: 'Source with markers' }).check();
  const downloading = page.waitForEvent('download');
  await page.getByTestId('away-run').click();
  const wav = readWav(readFileSync(await (await downloading).path()));
  expect(wav.cues.map((cue) => cue.frame)).toEqual([0, 12_345, 50_000]);
  expect(wav.loops).toEqual([{ startFrame: 0, endFrame: 88_200 }]);
});

test('a single hit stays in one piece, is no loop, and plays from its key; it can be read as a loop', async ({
  page,
}) => {
  const ring = Float32Array.from({ length: 66_150 }, (_, i) => Math.sin(i * 0.06) * Math.exp(-i / 9_000));
  // A shimmer in its tail, as cymbals have it.
  for (let i = 12_000; i < 40_000; i++) ring[i]! *= 1 + 0.25 * Math.sin(i / 300);
  const path = test.info().outputPath('gong.wav');
  mkdirSync(test.info().outputDir, { recursive: true });
  writeFileSync(path, writeWav({ sampleRate: ENGINE_RATE, channels: [ring] }, { encoding: 'float32' }));
  const id = await projectWith(page, path);
  await expect(page.getByTestId('slice-count')).toHaveText('1 slice');
  expect((await cutOf(page, id)).cut.loop).toBeNull();
  const heard = await listen(page, ENGINE_RATE, () => page.keyboard.press('z', { delay: 60 }));
  const begins = heard[0]!.findIndex((sample) => sample !== 0);
  for (let i = 2_000; i < 20_000; i += 777) expect(heard[0]![begins + i]!).toBeCloseTo(ring[i + 1]! * 0.81, 2);
  await page.getByRole('button', { name: 'read it as a loop' }).click();
  await saved(page);
  expect((await cutOf(page, id)).loop).toMatchObject({ startFrame: 0, endFrame: 66_150 });
});

test('cuts by tapping along, back to the attack', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  const hits = (await cutOf(page, id)).placed.map((at) => at.startFrame);
  await choose(page, page.getByTestId('cut-method'), 'by tapping');
  await expect(page.getByTestId('slice-count')).toHaveText('1 slice');
  await page.getByTestId('play').click();
  for (const [taps, hit] of [2, 4, 6].map((place) => hits[place]!).entries()) {
    // A tap that came so late that it fell on another one's marker is tapped again.
    await expect(async () => {
      // Like a hand that is a little late: the sound has just begun.
      await page.waitForFunction((frame) => {
        const heard = window.yappa.engine.status.sounding.at(-1)?.[2] ?? 0;
        return heard > frame && heard < frame + 1_500;
      }, hit);
      await page.keyboard.press('Enter');
      await expect(page.getByTestId('slice-count')).toHaveText(`${taps + 2} slices`, { timeout: 2_000 });
    }).toPass();
  }
  await page.getByTestId('play').click();
  await expect.poll(async () => (await cutOf(page, id)).placed.length).toBe(4);
  // However late the tap, within the window (60 ms) the marker lies on the attack; beyond it where the tap fell.
  const windowFrames = 0.06 * ENGINE_RATE;
  const late = (await cutOf(page, id)).placed.slice(1).map((at) => {
    const distances = hits.map((hit) => at.startFrame - hit);
    return distances.reduce((best, one) => (Math.abs(one) < Math.abs(best) ? one : best));
  });
  // On a busy machine a press comes later than from any hand; what is before a hit is not pulled to it.
  expect(late.filter((frames) => Math.abs(frames) < 450).length).toBeGreaterThanOrEqual(1);
  expect(late.every((frames) => Math.abs(frames) < 450 || frames < 0 || frames > windowFrames - 450)).toBe(true);
  // Any letter, key or pad, when asked: it marks, and plays nothing. Not longer than one taps.
  await page.getByRole('button', { name: 'by any key or pad' }).click();
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('slice-count')).toHaveText('3 slices');
  await page.getByTestId('play').click();
  await expect(async () => {
    const isThere = (frame: number) => (window.yappa.engine.status.sounding.at(-1)?.[2] ?? 0) > frame;
    await page.waitForFunction(isThere, hits[6]! + 200);
    await page.keyboard.press('z');
    await expect(page.getByTestId('slice-count')).toHaveText('4 slices', { timeout: 2_000 });
  }).toPass();
  await page.getByTestId('play').click();
  await choose(page, page.getByTestId('cut-method'), 'at hits');
  await choose(page, page.getByTestId('cut-method'), 'by tapping');
  await expect(page.getByRole('button', { name: 'by any key or pad' })).toHaveAttribute('aria-pressed', 'false');
  // The last word counts, also when the first is not done yet: nothing is cut at hits afterwards.
  await page.evaluate(async () => {
    for (const words of ['at hits', 'by tapping']) {
      document.querySelector<HTMLElement>(`[data-testid="cut-method"] [aria-label="${words}"]`)!.click();
      await new Promise((resolve) => setTimeout(resolve));
    }
  });
  await choose(page, page.getByTestId('cut-method'), 'in equal parts');
  await expect.poll(async () => (await cutOf(page, id)).cut.values.method).toBe('equal');
  await type(page, 'parts', '7');
  await expect.poll(async () => (await cutOf(page, id)).cut.values.count).toBe(7);
  const { placed } = await cutOf(page, id);
  // Seven, and three that were tapped: one that lies on the edge of a part, by chance, is that edge.
  expect(placed.length).toBeGreaterThanOrEqual(7);
  expect(placed.length).toBeLessThanOrEqual(10);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('slice-count')).toHaveText('4 slices');
  await saved(page);
  expect((await cutOf(page, id)).cut.values.method).toBe('taps');
});

test('gives slices ends of their own, nudges, trims and joins them', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  const canvas = page.getByTestId('source-canvas');
  const before = await cutOf(page, id);
  const { frames } = before.document.sources[before.cut.sourceId]!;
  const spot = await pointIn(canvas, (before.placed[2]!.startFrame + 1500) / frames, 0.4);
  await page.mouse.click(spot.x, spot.y);
  await choose(page, menuField(page, 'Nudge by'), '1 sample');
  await page.getByLabel('end later').click();
  await page.getByLabel('end later').click();
  await page.getByLabel('start later').click();
  let now = await cutOf(page, id);
  expect(now.placed[2]).toMatchObject({
    startFrame: before.placed[2]!.startFrame + 1,
    endFrame: before.placed[2]!.endFrame + 2,
  });
  expect(now.placed[3]!.startFrame).toBe(before.placed[3]!.startFrame);
  await page.getByRole('button', { name: 'own end' }).click();
  now = await cutOf(page, id);
  expect(now.placed[2]!.endFrame).toBe(now.placed[3]!.startFrame);

  await fromMenu(page, 'Select slices', 'all');
  await page.getByRole('button', { name: 'trim silence' }).click();
  // A level is suggested, what goes is shown; one that is higher leaves more out.
  const row = page.getByTestId('trim');
  await expect(row).toContainText('ms of');
  const suggested = Number(await row.getByLabel('silence below').getAttribute('aria-valuenow'));
  const goes = async () => Number(/([\d.]+) ms/.exec((await row.textContent())!)![1]);
  const little = await goes();
  await type(page, 'silence below', String(suggested + 20));
  await expect.poll(goes).toBeGreaterThan(little);
  expect((await cutOf(page, id)).placed.some((at) => at.slice.endFrame === null)).toBe(true);
  await row.getByRole('button', { name: 'leave it out' }).click();
  await expect(row).toBeHidden();
  await expect.poll(async () => (await cutOf(page, id)).placed.every((at) => at.slice.endFrame !== null)).toBe(true);
  await page.keyboard.press('Control+z');
  await fromMenu(page, 'Select slices', 'of the same role');
  await fromMenu(page, 'Select slices', 'the others');
  await page.keyboard.press('Control+a');
  await page.keyboard.press('Alt+j');
  await expect(page.getByTestId('slice-count')).toHaveText('1 slice');
});

test('of two readings that of the tempo in its name is taken; another one named is taken by a click', async ({
  page,
}) => {
  mkdirSync(test.info().outputDir, { recursive: true });
  const named = (words: string) => {
    const path = test.info().outputPath(`${words}.flac`);
    writeFileSync(path, readFileSync(LOOP));
    return path;
  };
  // One bar at 118 by its hits, and two at twice as much by its name.
  const twice = await projectWith(page, named('hasty 236bpm'));
  await expect(page.getByTestId('loop-tempo').getByRole('spinbutton')).toHaveValue('236.00');
  expect((await cutOf(page, twice)).loop.bars).toBe(2);
  await expect(page.getByRole('button', { name: 'read it so' })).toHaveCount(0);
  const other = await projectWith(page, named('quickly 125bpm'));
  await expect(page.getByTestId('loop-tempo').getByRole('spinbutton')).toHaveValue('118.00');
  await page.getByRole('button', { name: 'read it so' }).click();
  await expect(page.getByTestId('loop-tempo').getByRole('spinbutton')).toHaveValue('125.00');
  await expect(page.getByRole('button', { name: 'read it so' })).toHaveCount(0);
  const { loop } = await cutOf(page, other);
  expect(loop.endFrame - loop.startFrame).toBe(Math.round((4 * 60 * 44100) / 125));
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: 'read it so' })).toBeVisible();
});

test('reads the loop: trims it to a tempo, begins it on a hit, takes the name as a hint', async ({ page }) => {
  const path = test.info().outputPath('break 118bpm.flac');
  mkdirSync(test.info().outputDir, { recursive: true });
  writeFileSync(path, readFileSync(LOOP));
  const id = await projectWith(page, path);
  await expect(page.getByText('The name says 118 bpm.')).toBeVisible();
  await type(page, 'its tempo', '120');
  const trimmed = await cutOf(page, id);
  expect(trimmed.loop.endFrame - trimmed.loop.startFrame).toBe(Math.round((4 * 60 * 44100) / 120));
  await type(page, 'its tempo', '60');
  await expect(page.getByText('frames longer than the sound')).toBeVisible();
  expect((await cutOf(page, id)).loop).toEqual(trimmed.loop);
  // Twice the tempo is twice the bars, not half the loop.
  await type(page, 'its tempo', '236');
  const doubled = (await cutOf(page, id)).loop;
  expect(doubled).toMatchObject({ bars: 2, endFrame: Math.round((8 * 60 * 44100) / 236) });
  await type(page, 'its tempo', '120');
  expect((await cutOf(page, id)).loop).toEqual(trimmed.loop);
  await page.getByRole('button', { name: /^2 bars/ }).click();
  await saved(page);
  expect((await cutOf(page, id)).loop.bars).toBe(2);
  // Bars and tempo, whichever is said first: its end follows, where an echo made the file longer than its music.
  await type(page, 'bars', '1');
  await expect(page.getByTestId('said')).toContainText('1 bar, as said');
  await type(page, 'its tempo', '180');
  expect((await cutOf(page, id)).loop).toMatchObject({ bars: 1, endFrame: Math.round((4 * 60 * 44100) / 180) });
  await page.getByRole('button', { name: 'forget it' }).click();
  await type(page, 'its tempo', '200');
  await type(page, 'bars', '1');
  expect((await cutOf(page, id)).loop).toMatchObject({ bars: 1, endFrame: Math.round((4 * 60 * 44100) / 200) });
});

test('the ends of the loop, and of a loop inside a sound, are dragged in the picture', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await choose(page, page.getByTestId('snap-to'), 'nothing');
  const { loop, placed, document, cut } = await cutOf(page, id);
  const { frames } = document.sources[cut.sourceId]!;
  const box = await restingBox(page.getByTestId('source-canvas'));
  const xOf = (frame: number) => box.x + (frame / frames) * box.width;
  const drag = async (from: number, to: number, y: number) => {
    await page.mouse.move(xOf(from) - (from === frames ? 2 : 0), y);
    await page.mouse.down();
    await page.mouse.move(xOf(to), y, { steps: 4 });
    await page.mouse.up();
  };
  const near = (frame: number) => expect(Math.abs(frame - 0.75 * frames)).toBeLessThan(frames / 300);
  await drag(loop.endFrame, 0.75 * frames, box.y + 8);
  await saved(page);
  const shorter = (await cutOf(page, id)).loop;
  near(shorter.endFrame);
  expect(shorter).toMatchObject({ startFrame: loop.startFrame, bars: loop.bars });
  await page.keyboard.press('Control+z');
  await saved(page);
  expect((await cutOf(page, id)).loop).toEqual(loop);

  const at = placed[3]!;
  await page.mouse.click(xOf((at.startFrame + at.endFrame) / 2), box.y + 70);
  await choose(page, menuField(page, 'loop'), 'forwards');
  const canvas = page.getByTestId('source-canvas');
  const height = await canvas.evaluate((node) => node.clientHeight);
  const foot = box.y + sourceBox(height).skylineBottom - 4;
  await drag(at.endFrame, (at.startFrame + at.endFrame) / 2, foot);
  await saved(page);
  const zone = Object.values((await cutOf(page, id)).document.zones).find(
    ({ plays }) => plays.sliceId === at.slice.id,
  )!;
  expect(zone.loop!.startFrame).toBe(at.startFrame);
  expect(Math.abs(zone.loop!.endFrame - (at.startFrame + at.endFrame) / 2)).toBeLessThan(frames / 300);
});

test('lays slices out by likeness, and offers a corrected role to look-alikes', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await page.getByRole('button', { name: 'likeness' }).click();
  await expect(page.getByTestId('likeness-chart')).toBeVisible();
  await page.getByRole('button', { name: 'likeness' }).click();
  const { placed } = await cutOf(page, id);
  const hat = placed.find((at) => placed.filter((other) => other.slice.role === at.slice.role).length > 3)!;
  await page.getByTestId('source-canvas').click({ position: { x: 30, y: 60 } });
  for (let step = 0; step < hat.index; step++) await page.keyboard.press('ArrowRight');
  await choose(page, page.getByTestId('slice-role'), 'percussion');
  await page.getByRole('button', { name: /^Make (it|them) percussion, too$/ }).click();
  const changed = (await cutOf(page, id)).placed.filter((at) => at.slice.role === 'percussion' && at.slice.roleByHand);
  expect(changed.length).toBeGreaterThan(1);
});

test('loops a slice and plays on from it', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  const { document, cut, placed } = await cutOf(page, id);
  const source = (await loadAssets(page, document)).get(cut.sourceId)!.channels[0]!;
  await page.getByTestId('source-canvas').click({ position: { x: 10, y: 60 } });
  await engineFor(page, 900);
  const heard = await listen(page, ENGINE_RATE * 2, () => page.keyboard.press('Alt+o'));
  const { startFrame, endFrame } = placed[0]!;
  const begins = heard[0]!.findIndex((sample) => sample !== 0);
  const lead = source.findIndex((sample, i) => i >= startFrame && sample !== 0) - startFrame;
  for (let round = 0; round < 3; round++) {
    const at = begins - lead + round * (endFrame - startFrame);
    for (let i = 400; i < 1400; i += 93) expect(heard[0]![at + i]).toBe(source[startFrame + i]);
  }
  await page.keyboard.press('Alt+o');
  await engineFor(page, 200);
  const after = await listen(page, 4410, async () => {});
  expect(peakOf(after[0]!)).toBe(0);
});

test('takes the slices away in one zip', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  const { placed } = await cutOf(page, id);
  await goTo(page, 'Take away');
  await page.getByRole('checkbox', { name: 'Mix' }).uncheck();
  await page.getByRole('checkbox', { name: 'Slices of a part' }).check();
  await choose(page, menuField(page, 'files'), 'FLAC, 16 bit');
  const downloading = page.waitForEvent('download');
  await page.getByTestId('away-run').click();
  const files = unzipSync(readFileSync(await (await downloading).path()));
  expect(Object.keys(files)).toHaveLength(placed.length);
  expect(Object.keys(files).every((name) => /^swing-04 \d\d .+\.flac$/.test(name))).toBe(true);
});

test('the overview scrolls and zooms', async ({ page }) => {
  await newProject(page);
  await pickFiles(page, page.getByTestId('first-files'), LOOP);
  const canvas = page.getByTestId('source-canvas');
  await expect(page.getByTestId('slice-count')).toBeVisible();
  const at = await pointIn(canvas, 0.5, 0.3);
  await page.mouse.move(at.x, at.y);
  for (let i = 0; i < 5; i++) await page.mouse.wheel(0, -300);
  const overview = page.getByTestId('overview');
  await expect(overview).toBeVisible();
  const picture = () => canvas.evaluate((node) => (node.previousElementSibling as HTMLCanvasElement).toDataURL());
  const first = await picture();
  const from = await pointIn(overview, 0.5, 0.5);
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move(from.x + 150, from.y, { steps: 5 });
  await page.mouse.up();
  await expect.poll(picture).not.toBe(first);
});

test('markers snap to the grid, or to nothing, when asked', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  const canvas = page.getByTestId('source-canvas');
  const before = await cutOf(page, id);
  const { frames } = before.document.sources[before.cut.sourceId]!;
  const added = async (share: number) => {
    const known = new Set((await cutOf(page, id)).placed.map((at) => at.slice.id));
    const spot = await pointIn(canvas, share, 0.3);
    await page.mouse.dblclick(spot.x, spot.y);
    await expect(page.getByTestId('slice-count')).toHaveText(`${known.size + 1} slices`);
    return (await cutOf(page, id)).placed.find((at) => !known.has(at.slice.id))!.startFrame;
  };
  await choose(page, page.getByTestId('cut-method'), 'in equal parts');
  await page.getByRole('button', { name: '8', exact: true }).click();
  await expect(page.getByTestId('slice-count')).toHaveText('8 slices');
  await choose(page, page.getByTestId('snap-to'), 'the grid');
  expect(await added(0.185)).toBe(Math.round((3 * frames) / 16));
  await choose(page, page.getByTestId('snap-to'), 'nothing');
  expect(Math.abs((await added(0.44)) - 0.44 * frames)).toBeLessThan(frames / 700);
});

test('two fingers zoom into the source and out again', async ({ browser }) => {
  const page = await browser.newPage({ hasTouch: true });
  const trouble = watchForTrouble(page);
  await projectWith(page, LOOP);
  const box = await restingBox(page.getByTestId('source-canvas'));
  const source = page.getByTestId('source-canvas');
  const picture = () => source.evaluate((node) => (node.previousElementSibling as HTMLCanvasElement).toDataURL());
  const whole = await picture();
  const device = await page.context().newCDPSession(page);
  const y = box.y + 60;
  const middle = box.x + box.width / 2;
  const touch = (type: 'touchStart' | 'touchMove' | 'touchEnd', half: number) =>
    device.send('Input.dispatchTouchEvent', {
      type,
      touchPoints:
        type === 'touchEnd'
          ? []
          : [
              { x: middle - half, y, id: 1 },
              { x: middle + half, y, id: 2 },
            ],
    });
  await touch('touchStart', 50);
  for (const half of [80, 120, 160, 200]) await touch('touchMove', half);
  await touch('touchEnd', 0);
  await expect.poll(picture).not.toBe(whole);
  await touch('touchStart', 200);
  for (const half of [150, 100, 50, 20]) await touch('touchMove', half);
  await touch('touchEnd', 0);
  await page.getByRole('button', { name: 'whole', exact: true }).first().click();
  await page.keyboard.press('Escape');
  await expect.poll(picture).toBe(whole);
  expect(trouble).toEqual([]);
  await page.close();
});

test('a loop and the song take any metre', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  const [ofLoop, ofSong] = [menuField(page, 'metre').first(), menuField(page, 'metre').last()];
  await choose(page, ofSong, '7/4');
  await choose(page, ofLoop, '3/4 6/8');
  // In the closed field there is room for one of its names.
  for (const field of [ofLoop, ofSong]) {
    const text = field.locator('.v-select__selection-text');
    await expect(text).toHaveText(/^\d\/\d$/);
    expect(await text.evaluate((element) => element.scrollWidth <= element.clientWidth + 1)).toBe(true);
  }
  const { document, loop } = await cutOf(page, id);
  expect([songValues(document).beatsPerBar, loop.beatsPerBar].sort()).toEqual([3, 7]);
  // Odd eighths, too: a loop of 7/8 is three and a half quarters a bar.
  await choose(page, ofLoop, '7/8');
  await choose(page, ofSong, '7/8');
  const odd = await cutOf(page, id);
  expect([songValues(odd.document).beatsPerBar, odd.loop.beatsPerBar]).toEqual([3.5, 3.5]);
  for (let step = 0; step < 4; step++) await page.keyboard.press('Control+z');
  await expect(ofLoop).toContainText('4/4');
  await expect(ofSong).toContainText('4/4');
});

test('guesses of older ears are told, and made anew for the whole loop; what was put right by hand stays', async ({
  page,
}) => {
  const id = await projectWith(page, LOOP);
  const { document, cut, placed } = await cutOf(page, id);
  const right = placed.map(({ slice }) => slice.role);
  // As an older version left it: every guess wrong, of no version, one put right by hand.
  const older = Object.fromEntries(
    placed.map(({ slice }, place) => {
      const { earsVersion: _told, ...rest } = slice;
      return [slice.id, { ...rest, role: 'percussion' as const, roleByHand: place === 2 }];
    }),
  );
  const before = { ...document, cuts: { ...document.cuts, [cut.id]: { ...cut, slices: older } } };
  const { revision } = (await (await page.request.get(`/api/projects/${id}`)).json()) as { revision: number };
  const save = { saveId: randomUUID(), baseRevision: revision, label: 'older', changes: diff(document, before) };
  const answer = await page.request.post(`/api/projects/${id}/saves`, { data: save });
  expect(answer.ok()).toBe(true);
  await page.reload();
  await expect(page.getByTestId('slice-count')).toBeVisible();
  const at = await pointIn(page.getByTestId('source-canvas'), 0.01, 0.4);
  await page.mouse.click(at.x, at.y);
  await page.getByTestId('old-guess').getByRole('button', { name: 'hear it again' }).click();
  await expect(page.getByTestId('old-guess')).toHaveCount(0);
  await saved(page);
  const after = (await cutOf(page, id)).placed;
  expect(after.map(({ slice }) => slice.role)).toEqual(right.map((role, place) => (place === 2 ? 'percussion' : role)));
  expect(after.every(({ slice }) => slice.roleByHand || slice.earsVersion !== undefined)).toBe(true);
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('old-guess')).toBeVisible();
});
