/** The pattern in rows: strips chosen by a box, dragged to other sounds, written; the lane beneath, and notes of one sound. */
import { expect } from '@playwright/test';
import { test } from './one-window.ts';
import {
  choose,
  fromMenu,
  goTo,
  menuField,
  playedPattern,
  projectWith,
  restingBox,
  saved,
  type,
  watchForTrouble,
} from './support.ts';
import { expectHeardAsSaved, rowsOf, stripPoint } from './pattern-support.ts';

const LOOP = 'tests/fixtures/loops/swing-04.flac';

test('a box round strips of the ribbon chooses them; in the rows they are dragged, copied and moved to other sounds', async ({
  page,
}) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  const home = (await playedPattern(page, id)).events;
  const ribbon = await restingBox(page.getByTestId('pattern-canvas'));
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
  const box = await restingBox(rows);
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

test('strips are written into the rows at one stroke and taken away at another, each one step to undo', async ({
  page,
}) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await page.getByRole('button', { name: 'new pattern' }).click();
  await page.keyboard.press('F4');
  await choose(page, menuField(page, 'Rows in order'), 'as in the loop');
  await page.keyboard.press('Alt+w');
  await expect(page.getByRole('button', { name: 'write' })).toHaveAttribute('aria-pressed', 'true');
  const box = await restingBox(page.getByTestId('rows-canvas'));
  const { pattern, zones } = await rowsOf(page, id);
  const rowHeight = Math.max(20, Math.min(40, Math.floor((box.height - 22) / zones.length)));
  const bottom = box.y + 22 + zones.length * rowHeight;
  const yOf = (slice: number) => bottom - (slice + 0.5) * rowHeight;
  const xOf = (ticks: number) => box.x + 164 + ((box.width - 164) * ticks) / pattern.lengthTicks;
  // A bar of sixteenths in one quick stroke: only its ends are looked at by the pointer.
  await page.mouse.move(xOf(100), yOf(0));
  await page.mouse.down();
  await page.mouse.move(xOf(3740), yOf(0), { steps: 2 });
  await page.mouse.up();
  const written = (await playedPattern(page, id)).events;
  expect(written.map(({ positionTicks, lengthTicks }) => [positionTicks, lengthTicks])).toEqual(
    Array.from({ length: 16 }, (_, step) => [step * 240, 240]),
  );
  expect(new Set(written.map(({ zoneId }) => zoneId))).toEqual(new Set([zones[0]]));
  await expectHeardAsSaved(page, id);

  // Begun on a strip, the pointer takes away: the second beat.
  await page.mouse.move(xOf(1000), yOf(0));
  await page.mouse.down();
  await page.mouse.move(xOf(1860), yOf(0), { steps: 3 });
  await page.mouse.up();
  const left = (await playedPattern(page, id)).events.map(({ positionTicks }) => positionTicks / 240);
  expect(left).toEqual([0, 1, 2, 3, 8, 9, 10, 11, 12, 13, 14, 15]);
  await page.keyboard.press('Control+z');
  expect((await playedPattern(page, id)).events).toHaveLength(16);
  await page.keyboard.press('Control+z');
  expect((await playedPattern(page, id)).events).toHaveLength(0);
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
  let shown = '';
  // Drawn to its end: the same picture twice.
  await expect
    .poll(async () => {
      const before = shown;
      shown = await picture();
      return shown === before;
    })
    .toBe(true);
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

test('the lane under the rows sets pan, pitch or level strip by strip, and it is heard', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await page.keyboard.press('F4');
  await choose(page, page.getByRole('group', { name: 'What the lane shows' }), 'pan');
  const lane = await restingBox(page.getByTestId('strip-lane'));
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
    const box = await restingBox(canvas);
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
  const box = await restingBox(canvas);
  await page.mouse.dblclick(box.x + HEAD + 5, box.y + TOP + 12 * ROW + ROW / 2);
  await expect.poll(async () => (await playedPattern(page, id)).events.at(-1)!.positionTicks).toBe(3840);
  expect(trouble).toEqual([]);
});

test('strips put down on top of others in a part that plays one at a time are said to be unheard, and heard with one click', async ({
  page,
}) => {
  const id = await projectWith(page, LOOP);
  const point = await stripPoint(page, id, 1);
  await page.mouse.click(point.x, point.y);
  await expect(page.getByRole('heading', { name: /strip/i }).first()).toBeVisible();
  // A second one of another sound, on the same step: what was copied is put down, then plays the neighbour's sound.
  await page.keyboard.press('Control+c');
  await page.keyboard.press('Control+Shift+V');
  await saved(page);
  const { events } = await playedPattern(page, id);
  const step = events.filter(({ positionTicks }) => positionTicks === events[1]!.positionTicks);
  expect(step).toHaveLength(2);
  await expect(page.getByTestId('unheard')).toContainText('One strip is not heard');
  await page.getByRole('button', { name: 'choose them' }).click();
  await page.keyboard.press('Shift+ArrowUp');
  await saved(page);
  await page.getByRole('button', { name: 'let them sound together' }).click();
  await expect(page.getByTestId('unheard')).toHaveCount(0);
  await expectHeardAsSaved(page, id);
});
