/** Patterns written by hand: many strips chosen, changed, copied, brought home; what plays then is heard; patterns that were played, and MIDI files. */
import { readFileSync, writeFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import tone from '@tonejs/midi';
import { songValues } from '#core/queries/values.ts';
import { test } from './one-window.ts';
import {
  choose,
  ENGINE_RATE,
  expectedSound,
  fromMenu,
  goTo,
  listen,
  loadAssets,
  loadDocument,
  menuField,
  peakOf,
  pickFiles,
  playedPattern,
  projectWith,
  saved,
  type,
  unfold,
  watchForTrouble,
} from './support.ts';

const LOOP = 'tests/fixtures/loops/swing-04.flac';

/** Middle of a strip on the ribbon, by its place in the pattern. */
async function stripPoint(page: Page, id: string, place: number) {
  const { events, pattern, loop } = await playedPattern(page, id);
  const lengthTicks = pattern?.lengthTicks ?? loop.bars * loop.beatsPerBar * 960;
  const box = (await page.getByTestId('pattern-canvas').boundingBox())!;
  const event = events[place]!;
  const middle = (event.positionTicks + Math.min(event.lengthTicks, 120) / 2) / lengthTicks;
  return { x: box.x + box.width * middle, y: box.y + box.height * 0.8 };
}

/** Does the engine play just what the saved document says? */
async function expectHeardAsSaved(page: Page, id: string, seconds = 1.2): Promise<void> {
  await saved(page);
  const document = await loadDocument(page, id);
  const frames = Math.round(seconds * ENGINE_RATE);
  const heard = await listen(page, frames);
  await page.getByTestId('play').click();
  const wanted = expectedSound(document, await loadAssets(page, document), frames);
  expect(peakOf(wanted[0]!)).toBeGreaterThan(0.05);
  const off = peakOf(heard[0]!.map((sample, i) => sample - wanted[0]![i]!));
  expect(off).toBeLessThan(1e-4);
}

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

test('a box round strips of the ribbon chooses them; in the rows they are dragged, copied and moved to other sounds', async ({
  page,
}) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  const home = (await playedPattern(page, id)).events;
  const ribbon = (await page.getByTestId('pattern-canvas').boundingBox())!;
  const second = await stripPoint(page, id, 1);
  const third = await stripPoint(page, id, 2);
  await page.mouse.move(second.x, ribbon.y + 40);
  await page.mouse.down();
  await page.mouse.move(third.x + 2, ribbon.y + ribbon.height - 30, { steps: 4 });
  await page.mouse.up();
  // The first one's end, perhaps, and these two.
  await expect(page.getByRole('heading', { name: /^[23] strips$/ })).toBeVisible();
  await page.keyboard.press('Escape');

  await page.keyboard.press('F4');
  await choose(page, menuField(page, 'Rows in order'), 'as in the loop');
  const rows = page.getByTestId('rows-canvas');
  const box = (await rows.boundingBox())!;
  // In the loop's own order from below: the first slice is the last row.
  const rowHeight = (box.height - 22) / new Set(home.map(({ zoneId }) => zoneId)).size;
  const x = box.x + 164 + 6;
  const yOf = (slice: number) => box.y + box.height - (slice + 0.5) * Math.min(40, Math.max(20, rowHeight));
  await page.mouse.move(x, yOf(0));
  await page.mouse.down();
  await page.mouse.move(x, yOf(1), { steps: 4 });
  await page.mouse.move(x, yOf(2), { steps: 4 });
  await page.mouse.up();
  const dragged = (await playedPattern(page, id)).events;
  expect(dragged).toHaveLength(home.length);
  expect(dragged[0]).toMatchObject({ zoneId: home[2]!.zoneId, positionTicks: home[0]!.positionTicks });
  expect(dragged.slice(1).map(({ zoneId }) => zoneId)).toEqual(home.slice(1).map(({ zoneId }) => zoneId));

  await page.keyboard.press('Shift+ArrowUp');
  await saved(page);
  expect((await playedPattern(page, id)).events[0]!.zoneId).toBe(home[3]!.zoneId);
  await page.keyboard.press('Shift+ArrowDown');
  await saved(page);
  expect((await playedPattern(page, id)).events[0]!.zoneId).toBe(home[2]!.zoneId);

  // The head of a row chooses what is in it: the moved one, and the one that was there.
  await page.mouse.dblclick(box.x + 60, yOf(2));
  await expect(page.getByRole('heading', { name: '2 strips' })).toBeVisible();
  await page.mouse.click(x, yOf(2));

  await page.mouse.move(x, yOf(2));
  await page.mouse.down();
  await page.keyboard.down('Control');
  await page.mouse.move(x, yOf(0), { steps: 5 });
  await page.mouse.up();
  await page.keyboard.up('Control');
  const copied = (await playedPattern(page, id)).events;
  expect(copied).toHaveLength(home.length + 1);
  expect(
    copied
      .slice(0, 2)
      .map(({ zoneId }) => zoneId)
      .sort(),
  ).toEqual([home[0]!.zoneId, home[2]!.zoneId].sort());
  await expectHeardAsSaved(page, id);
  expect(trouble).toEqual([]);
});

test('rows show where the loop plays what was dealt elsewhere; a home pattern has nothing to show there', async ({
  page,
}) => {
  await projectWith(page, LOOP);
  await page.keyboard.press('F4');
  const rows = page.getByTestId('rows-canvas');
  await expect(rows).toBeVisible();
  const toggle = page.getByRole('button', { name: 'home', exact: true });
  await expect(toggle).toHaveCount(0);
  await page.keyboard.press('Alt+d');
  await expect(toggle).toHaveAttribute('aria-pressed', 'true');
  // The picture lies under the canvas that takes the pointer.
  const picture = () =>
    page.locator('canvas:has(+ [data-testid="rows-canvas"])').evaluate((one) => (one as HTMLCanvasElement).toDataURL());
  await page.waitForTimeout(300);
  const shown = await picture();
  await toggle.click();
  await expect(toggle).toHaveAttribute('aria-pressed', 'false');
  await expect.poll(picture).not.toBe(shown);
  await toggle.click();
  await expect.poll(picture).toBe(shown);
});

test('in the rows, too; a narrow window still has the menus', async ({ page }) => {
  await projectWith(page, LOOP);
  await page.keyboard.press('F4');
  await expect(page.getByTestId('rows-canvas')).toBeVisible();
  await fromMenu(page, 'Change strips', 'a step later');
  await page.setViewportSize({ width: 1024, height: 640 });
  await expect(page.getByRole('button', { name: 'Change strips' })).toBeInViewport();
  await expect(page.getByRole('button', { name: 'Choose strips' })).toBeInViewport();
  await goTo(page, 'Shape');
});

test('what was just played becomes a pattern, though nothing was armed', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await page.keyboard.press('Alt+p');
  await expect(page.getByText('Nothing was played on the keys')).toBeVisible();
  await page.getByTestId('play').click();
  await page.waitForTimeout(500);
  await page.keyboard.press('z', { delay: 120 });
  await page.waitForTimeout(300);
  await page.keyboard.press('x', { delay: 120 });
  await page.getByTestId('play').click();
  await page.keyboard.press('Alt+p');
  const { pattern, events, placed } = await playedPattern(page, id);
  expect(pattern).toBeDefined();
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
  await expectHeardAsSaved(page, id);
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

test('the lane under the rows sets pan, pitch or level strip by strip, and it is heard', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await page.keyboard.press('F4');
  await choose(page, page.getByRole('group', { name: 'What the lane shows' }), 'pan');
  const lane = (await page.getByTestId('strip-lane').boundingBox())!;
  const y = (share: number) => lane.y + lane.height - 4 - share * (lane.height - 14);
  await page.mouse.move(lane.x + 166, y(1));
  await page.mouse.down();
  await page.mouse.move(lane.x + lane.width - 4, y(0), { steps: 30 });
  await page.mouse.up();
  const { events } = await playedPattern(page, id);
  const pans = events.map(({ values }) => values.pan ?? 0);
  // From hard right at the start to hard left at the end, one after the other.
  expect(pans[0]).toBeGreaterThan(0.8);
  expect(pans.at(-1)).toBeLessThan(-0.6);
  expect(pans.every((pan, place) => place === 0 || pan <= pans[place - 1]!)).toBe(true);
  await expectHeardAsSaved(page, id);
});

test('the notes of one sound are drawn as a melody, moved by semitones, bar by bar, and heard so', async ({ page }) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await page.getByRole('button', { name: 'new pattern' }).click();
  await page.keyboard.press('F4');
  await choose(page, menuField(page, 'Rows in order'), 'by note');
  const canvas = page.getByTestId('rows-canvas');
  const HEAD = 164;
  const TOP = 22;
  const ROW = 20;
  /** Rows are semitones, from twelve above the sound as it is. */
  const point = async (beat: number, semitones: number) => {
    const box = (await canvas.boundingBox())!;
    const { pattern } = await playedPattern(page, id);
    const x = box.x + HEAD + ((box.width - HEAD) * (beat * 960 + 20)) / pattern!.lengthTicks;
    return { x, y: box.y + TOP + (12 - semitones) * ROW + ROW / 2 };
  };
  for (const [beat, semitones] of [
    [0, 0],
    [1, 3],
    [2, 7],
  ] as const) {
    const { x, y } = await point(beat, semitones);
    await page.mouse.dblclick(x, y);
  }
  const tunes = async () => (await playedPattern(page, id)).events.map(({ values }) => values.tuneCents ?? 0);
  expect(await tunes()).toEqual([0, 300, 700]);
  const from = await point(1, 3);
  const to = await point(2.5, 5);
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move(to.x, to.y, { steps: 6 });
  await page.mouse.up();
  const { events } = await playedPattern(page, id);
  expect(events.map(({ positionTicks, values }) => [positionTicks, values.tuneCents ?? 0])).toEqual([
    [0, 0],
    [1920, 700],
    [2400, 500],
  ]);
  await expectHeardAsSaved(page, id);
  // Time and pitch together were one step.
  await page.keyboard.press('Control+z');
  expect(await tunes()).toEqual([0, 300, 700]);
  await type(page, 'bars', '2');
  await page.getByRole('button', { name: 'bar by bar' }).click();
  await expect(page.getByTestId('shown-bar')).toHaveText('1 of 2');
  await page.getByRole('button', { name: 'next bar' }).click();
  await expect(page.getByTestId('shown-bar')).toHaveText('2 of 2');
  const box = (await canvas.boundingBox())!;
  await page.mouse.dblclick(box.x + HEAD + 5, box.y + TOP + 12 * ROW + ROW / 2);
  await expect.poll(async () => (await playedPattern(page, id)).events.at(-1)!.positionTicks).toBe(3840);
  expect(trouble).toEqual([]);
});
