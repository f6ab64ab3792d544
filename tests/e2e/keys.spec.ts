/** Sounds on keys: laid out, learned, dragged, held, layered, moved, picked; keys are really pressed, and what sounds is heard. */
import { expect, type Page } from '@playwright/test';
import type { ProjectDocument } from '#core/document/schema.ts';
import { slicesOfCut } from '#core/queries/slices.ts';
import { firstLetterKey } from '#core/queries/free-keys.ts';
import { partValues, zoneValues } from '#core/queries/values.ts';
import { zonesOfPart } from '#core/queries/zones.ts';
import { lettersFrom } from '../../src/web/devices/typing-keys.ts';
import { test } from './one-window.ts';
import {
  choose,
  ENGINE_RATE,
  engineFor,
  firstPart,
  fromMenu,
  goTo,
  listen,
  loadAssets,
  loadDocument,
  menuField,
  peakOf,
  pointIn,
  projectWith,
  restingBox,
  saved,
  unfold,
} from './support.ts';

const LOOP = 'tests/fixtures/loops/swing-04.flac';
const NOTES = 'tests/fixtures/loops/pluck-01.flac';

async function zonesNow(page: Page, id: string) {
  await saved(page);
  const document = await loadDocument(page, id);
  const part = document.parts[document.partOrder.at(-1)!]!;
  return { document, part, placed: zonesOfPart(document, part) };
}

/** Presses a key of the computer keyboard for a while, and gives what is heard. */
function heardWhile(page: Page, code: string, holdMs: number, seconds: number): Promise<Float32Array[]> {
  return listen(page, Math.round(seconds * ENGINE_RATE), async () => {
    await page.keyboard.down(code);
    await engineFor(page, holdMs);
    await page.keyboard.up(code);
  });
}

const rms = (samples: Float32Array, from: number, to: number) =>
  Math.sqrt(samples.subarray(from, to).reduce((sum, x) => sum + x * x, 0) / (to - from));

/** First frame that is heard. */
const onset = (samples: Float32Array) => samples.findIndex((x) => Math.abs(x) > 1e-3);

/** Does the sound that begins somewhere follow the source from a frame on? Looked at past the fades of its start. */
function follows(heard: Float32Array, source: Float32Array, frame: number, gain: number): boolean {
  const at = onset(heard);
  for (let shift = -200; shift <= 200; shift++) {
    let off = 0;
    let power = 1e-9;
    for (let i = 200; i < 900; i += 7) {
      const wanted = gain * (source[frame + shift + i] ?? 0);
      off += ((heard[at + i] ?? 0) - wanted) ** 2;
      power += wanted ** 2;
    }
    if (off / power < 1e-3) return true;
  }
  return false;
}

test('by drum each sound lies on the key that drums have by agreement; the keys that are pressed play them', async ({
  page,
}) => {
  const id = await projectWith(page, LOOP);
  await page.keyboard.press('F3');
  await page
    .getByTestId('lay-out')
    .getByRole('button', { name: /^by drum/ })
    .click();
  const { document, part, placed } = await zonesNow(page, id);
  const kick = placed.find(({ at }) => at.slice.role === 'kick')!;
  expect(kick.keys!.low).toBe(36);
  const roles = new Map(placed.map(({ keys, at }) => [keys?.low, at.slice.role]));
  if (placed.some(({ at }) => at.slice.role === 'snare')) expect(roles.get(38)).toBe('snare');
  // The letters begin where the sounds are.
  const first = firstLetterKey(placed, partValues(part).startKey);
  const letters = lettersFrom(first);
  const struck = placed.find(({ keys, at }) => at.slice.role === 'kick' && keys && letters.has(keys.low))!;
  const letter = letters.get(struck.keys!.low)!;
  const source = (await loadAssets(page, document)).get(struck.cut.sourceId)!.channels[0]!;
  const [left] = await heardWhile(page, letter, 150, 0.5);
  expect(peakOf(left!)).toBeGreaterThan(0.02);
  // As strong as the letters strike: 114 of 127, by the square.
  expect(follows(left!, source, struck.at.startFrame, (114 / 127) ** 2)).toBe(true);
  // What was played is chosen, and shown.
  await page.getByRole('button', { name: `slice ${struck.at.index + 1}`, exact: true }).click();
  await expect(page.getByRole('heading', { name: `Slice ${struck.at.index + 1}` })).toBeVisible();
  expect(part.zoneOrder.length).toBe(placed.length);
  await page.keyboard.press('Control+z');
  expect((await zonesNow(page, id)).placed[0]!.keys!.low).toBe(48);
});

test('a key is learned by pressing it, a sound dragged to another, copied and swapped; Escape leaves the learning', async ({
  page,
}) => {
  const id = await projectWith(page, LOOP);
  await page.keyboard.press('F3');
  const table = page.getByTestId('key-table');
  await expect(table).toBeVisible();
  const { placed } = await zonesNow(page, id);
  const columnOf = async (key: number) => {
    const box = await restingBox(table);
    const wide = (box.width - 46) / 24;
    return { x: box.x + 46 + (key - 48 + 0.5) * wide, y: box.y + box.height * 0.4 };
  };
  const first = await columnOf(48);
  await page.mouse.click(first.x, first.y);
  await page
    .getByTestId('lay-out')
    .getByRole('button', { name: /^learn/ })
    .click();
  await expect(page.getByTestId('awaited')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByTestId('awaited')).toHaveCount(0);
  await page.keyboard.press('Alt+n');
  await page.keyboard.press('u');
  const taught = await zonesNow(page, id);
  expect(taught.placed[0]!.keys).toEqual({ low: 71, high: 71, root: 71 });
  expect(taught.placed[0]!.zone.id).toBe(placed[0]!.zone.id);

  const from = await columnOf(49);
  const to = await columnOf(70);
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move((from.x + to.x) / 2, from.y, { steps: 4 });
  await page.mouse.move(to.x, to.y, { steps: 4 });
  await page.mouse.up();
  expect((await zonesNow(page, id)).placed[1]!.keys!.low).toBe(70);

  await page.mouse.move(to.x, to.y);
  await page.mouse.down();
  await page.keyboard.down('Alt');
  await page.mouse.move(to.x - 200, to.y, { steps: 6 });
  await page.mouse.up();
  await page.keyboard.up('Alt');
  const copied = await zonesNow(page, id);
  expect(copied.placed.length).toBe(placed.length + 1);
  expect(copied.placed[1]!.keys!.low).toBe(70);
});

test('the upper edge of a column sets the hardest press that plays it: a harder one is silent', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await page.keyboard.press('F3');
  const table = page.getByTestId('key-table');
  const box = await restingBox(table);
  const x = box.x + 46 + ((box.width - 46) / 24) * 0.5;
  await page.mouse.click(x, box.y + box.height * 0.5);
  await page.mouse.move(x, box.y + 12);
  await page.mouse.down();
  await page.mouse.move(x, box.y + box.height * 0.3, { steps: 5 });
  await page.mouse.up();
  const { placed } = await zonesNow(page, id);
  const { high, low } = placed[0]!.zone.velocities;
  expect(low).toBe(1);
  expect(high).toBeGreaterThan(60);
  expect(high).toBeLessThan(110);
  const [hard] = await heardWhile(page, 'z', 100, 0.4);
  expect(peakOf(hard!)).toBeLessThan(1e-4);
  for (let i = 0; i < 6; i++) await page.keyboard.press('Alt+PageDown');
  const [soft] = await heardWhile(page, 'z', 100, 0.4);
  expect(peakOf(soft!)).toBeGreaterThan(0.005);
});

test('held, it sounds as long as its key is down; with Shift it is held on; choked, it ends with the next', async ({
  page,
}) => {
  const id = await projectWith(page, NOTES);
  await page.getByTestId('keys-canvas').waitFor();
  await choose(page, menuField(page, 'How slices answer their keys'), 'play while held');
  await saved(page);
  const [brief] = await heardWhile(page, 'x', 120, 0.6);
  const start = onset(brief!);
  expect(rms(brief!, start + 400, start + 3_000)).toBeGreaterThan(0.005);
  expect(peakOf(brief!.subarray(start + 0.3 * ENGINE_RATE, start + 0.35 * ENGINE_RATE))).toBeLessThan(1e-3);

  const [sustained] = await listen(page, Math.round(0.5 * ENGINE_RATE), async () => {
    await page.keyboard.down('x');
    await page.keyboard.down('Shift');
    await engineFor(page, 60);
    await page.keyboard.up('x');
    await engineFor(page, 300);
    await page.keyboard.up('Shift');
  });
  const later = onset(sustained!) + Math.round(0.2 * ENGINE_RATE);
  expect(rms(sustained!, later, later + 2_000)).toBeGreaterThan(0.002);
  const { document } = await firstPart(page, id);
  expect(Object.values(document.zones).every((zone) => zoneValues(zone).answer === 'gate')).toBe(true);
});

test('a loop is found inside a note: held, it goes on and on; let go, it ends', async ({ page }) => {
  const id = await projectWith(page, NOTES);
  const keys = page.getByTestId('keys-canvas');
  const at = await pointIn(keys, 0.02, 0.9);
  await page.mouse.click(at.x, at.y);
  const panel = page.locator('.details, aside').last();
  await panel.getByRole('button', { name: 'while held' }).click();
  await choose(page, menuField(page, 'loop'), 'forwards');
  await panel.getByRole('button', { name: 'find a loop' }).click();
  await expect(panel.getByTestId('sound-loop')).toContainText('alike');
  const { placed } = await zonesNow(page, id);
  const { loop } = placed[0]!.zone;
  expect(loop!.endFrame - loop!.startFrame).toBeGreaterThan(1_000);
  const [left] = await heardWhile(page, 'z', 1_900, 2.6);
  const start = onset(left!);
  const level = (seconds: number) => rms(left!, start + seconds * ENGINE_RATE, start + (seconds + 0.1) * ENGINE_RATE);
  const natural = (placed[0]!.at.endFrame - placed[0]!.at.startFrame) / ENGINE_RATE;
  expect(1.6).toBeGreaterThan(natural);
  expect(level(1.6)).toBeGreaterThan(0.003);
  expect(Math.abs(20 * Math.log10(level(1.6) / level(1.1)))).toBeLessThan(2);
  expect(level(2.3)).toBeLessThan(1e-3);
});

test('spread over the keys a note keeps its tuning: a key higher is a semitone, and its details show the range', async ({
  page,
}) => {
  const id = await projectWith(page, NOTES);
  const at = await pointIn(page.getByTestId('keys-canvas'), 0.02, 0.9);
  await page.mouse.click(at.x, at.y);
  await page.keyboard.press('F3');
  await page
    .getByTestId('lay-out')
    .getByRole('button', { name: /^spread/ })
    .click();
  const { placed } = await zonesNow(page, id);
  const { keys, at: slice, zone } = placed[0]!;
  // Around its note where that key is free, else around the same note some octaves away; on nothing of the others.
  expect(keys!.high - keys!.low).toBeGreaterThan(12);
  expect((keys!.root - slice.slice.midi!) % 12).toBe(0);
  const others = placed.slice(1).flatMap((one) => (one.keys ? [one.keys] : []));
  expect(others.some(({ low, high }) => low <= keys!.high && high >= keys!.low)).toBe(false);
  expect(others).toHaveLength(placed.length - 1);
  expect(zoneValues(zone).tuneCents).toBeCloseTo(-(slice.slice.cents ?? 0), 3);
  await expect(page.getByTestId('zone-keys')).toContainText('root');
});

test('a wave moves the level, a row of steps is drawn; both are heard, and taken away again', async ({ page }) => {
  const id = await projectWith(page, NOTES);
  const at = await pointIn(page.getByTestId('keys-canvas'), 0.02, 0.9);
  await page.mouse.click(at.x, at.y);
  // The part's own cards are gone by then.
  await expect(page.getByTestId('zone-keys')).toBeVisible();
  await unfold(page, 'Moved by');
  await page.getByRole('button', { name: 'for these', exact: true }).click();
  await page
    .getByRole('option', { name: 'steps' })
    .or(page.locator('.v-list-item', { hasText: /^steps$/ }))
    .last()
    .click();
  const picture = page.getByTestId('modulator-picture');
  await expect(picture).toBeVisible();
  const box = await restingBox(picture);
  await page.mouse.move(box.x + 5, box.y + box.height - 3);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width - 4, box.y + box.height - 3, { steps: 24 });
  await page.mouse.up();
  const { document } = await zonesNow(page, id);
  const [row] = Object.values(document.modulators);
  expect(row!.kind).toBe('steps');
  expect(row!.steps!.every((value) => value < -0.9)).toBe(true);
  const [moved] = await heardWhile(page, 'z', 200, 0.4);
  await page.getByRole('button', { name: 'Remove steps' }).click();
  await saved(page);
  const [plain] = await heardWhile(page, 'z', 200, 0.4);
  // Half the way of 24 dB down: a quarter of the level.
  expect(peakOf(moved!) / peakOf(plain!)).toBeLessThan(0.35);
  expect(peakOf(moved!) / peakOf(plain!)).toBeGreaterThan(0.15);
});

/** A sound of the shelf, however many there are: the list shows what is in view. */
async function listenOnShelf(page: Page, name: string): Promise<void> {
  await goTo(page, 'Shelf');
  const search = page.getByRole('textbox', { name: 'Search the shelf' });
  await search.fill(name);
  // Other tests have printed from it: by its whole name.
  const cell = page.getByRole('cell', { name, exact: true });
  await page.getByRole('row').filter({ has: cell }).first().click();
  await expect(page.getByTestId('listening').locator('b')).toHaveText(name);
  await search.fill('');
}

test('a kit grows out of sounds of the shelf, is kept there, and loaded into another project', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  const strip = page.getByTestId('listening');
  const canvas = page.getByTestId('listening-canvas');
  await listenOnShelf(page, 'swing-04');
  await expect(strip).toContainText('at hits');
  const hit = await pointIn(canvas, 0.05, 0.5);
  await page.mouse.click(hit.x, hit.y);
  await expect(page.getByTestId('picked-range')).toContainText('ms');
  await strip.getByLabel('Name of the hit').fill('tight one');
  await strip.getByRole('button', { name: 'new kit' }).click();
  await expect(page.getByText('of kit.')).toBeVisible();
  // Closer, to mark it to the millisecond, and back again.
  const pixels = () => canvas.evaluate((node) => (node.previousElementSibling as HTMLCanvasElement).toDataURL());
  const whole = await pixels();
  await page.mouse.move(hit.x, hit.y);
  await page.mouse.wheel(0, -900);
  await expect.poll(pixels).not.toBe(whole);
  await strip.getByRole('button', { name: 'whole' }).click();
  await expect.poll(pixels).toBe(whole);
  const next = await pointIn(canvas, 0.3, 0.5);
  await page.mouse.click(next.x, next.y);
  // The bass drum lies on the first of the letters: the third is two tones higher. However soon it is pressed, it is taken.
  await strip.getByRole('button', { name: 'on this key …' }).evaluate((button: HTMLButtonElement) => {
    button.click();
    const letter = { code: 'KeyC', key: 'c', bubbles: true };
    button.dispatchEvent(new KeyboardEvent('keydown', letter));
    button.dispatchEvent(new KeyboardEvent('keyup', letter));
  });
  await expect(page.getByText('It lies on E2 of kit.')).toBeVisible();
  const { placed, part } = await zonesNow(page, id);
  expect(part.name).toBe('kit');
  expect(placed.map(({ keys }) => keys!.low)).toEqual([36, 40]);
  expect(placed[0]!.at.slice.name).toBe('tight one');

  await goTo(page, 'Bench');
  await fromMenu(page, 'More for kit', 'Keep as a kit');
  await expect(page.getByText('The kit “kit” is on the shelf.')).toBeVisible();
  const other = await projectWith(page, NOTES);
  await goTo(page, 'Shelf');
  await page.getByRole('button', { name: /^kits/ }).click();
  await page.getByRole('button', { name: 'Load kit', exact: true }).first().click();
  await expect(page.getByTestId('part')).toHaveCount(2);
  const loaded = await zonesNow(page, other);
  expect(loaded.placed.map(({ keys }) => keys!.low)).toEqual([36, 40]);
  const [left] = await heardWhile(page, 'z', 100, 0.4);
  expect(peakOf(left!)).toBeGreaterThan(0.01);
});

test('dragged down from the source a slice lands on a key; a hit marked on the shelf lands on a part of the rail', async ({
  page,
}) => {
  const id = await projectWith(page, LOOP);
  const source = await pointIn(page.getByTestId('source-canvas'), 0.01, 0.5);
  // The last white key that is shown.
  const key = await pointIn(page.getByTestId('keys-canvas'), 0.98, 0.95);
  await page.mouse.move(source.x, source.y);
  await page.mouse.down();
  await page.mouse.move(source.x + 60, source.y + 90, { steps: 4 });
  await page.mouse.move(key.x, key.y, { steps: 6 });
  await expect(page.getByTestId('keys-facts')).toContainText('to B4');
  await page.mouse.up();
  const laid = await zonesNow(page, id);
  expect(laid.placed[0]!.keys).toEqual({ low: 71, high: 71, root: 71 });

  await listenOnShelf(page, 'swing-04');
  await expect(page.getByTestId('listening')).toContainText('at hits');
  const canvas = page.getByTestId('listening-canvas');
  const from = await pointIn(canvas, 0.4, 0.5);
  const to = await pointIn(canvas, 0.5, 0.5);
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move(to.x, to.y, { steps: 5 });
  await page.mouse.up();
  await expect(page.getByTestId('picked-range')).toContainText('ms');
  const inside = await pointIn(canvas, 0.46, 0.5);
  const part = await restingBox(page.getByTestId('part').first());
  await page.mouse.move(inside.x, inside.y);
  await page.mouse.down();
  await page.mouse.move(part.x + part.width / 2, part.y + part.height / 2, { steps: 8 });
  await page.mouse.up();
  await expect(page.getByText(/^It lies on/)).toBeVisible();
  const after = await zonesNow(page, id);
  expect(after.part.cutOrder).toHaveLength(2);
  expect(after.placed.length).toBe(laid.placed.length + 1);
});

test('the whole loop on keys goes round in time while its key is held', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await page.keyboard.press('F3');
  await page.getByTestId('lay-out').getByRole('button', { name: 'whole loop' }).click();
  const { document, placed } = await zonesNow(page, id);
  const whole = placed.find(({ zone }) => zone.plays.kind === 'loop')!;
  expect(whole.keys!.high - whole.keys!.low).toBe(12);
  await expect(page.getByRole('heading', { name: 'Whole loop' })).toBeVisible();
  const slices = slicesOfCut(document, whole.cut.id).length;
  expect(slices).toBeGreaterThan(8);
  // Its root, by the drawn keyboard.
  const table = page.getByTestId('key-table');
  const box = await restingBox(table);
  const range = await keysShown(document, placed);
  const x = box.x + 46 + ((whole.keys!.root - range.low + 0.5) / range.count) * (box.width - 46);
  const y = box.y + box.height - 16 - 20 - 6 - 74;
  const [left] = await listen(page, 6 * ENGINE_RATE, async () => {
    await page.mouse.move(x, y);
    await page.mouse.down();
    await engineFor(page, 1_500);
    await page.mouse.up();
  });
  const start = onset(left!);
  const level = (seconds: number) => rms(left!, start + seconds * ENGINE_RATE, start + (seconds + 0.3) * ENGINE_RATE);
  expect(level(0)).toBeGreaterThan(0.005);
  expect(level(1)).toBeGreaterThan(0.005);
  // The press may be let go late on a busy machine, but it is let go.
  expect(peakOf(left!.subarray(5 * ENGINE_RATE))).toBeLessThan(1e-3);
});

/** The octaves that the table shows at first: as its own arithmetic has them. */
async function keysShown(document: ProjectDocument, placed: ReturnType<typeof zonesOfPart>) {
  const { tableRange } = await import('../../src/web/canvas/key-table-layout.ts');
  const laid = placed.flatMap(({ keys }) => (keys ? [{ keys }] : []));
  const { lowNote, keyCount } = tableRange(laid, 48);
  expect(document.partOrder.length).toBeGreaterThan(0);
  return { low: lowNote, count: keyCount };
}

test('the demo keyboard plays a part of its own, its light shows it, and all sound off silences it', async ({
  page,
}) => {
  await projectWith(page, NOTES);
  await page.getByTestId('devices').click();
  const menu = page.getByTestId('devices-menu');
  const light = menu.locator('.light').last();
  const [left] = await listen(page, ENGINE_RATE, async () => {
    await menu.getByRole('button', { name: 'play', exact: true }).click();
    await expect(light).toHaveClass(/on/);
  });
  expect(peakOf(left!)).toBeGreaterThan(0.02);
  await menu.getByRole('button', { name: 'stop', exact: true }).click();
  await menu.getByRole('button', { name: 'all sound off' }).click();
  // The stop fade, and what is on its way to the engine.
  await engineFor(page, 500);
  const [silent] = await listen(page, ENGINE_RATE / 4, async () => {});
  expect(peakOf(silent!)).toBeLessThan(1e-3);
  await expect(light).not.toHaveClass(/on/);
});

test('a slice dragged onto a new part becomes a kit; a second loop lies on the free keys of a part, with its own tempo', async ({
  page,
}) => {
  const id = await projectWith(page, NOTES);
  const at = await pointIn(page.getByTestId('source-canvas'), 0.05, 0.45);
  await page.mouse.move(at.x, at.y);
  await page.mouse.down();
  await page.mouse.move(at.x - 60, at.y + 60, { steps: 4 });
  const target = await page.getByText('a new part', { exact: true }).boundingBox();
  await page.mouse.move(target!.x + 20, target!.y + 10, { steps: 6 });
  await page.mouse.up();
  await expect(page.getByTestId('part')).toHaveCount(2);
  const kit = await zonesNow(page, id);
  const [first, second] = kit.document.partOrder.map((partId) => kit.document.parts[partId]!);
  expect([first!.cutOrder.length, second!.zoneOrder.length]).toEqual([1, 1]);
  const brought = kit.document.zones[second!.zoneOrder[0]!]!;
  expect(brought.keys).toEqual({ low: 36, high: 36, root: 36 });
  // It sounds as the slice that it was brought from.
  const [heard] = await heardWhile(page, 'z', 200, 0.3);
  expect(peakOf(heard!)).toBeGreaterThan(0.05);
  await page.getByText('+ add a sound').click();
  await choose(page, menuField(page, 'Where it comes to'), `onto ${second!.name}`);
  await page.getByLabel('Sounds of the shelf').locator('.v-list-item').first().click();
  // It is read and cut first.
  await expect(page.getByText(`lies in ${second!.name}`)).toBeVisible();
  const after = (await zonesNow(page, id)).document;
  const { cutOrder } = after.parts[second!.id]!;
  expect(cutOrder).toHaveLength(2);
  expect(after.cuts[cutOrder[1]!]!.loop).not.toBeNull();
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('part')).toHaveCount(1);
});
