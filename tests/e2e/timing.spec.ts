/** Keeping time: what the live engine plays by slices, stretched and transposed, against what should sound. */
import { writeFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import { addSamples } from '#core/dsp/mixing.ts';
import { clickTick } from '#core/engine/click.ts';
import { compilePlan } from '#core/engine/plan/compile.ts';
import { renderAll } from '#core/engine/plan/render-all.ts';
import { channelValues, songValues } from '#core/queries/values.ts';
import { dbToGain } from '#core/units/level.ts';
import { loopTempoBpm } from '#core/units/time.ts';
import { tempoOf } from '../support/edits.ts';
import { writeWav } from '#core/formats/wav-write.ts';
import { firstDifference, noise } from '../support/signals.ts';
import { NOTE_NAMES } from '#core/units/pitch.ts';
import { test } from './one-window.ts';
import {
  choose,
  ENGINE_RATE,
  engineFor,
  expectChosen,
  expectedSound,
  firstPart as partOf,
  fromMenu,
  listen,
  loadAssets,
  loadDocument,
  menuField,
  newProject,
  peakOf,
  pickFiles,
  pointIn,
  projectWith,
  restingBox,
  saved,
  type,
  unfold,
} from './support.ts';

const LOOP = 'tests/fixtures/loops/swing-04.flac';
const NOTES = 'tests/fixtures/loops/pluck-01.flac';

/** Tempo of the first part's loop, as it was cut. */
async function ownTempo(page: Page, id: string): Promise<number> {
  const { loop } = await partOf(page, id);
  return loopTempoBpm(loop.bars, loop.beatsPerBar, loop.endFrame - loop.startFrame, ENGINE_RATE);
}

async function heardAsExpected(page: Page, id: string, seconds: number): Promise<void> {
  await saved(page);
  const document = await loadDocument(page, id);
  const assets = await loadAssets(page, document);
  const frames = Math.round(seconds * ENGINE_RATE);
  const heard = await listen(page, frames);
  const expected = expectedSound(document, assets, frames);
  expect(peakOf(heard[0]!)).toBeGreaterThan(0.05);
  expect(heard.map((side, index) => firstDifference(side, expected[index]!))).toEqual([-1, -1]);
  await page.getByTestId('play').click();
}

test('a loop follows by stretching, by speed, with ringing tails, transposed, and all of it is what the core plays', async ({
  page,
}) => {
  const id = await projectWith(page, NOTES);
  const own = await ownTempo(page, id);
  await type(page, 'tempo', (own * 0.75).toFixed(2));
  await expectChosen(page.getByTestId('tail'), 'ring on');
  await heardAsExpected(page, id, 3);

  await choose(page, page.getByTestId('follow'), 'by stretching');
  await heardAsExpected(page, id, 3);
  await type(page, 'transpose', '-3');
  await heardAsExpected(page, id, 2);
  await choose(page, page.getByTestId('follow'), 'by speed');
  await heardAsExpected(page, id, 2);
  await choose(page, page.getByTestId('follow'), 'not at all');
  await heardAsExpected(page, id, 2);

  // Beyond use it says so, and how else.
  await type(page, 'tempo', '20');
  await choose(page, page.getByTestId('follow'), 'by stretching');
  await expect(page.getByText('too far to stretch')).toBeVisible();
  await heardAsExpected(page, id, 1);
});

test('of drums that are stretched shorter, what rings is heard under the next hit, as the core plays it', async ({
  page,
}) => {
  const id = await projectWith(page, LOOP);
  await expect(menuField(page, 'sound is')).toContainText('drums');
  await type(page, 'tempo', ((await ownTempo(page, id)) * 1.6).toFixed(2));
  await choose(page, page.getByTestId('follow'), 'by stretching');
  await heardAsExpected(page, id, 3);
  const changed = await loadDocument(page, id);
  const assets = await loadAssets(page, changed);
  const { patch } = compilePlan(changed, ENGINE_RATE, { assets, renderings: renderAll(changed, assets) });
  expect(patch.zones.filter(({ sound }) => sound.hasRemainder).length).toBeGreaterThan(3);
});

test('a tempo that is none changes nothing and says so; one out of range is taken as far as it goes', async ({
  page,
}) => {
  const id = await projectWith(page, LOOP);
  await type(page, 'tempo', '9x');
  await expect(
    page.getByText('“9x” is no number, so nothing has changed: “tempo” goes from 20 to 400 bpm.'),
  ).toBeVisible();
  expect(tempoOf(await loadDocument(page, id))).toBeCloseTo(118, 1);
  await type(page, 'tempo', '4000');
  await expect(page.getByText('4000 has become 400.')).toBeVisible();
  expect(tempoOf(await loadDocument(page, id))).toBe(400);
  await heardAsExpected(page, id, 1);
  await page.keyboard.press('Control+z');
  expect(tempoOf(await loadDocument(page, id))).toBeCloseTo(118, 1);
});

test('a loop in another key is fitted to the song by the smallest shift, and heard so', async ({ page }) => {
  const id = await projectWith(page, NOTES);
  await expect(menuField(page, 'sound is')).toContainText('notes');
  // The loop itself gives the song its root; then the song goes a fourth down.
  await page.getByRole('button', { name: /^root .* use for the song$/ }).click();
  const { rootNote } = songValues((await partOf(page, id)).document);
  await expect(page.getByRole('button', { name: 'fit to key: 0 st' })).toBeDisabled();
  await unfold(page, 'Song');
  await choose(page, page.getByTestId('song-root'), NOTE_NAMES[(rootNote! + 7) % 12]!);
  await page.getByRole('button', { name: 'fit to key: -5 st' }).click();
  await heardAsExpected(page, id, 2);
  expect((await partOf(page, id)).part.values.transposeCents).toBe(-500);
});

test('a stretched loop is transposed from the next bar on, to the frame', async ({ page }) => {
  const id = await projectWith(page, NOTES);
  await type(page, 'tempo', '60');
  await choose(page, page.getByTestId('follow'), 'by stretching');
  await choose(page, page.getByTestId('transpose-at'), 'at next bar');
  await saved(page);
  const before = await loadDocument(page, id);
  const assets = await loadAssets(page, before);
  // A bar of four beats at 60 lasts four seconds.
  const bar = 4 * ENGINE_RATE;
  const frames = Math.round(5.5 * ENGINE_RATE);
  const heard = await listen(page, frames, undefined, () => type(page, 'transpose', '-5'));
  const untouched = expectedSound(before, assets, frames);
  expect(peakOf(heard[0]!)).toBeGreaterThan(0.05);
  expect(firstDifference(heard[0]!.subarray(0, bar), untouched[0]!.subarray(0, bar))).toBe(-1);
  expect(firstDifference(heard[0]!, untouched[0]!)).toBeLessThan(bar + ENGINE_RATE / 2);
  await saved(page);
  expect((await partOf(page, id)).part.values).toMatchObject({ transposeCents: -500, transposeAt: 'bar' });
});

test('feel, swing and a groove from another loop move what is heard', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await type(page, 'feel', '0');
  await heardAsExpected(page, id, 2);
  await expect(page.getByTestId('drift')).toContainText('0 early, 0 late');
  await unfold(page, 'Song');
  await type(page, 'swing', '62');
  await heardAsExpected(page, id, 2);

  await page.getByRole('button', { name: 'lift its groove' }).click();
  await page.getByLabel('Name of the groove').fill(`Ferry limp ${test.info().retry}`);
  await page.keyboard.press('Enter');
  await expect(page.getByText('is on the shelf')).toBeVisible();
  await choose(page, page.getByTestId('groove'), `Ferry limp ${test.info().retry}`);
  await type(page, 'of it', '60');
  await heardAsExpected(page, id, 2);
  const { part } = await partOf(page, id);
  expect(part.groove?.steps.length).toBeGreaterThan(3);
  expect(part.values.groovePercent).toBe(60);
  await page.getByRole('button', { name: 'off the shelf' }).click();
  // Taken off the shelf, it stays in the part.
  await expect(page.getByTestId('groove')).toContainText('Ferry limp');
  expect((await partOf(page, id)).part.groove).not.toBeNull();
});

test('parts are copied, moved and keep loops of their own length; half time takes one click', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await page.getByRole('button', { name: 'copy', exact: true }).first().click();
  const parts = page.getByTestId('part');
  await expect(parts).toHaveCount(2);
  await expect(parts.nth(1)).toContainText('(copy)');
  await parts.nth(1).getByText('(copy)').dblclick();
  await page.getByLabel('Name of the part').fill('Slow tide (copy)');
  await page.keyboard.press('Enter');
  await unfold(page, 'Channel');
  await type(page, 'pan', '-40');
  await page.getByRole('button', { name: 'half time' }).click();
  await fromMenu(page, /^More for Slow tide/, 'Move up');
  await saved(page);
  const document = await loadDocument(page, id);
  const [first, second] = document.partOrder.map((partId) => document.parts[partId]!);
  expect(first!.name).toBe('Slow tide (copy)');
  expect(channelValues(document.channels[first!.channelId]!).pan).toBe(-0.4);
  const bars = [first, second].map((part) => document.cuts[part!.cutOrder[0]!]!.loop!.bars);
  expect(bars[0]).toBe(bars[1]! * 2);
  await heardAsExpected(page, id, 3);
  for (let step = 0; step < 5; step++) await page.keyboard.press('Control+z');
  await expect(parts).toHaveCount(1);
});

test('level, pan, mute and solo are heard as they say', async ({ page }) => {
  await projectWith(page, LOOP);
  // Every setting at the right says what it is.
  await unfold(page, 'Channel');
  for (const label of ['stop fade', 'feel', 'start offset', 'from key'])
    await expect(page.locator('.label').getByText(label, { exact: true })).toBeVisible();
  const heard = async () => {
    await saved(page);
    const sides = await listen(page, ENGINE_RATE);
    await page.getByTestId('play').click();
    return sides.map((side) => side.reduce((sum, value) => sum + value * value, 0));
  };
  const decibels = (power: number, against: number) => 10 * Math.log10(power / against);
  const [left, right] = await heard();
  await type(page, 'level', '-12');
  expect(decibels((await heard())[0]!, left!)).toBeCloseTo(-12, 2);
  await type(page, 'level', '0');
  await type(page, 'pan', '100');
  const [gone, stays] = await heard();
  expect(gone).toBeLessThan(1e-9);
  expect(decibels(stays!, right!)).toBeGreaterThan(-0.1);
  await type(page, 'pan', '0');

  // A second part, silenced, changes nothing; nor does one beside a part that is soloed.
  await page.getByRole('button', { name: 'copy', exact: true }).first().click();
  await expect(page.getByTestId('part')).toHaveCount(2);
  expect(decibels((await heard())[0]!, left!)).toBeCloseTo(20 * Math.log10(2), 2);
  await page.getByRole('button', { name: 'mute', exact: true }).click();
  expect(decibels((await heard())[0]!, left!)).toBeCloseTo(0, 2);
  await page.getByRole('button', { name: 'solo', exact: true }).click();
  await page.getByRole('button', { name: 'mute', exact: true }).click();
  expect(decibels((await heard())[0]!, left!)).toBeCloseTo(0, 2);
  await page.getByRole('button', { name: 'solo', exact: true }).click();
  expect(decibels((await heard())[0]!, left!)).toBeCloseTo(20 * Math.log10(2), 2);
});

test('a count-in is heard before the song, in the sound that was chosen', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await type(page, 'tempo', '120');
  await page.getByRole('button', { name: 'The click’s settings' }).click();
  await choose(page, page.getByTestId('count-in'), '1 bar');
  await choose(page, page.getByTestId('click-sound'), 'block');
  await page.keyboard.press('Escape');
  await saved(page);
  const document = await loadDocument(page, id);
  const assets = await loadAssets(page, document);
  const bar = 2 * ENGINE_RATE;
  const heard = await listen(page, bar + ENGINE_RATE);
  const song = expectedSound(document, assets, ENGINE_RATE);
  expect(firstDifference(heard[0]!.slice(bar), song[0]!)).toBe(-1);
  for (let beat = 0; beat < 4; beat++) {
    const at = beat * 22_050;
    expect(peakOf(heard[0]!.slice(at, at + 1_000))).toBeGreaterThan(0.05);
    expect(peakOf(heard[0]!.slice(at + 2_000, at + 22_000))).toBe(0);
  }
});

test('a dragged tempo is followed without a hole or a stuck voice', async ({ page }) => {
  await projectWith(page, NOTES);
  await choose(page, page.getByTestId('follow'), 'by stretching');
  await expect(page.getByTestId('rendering')).toHaveCount(0);
  const box = await restingBox(page.getByTestId('tempo'));
  const heard = await listen(page, 4 * ENGINE_RATE, async () => {
    await page.getByTestId('play').click();
    await page.mouse.move(box.x + 20, box.y + box.height / 2);
    await page.mouse.down();
    for (let move = 0; move < 120; move++) {
      await page.mouse.move(box.x + 20 + 40 * Math.sin(move / 9), box.y + box.height / 2);
    }
    await page.mouse.up();
  });
  // Plucked notes, eight a bar: never half a second without any.
  for (let at = ENGINE_RATE; at + ENGINE_RATE / 2 < heard[0]!.length; at += 5_000) {
    expect(peakOf(heard[0]!.slice(at, at + ENGINE_RATE / 2))).toBeGreaterThan(0.01);
  }
  await page.getByTestId('play').click();
  const after = await listen(page, 4_000, async () => {
    await engineFor(page, 50);
  });
  expect(peakOf(after[0]!.slice(3_000))).toBe(0);
});

test('the loop is heard with the click over it, in the reading that is chosen', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  const { document, cut, loop } = await partOf(page, id);
  expect(document.sources[cut.sourceId]!.sampleRate).toBe(ENGINE_RATE);
  const wanted = (await loadAssets(page, document))
    .get(cut.sourceId)!
    .channels[0]!.slice(loop.startFrame, loop.endFrame);
  // A tick on each quarter of the loop, where it lies by the loop's own length.
  const { clickSound, clickGainDb } = songValues(document);
  for (let beat = 0; beat < loop.bars * 4; beat++) {
    const at = Math.round((beat * wanted.length) / (loop.bars * 4));
    addSamples(wanted, at, clickTick(clickSound, beat % 4 === 0, ENGINE_RATE), dbToGain(clickGainDb));
  }
  // Longer than is compared: on a busy machine the preview begins a second after the click.
  const heard = await listen(page, 160_000, () => page.getByRole('button', { name: 'hear with click' }).click());
  // What still rings from before is no beginning.
  const isSound = (sample: number) => Math.abs(sample) > 1e-5;
  const first = heard[0]!.findIndex(isSound);
  const from = wanted.findIndex(isSound);
  // The preview begins within the recording; from its first sample on it is the loop with its ticks.
  for (let i = 200; i < 20_000; i += 97) expect(heard[0]![first + i]).toBeCloseTo(wanted[from + i]!, 5);
  await page.getByRole('button', { name: 'hear with click' }).click();
});

test('a pattern is made shorter than its loop and goes round by itself', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await fromMenu(page, 'more of patterns', 'copy the pattern');
  await page.getByTestId('pattern-bars').getByRole('spinbutton').focus();
  await page.keyboard.type('0.75');
  await page.keyboard.press('Enter');
  await heardAsExpected(page, id, 4);
  const { document, part, loop } = await partOf(page, id);
  expect(document.patterns[part.activePatternId]!.lengthTicks).toBe(0.75 * loop.beatsPerBar * 960);
});

/** Four bars of threes, two of each a little late: a file that the application has to read by itself. */
function threes(): Uint8Array {
  const barFrames = 2 * ENGINE_RATE;
  const samples = new Float32Array(4 * barFrames);
  for (let hit = 0; hit < 48; hit++) {
    const start = Math.round((hit * barFrames) / 12) + (hit % 3 === 0 ? 0 : 500);
    const burst = noise(3000, hit).map((sample, i) => sample * (hit % 3 === 0 ? 0.8 : 0.4) * Math.exp(-i / 600));
    addSamples(samples, start, burst);
  }
  return writeWav({ sampleRate: ENGINE_RATE, channels: [samples] }, { encoding: 'pcm16' });
}

test('a loop in triplets is measured on them, and its strips snap to them until another grid is chosen', async ({
  page,
}) => {
  const file = test.info().outputPath('threes.wav');
  writeFileSync(file, threes());
  const id = await newProject(page);
  await pickFiles(page, page.getByTestId('first-files'), file);
  await expect(page.getByTestId('slice-count')).toHaveText('48 slices');
  await unfold(page, 'Feel');
  const grid = page.getByTestId('grid');
  await expect(menuField(page, 'its grid')).toContainText('1/8 triplet');
  await expect(grid).toContainText('1/8 triplet');
  await expect(page.getByTestId('drift')).toContainText('32 late, most 11 ms');
  // Drawn to their lines: on the thirds of a beat, and as the core plays it.
  await type(page, 'feel', '0');
  await expect(page.getByTestId('drift')).toContainText('0 early, 0 late');
  await heardAsExpected(page, id, 3);
  await choose(page, menuField(page, 'its grid'), '1/16');
  await expect(grid).toContainText('1/16');
  await heardAsExpected(page, id, 3);
  await page.keyboard.press('Control+z');
  await expect(grid).toContainText('1/8 triplet');
  await choose(page, grid, '1/32');
  await choose(page, menuField(page, 'its grid'), '1/16');
  await expect(grid).toContainText('1/32');
  // What a window is in is not kept: anew it is the loop's.
  await page.keyboard.press('Control+z');
  await saved(page);
  await page.reload();
  await expect(menuField(page, 'its grid')).toContainText('1/8 triplet');
  await expect(grid).toContainText('1/8 triplet');
});

/** Eight bars of a player who rushes: beats and the eighths between them, and where each bar begins. */
function rushed(): { file: Uint8Array; lines: number[] } {
  const lines = [0];
  for (let bar = 0; bar < 8; bar++) lines.push(lines.at(-1)! + Math.round(2 * ENGINE_RATE * (1.03 - 0.008 * bar)));
  const samples = new Float32Array(lines.at(-1)!);
  for (let hit = 0; hit < 64; hit++) {
    const [bar, eighth] = [Math.floor(hit / 8), hit % 8];
    const start = Math.round(lines[bar]! + ((lines[bar + 1]! - lines[bar]!) * eighth) / 8);
    const level = eighth === 0 ? 0.9 : eighth % 2 === 0 ? 0.6 : 0.3;
    addSamples(
      samples,
      start,
      noise(4000, hit).map((sample, i) => sample * level * Math.exp(-i / 700)),
    );
  }
  return { file: writeWav({ sampleRate: ENGINE_RATE, channels: [samples] }, { encoding: 'pcm16' }), lines };
}

test('a player who rushes is followed bar by bar; a bar line is dragged, set on a slice, undone, and all made even', async ({
  page,
}) => {
  const { file, lines } = rushed();
  const path = test.info().outputPath('rushed.wav');
  writeFileSync(path, file);
  const id = await newProject(page);
  await pickFiles(page, page.getByTestId('first-files'), path);
  await expect(page.getByTestId('slice-count')).toHaveText('64 slices');
  const bars = page.getByTestId('bars-of-loop');
  await expect(bars).toContainText(/It was played at 11[67]\.\d to 123\.\d bpm, bar by bar\./);
  await saved(page);
  const before = await partOf(page, id);
  expect(before.loop).toMatchObject({ startFrame: 0, endFrame: lines.at(-1)!, bars: 8 });
  await bars.getByRole('button', { name: 'follow its bars' }).click();
  // Bars of 2.06 to 1.95 seconds, or about that.
  await expect(bars).toContainText(/Each bar has its own length: 11[67]\.\d to 123\.\d bpm\./);
  await saved(page);
  const { loop } = await partOf(page, id);
  expect(loop.barFrames).toHaveLength(7);
  for (const [place, frame] of loop.barFrames!.entries()) {
    expect(Math.abs(frame - lines[place + 1]!)).toBeLessThan(0.005 * ENGINE_RATE);
  }
  await unfold(page, 'Feel');
  await expect(page.getByTestId('drift')).toContainText(/most [0-4]\.\d ms/);
  await heardAsExpected(page, id, 3);
  await choose(page, page.getByTestId('follow'), 'by stretching');
  await expect(page.getByTestId('rendering')).toHaveCount(0);
  await heardAsExpected(page, id, 3);

  // The third line, dragged in the ruler with Alt, stays where it is let go.
  const canvas = page.getByTestId('source-canvas');
  const from = await pointIn(canvas, loop.barFrames![2]! / lines.at(-1)!, 0.05);
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.keyboard.down('Alt');
  await page.mouse.move(from.x + 6, from.y);
  await page.mouse.move(from.x + 12, from.y);
  await page.mouse.up();
  await page.keyboard.up('Alt');
  await expect(page.getByTestId('undo')).toHaveAttribute('data-tip', /start of bar 4/);
  await saved(page);
  const dragged = (await partOf(page, id)).loop.barFrames!;
  expect(dragged[2]! - loop.barFrames![2]!).toBeGreaterThan(0.05 * ENGINE_RATE);
  expect(dragged.toSpliced(2, 1)).toEqual(loop.barFrames!.toSpliced(2, 1));
  // And back onto the hit that the bar begins with.
  const hit = await pointIn(canvas, (lines[3]! + 2_000) / lines.at(-1)!, 0.35);
  await page.mouse.click(hit.x, hit.y);
  await page.getByRole('button', { name: 'bar 4 begins here' }).click();
  await saved(page);
  const set = await partOf(page, id);
  expect(Object.values(set.cut.slices).map(({ startFrame }) => startFrame)).toContain(set.loop.barFrames![2]);

  await choose(page, page.getByRole('group', { name: 'Details of' }), 'part');
  await bars.getByRole('button', { name: 'all alike' }).click();
  await saved(page);
  expect((await partOf(page, id)).loop).toEqual(before.loop);
  await page.keyboard.press('Control+z');
  await saved(page);
  await page.reload();
  await expect(bars).toContainText('Each bar has its own length');
  expect((await partOf(page, id)).loop).toEqual(set.loop);
  await heardAsExpected(page, id, 2);
});
