/** Patterns written by hand: many strips chosen, changed, copied, brought home; what plays then is heard; patterns that were played, and MIDI files. */
import { readFileSync, writeFileSync } from 'node:fs';
import { expect } from '@playwright/test';
import tone from '@tonejs/midi';
import { songValues } from '#core/queries/values.ts';
import { test } from './one-window.ts';
import {
  engineFor,
  fromMenu,
  goTo,
  menuField,
  pickFiles,
  playedPattern,
  projectWith,
  type,
  unfold,
  watchForTrouble,
} from './support.ts';
import { expectHeardAsSaved, stripPoint } from './pattern-support.ts';

const LOOP = 'tests/fixtures/loops/swing-04.flac';

test('strips are chosen by a rule and changed together, heard, undone', async ({ page }) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await fromMenu(page, 'Choose strips', 'every second one');
  await fromMenu(page, 'Change strips', 'short');
  const { pattern, events } = await playedPattern(page, id);
  expect(pattern).toBeDefined();
  events.forEach(({ lengthTicks }, place) => {
    if (place % 2 === 0) expect(lengthTicks).toBeLessThanOrEqual(120);
  });
  expect(events.some(({ lengthTicks }) => lengthTicks > 120)).toBe(true);
  await expectHeardAsSaved(page, id);
  // One change, one step: the copy of home and what was done to it go together.
  await page.keyboard.press('Control+z');
  expect((await playedPattern(page, id)).pattern).toBeUndefined();
  expect(trouble).toEqual([]);
});

test('strips are copied, put down after themselves and in another pattern, and carried with Ctrl held', async ({
  page,
}) => {
  const id = await projectWith(page, LOOP);
  await page.getByRole('button', { name: 'new pattern' }).click();
  await fromMenu(page, 'Change strips', 'go home');
  const before = (await playedPattern(page, id)).events;
  const first = await stripPoint(page, id, 0);
  await page.mouse.click(first.x, first.y);
  await page.keyboard.press('Control+c');
  await page.keyboard.press('Control+v');
  const pasted = (await playedPattern(page, id)).events;
  expect(pasted).toHaveLength(before.length + 1);
  const copies = pasted.filter(({ zoneId }) => zoneId === before[0]!.zoneId);
  expect(copies).toHaveLength(2);
  // Right after what was copied, on the grid of sixteenths.
  expect(copies[1]!.positionTicks % 240).toBeCloseTo(0, 6);
  expect(copies[1]!.positionTicks).toBeGreaterThanOrEqual(before[0]!.positionTicks + before[0]!.lengthTicks - 1);

  await page.getByRole('button', { name: 'new pattern' }).click();
  await page.keyboard.press('Control+Shift+V');
  const elsewhere = (await playedPattern(page, id)).events;
  expect(elsewhere.map(({ zoneId, positionTicks }) => [zoneId, positionTicks])).toEqual([
    [before[0]!.zoneId, before[0]!.positionTicks],
  ]);

  const from = await stripPoint(page, id, 0);
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.keyboard.down('Control');
  await page.mouse.move(from.x + 150, from.y, { steps: 5 });
  await page.mouse.up();
  await page.keyboard.up('Control');
  const carried = (await playedPattern(page, id)).events;
  expect(carried).toHaveLength(2);
  expect(carried[0]!.positionTicks).toBe(elsewhere[0]!.positionTicks);
});

test('how far from home is seen, and a pattern goes home and sounds as the loop', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await page.getByTestId('deal').click();
  const distance = page.getByTestId('home-distance');
  await expect(distance).toBeVisible();
  await expect(distance).not.toHaveText(/^0% /);
  await fromMenu(page, 'Change strips', 'go home');
  await expect(distance).toHaveText('0% from home');
  const { document, part, cut, events } = await playedPattern(page, id);
  expect(events.map(({ sliceId }) => sliceId)).toEqual(
    [...Object.values(cut.slices)].sort((a, b) => a.startFrame - b.startFrame).map((slice) => slice.id),
  );
  expect(document.patterns[part.activePatternId]!.handOrder.length).toBeGreaterThan(1);
  await expectHeardAsSaved(page, id);
});

test('repeats drawn together and rising are heard as they are set; another sound takes a strip’s place', async ({
  page,
}) => {
  const id = await projectWith(page, LOOP);
  const first = await stripPoint(page, id, 0);
  await page.mouse.click(first.x, first.y);
  await unfold(page, 'Repeats');
  await type(page, 'repeats', '4');
  await type(page, 'draw together', '100');
  await type(page, 'rise in level', '-9');
  const { events } = await playedPattern(page, id);
  expect(events[0]!.values).toMatchObject({ repeats: 4, repeatPull: 1, repeatGainDb: -9 });
  await menuField(page, 'plays').click();
  await page.getByRole('option').nth(3).click();
  await expect.poll(async () => (await playedPattern(page, id)).events[0]!.sliceId).not.toBe(events[0]!.sliceId);
  await expectHeardAsSaved(page, id);
});

test('what was just played becomes a pattern, though nothing was armed', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await page.keyboard.press('Alt+p');
  await expect(page.getByText('Nothing was played on the keys')).toBeVisible();
  await page.getByTestId('play').click();
  await engineFor(page, 500);
  await page.keyboard.press('z', { delay: 120 });
  await engineFor(page, 300);
  await page.keyboard.press('x', { delay: 120 });
  await page.getByTestId('play').click();
  await page.keyboard.press('Alt+p');
  // What keeps it comes when it is asked for.
  await expect.poll(async () => (await playedPattern(page, id)).pattern).toBeDefined();
  const { events, placed } = await playedPattern(page, id);
  expect(events).toHaveLength(2);
  const [first, second] = events;
  // By the page's own clock they were 420 ms apart; the tempo tells how many ticks that is.
  const { document } = await playedPattern(page, id);
  const ticksPerSecond = (songValues(document).tempoBpm / 60) * 960;
  const apart = (second!.positionTicks - first!.positionTicks) / ticksPerSecond;
  expect(apart).toBeGreaterThan(0.35);
  expect(apart).toBeLessThan(1.2);
  expect(placed.map(({ slice }) => slice.id)).toContain(first!.sliceId);
  expect(second!.sliceId).not.toBe(first!.sliceId);
  await expectHeardAsSaved(page, id, 3);
});

test('a pattern leaves as a MIDI file and comes back the same', async ({ page }, info) => {
  const id = await projectWith(page, LOOP);
  await page.getByTestId('deal').click();
  const dealt = (await playedPattern(page, id)).events;
  await goTo(page, 'Take away');
  await page.getByRole('checkbox', { name: 'Mix' }).uncheck();
  await page.getByRole('checkbox', { name: 'Pattern as MIDI' }).check();
  const download = page.waitForEvent('download');
  await page.getByTestId('away-run').click();
  const file = info.outputPath('pattern.mid');
  await (await download).saveAs(file);

  const outside = new tone.Midi(readFileSync(file));
  const { document } = await playedPattern(page, id);
  expect(outside.header.tempos[0]!.bpm).toBeCloseTo(songValues(document).tempoBpm, 2);
  expect(outside.tracks.flatMap(({ notes }) => notes)).toHaveLength(dealt.length);

  await goTo(page, 'Bench');
  await page.getByRole('button', { name: 'more of patterns' }).click();
  await pickFiles(page, page.getByText('pattern from a MIDI file', { exact: true }), file);
  const dialog = page.getByTestId('midi-file');
  await expect(dialog.getByTestId('midi-found')).toContainText(`${dealt.length} notes`);
  await dialog.getByRole('button', { name: 'Make a pattern' }).click();
  await expect(dialog).toHaveCount(0);
  const back = (await playedPattern(page, id)).events;
  expect(back.map(({ zoneId }) => zoneId)).toEqual(dealt.map(({ zoneId }) => zoneId));
  // 480 ticks a quarter: within one of ours of 960.
  back.forEach(({ positionTicks }, place) =>
    expect(Math.abs(positionTicks - dealt[place]!.positionTicks)).toBeLessThanOrEqual(1),
  );
  await expectHeardAsSaved(page, id);
});

test('a file that is no MIDI file is told apart, and nothing changes', async ({ page }, info) => {
  const id = await projectWith(page, LOOP);
  const file = info.outputPath('broken.mid');
  writeFileSync(file, 'this is no MIDI file');
  await page.getByRole('button', { name: 'more of patterns' }).click();
  await pickFiles(page, page.getByText('pattern from a MIDI file', { exact: true }), file);
  await expect(page.getByText('no Standard MIDI File')).toBeVisible();
  expect((await playedPattern(page, id)).pattern).toBeUndefined();
});

test('a deal keeps to its rules, colours as told, and is heard so; all goes back to nothing at once', async ({
  page,
}) => {
  const id = await projectWith(page, LOOP);
  await page.getByTestId('deal-rules').click();
  await page.getByRole('checkbox', { name: 'first beats stay' }).check();
  await type(page, 'backwards', '100');
  await page.keyboard.press('Escape');
  await expect(page.getByTestId('deal-rules')).toHaveText('2 rules');
  await page.getByTestId('deal').click();
  const { events, pattern } = await playedPattern(page, id);
  expect(pattern!.hands[pattern!.handId!]!.rules).toEqual({ keepsFirstBeats: true, backwardsPercent: 100 });
  const isFirst = (ticks: number) => (ticks + 60) % 3840 < 960;
  events.forEach(({ positionTicks, values }) => expect(values.reverse ?? false).toBe(!isFirst(positionTicks)));
  await expectHeardAsSaved(page, id);

  await page.getByRole('button', { name: 'give it a star' }).click();
  await expect.poll(async () => (await playedPattern(page, id)).pattern!.hands[pattern!.handId!]!.starred).toBe(true);
  await page.getByRole('button', { name: 'all back to nothing' }).click();
  await expect(page.getByTestId('deal-rules')).toHaveText('plain');
});
