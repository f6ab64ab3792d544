/** What the browser tests have in common: opening things, listening to the engine, and what should have sounded. */
import { readFileSync } from 'node:fs';
import { basename } from 'node:path';
import { expect, type BrowserContext, type Locator, type Page } from '@playwright/test';
import type { AudioData } from '#core/dsp/audio.ts';
import type { EngineStatus } from '#core/engine/messages.ts';
import { compilePlan } from '#core/engine/plan/compile.ts';
import { renderAll } from '#core/engine/plan/render-all.ts';
import { Renderer } from '#core/engine/renderer.ts';
import { readWav } from '#core/formats/wav-read.ts';
import type { Loop, ProjectDocument } from '#core/document/schema.ts';
import { eventsOf } from '#core/queries/patterns.ts';
import { slicesOfCut } from '#core/queries/slices.ts';

export const ENGINE_RATE = 44100;

interface EngineInPage {
  capture(frames: number, withPlay: boolean): Promise<{ left: Float32Array; right: Float32Array }>;
  resume(): Promise<void>;
  timeAt(milliseconds: number): number | null;
  onStatus(listener: (status: EngineInPage['status']) => void): () => void;
  status: Pick<EngineStatus, 'sounding' | 'playing' | 'peaks' | 'positionTicks' | 'previewing' | 'previewFrame'>;
}
declare global {
  interface Window {
    yappa: { engine: EngineInPage; callsOnTheWay(): number };
  }
}

/** Fails the test for anything the page complains of. */
export function watchForTrouble(page: Page): string[] {
  const trouble: string[] = [];
  page.on('pageerror', (error) => trouble.push(error.message));
  page.on('console', (message) => {
    // A refused request is the browser's own line; the tests provoke some.
    if (message.type() === 'error' && !message.text().startsWith('Failed to load resource'))
      trouble.push(message.text());
  });
  return trouble;
}

export async function newProject(page: Page): Promise<string> {
  await page.goto('/');
  await page.getByTestId('new-project').click();
  await expect(page.getByText('Drop a loop here.')).toBeVisible();
  return page.url().split('/').at(-1)!;
}

/** The projects that were made of a file, never touched again: further ones are copies. */
const untouched = new Map<string, string>();

/** A copy of a project, of the same name. */
async function copyOf(page: Page, id: string): Promise<string> {
  const post = async (path: string, data: object) =>
    (await (await page.request.post(`/api/projects/${path}`, { data })).json()) as { id: string; name: string };
  const copy = await post(`${id}/duplicate`, {});
  const name = copy.name.replace(' (copy)', '');
  const changes = [{ path: ['name'], before: copy.name, after: name }];
  await post(`${copy.id}/saves`, { saveId: crypto.randomUUID(), baseRevision: 1, label: 'rename', changes });
  return copy.id;
}

/**
 * A new project with one fixture loop as its part. The first of a file is made as a user makes it, the others are
 * copies of that: making them by hand took half of the time of all the tests.
 */
export async function projectWith(page: Page, file: string): Promise<string> {
  const made = untouched.get(file);
  if (made) {
    const id = await copyOf(page, made);
    await page.goto(`/bench/${id}`);
    await expect(page.getByTestId('slice-count')).toBeVisible();
    // What answers the keys comes with the transport.
    await expect(page.getByTestId('play')).toBeVisible();
    await saved(page);
    return id;
  }
  const id = await newProject(page);
  await pickFiles(page, page.getByTestId('first-files'), file);
  await expect(page.getByTestId('slice-count')).toBeVisible();
  await saved(page);
  untouched.set(file, await copyOf(page, id));
  return id;
}

/** Presses a button that asks for files, and gives it these. */
export async function pickFiles(page: Page, button: Locator, files: string | string[]): Promise<void> {
  const asked = page.waitForEvent('filechooser');
  await button.click();
  await (await asked).setFiles(files);
}

/** A field with a menu of choices, by its name. */
export function menuField(page: Page, name: string): Locator {
  return page.locator('.v-select').filter({ has: page.getByLabel(name, { exact: true }) });
}

/** Chooses one of the choices of a field, whether they stand side by side or behind a menu. */
export async function choose(page: Page, field: Locator, words: string): Promise<void> {
  if ((await field.getAttribute('role')) === 'group') {
    await field.getByRole('button', { name: words, exact: true }).click();
    return;
  }
  await field.click();
  await page.getByRole('option', { name: words, exact: true }).click();
  await expect(page.getByRole('listbox')).toHaveCount(0);
}

/** One of the choices that stand side by side is the one. */
export async function expectChosen(field: Locator, words: string): Promise<void> {
  await expect(field.getByRole('button', { name: words, exact: true })).toHaveClass(/v-btn--active/);
}

/** Opens a menu and takes something from it. */
export async function fromMenu(page: Page, menu: string | RegExp, item: string): Promise<void> {
  await page.getByRole('button', { name: menu }).first().click();
  await page.getByRole('listbox').or(page.locator('.v-menu .v-list')).getByText(item, { exact: true }).click();
}

/**
 * Gives work up as soon as its line says so much, from within the page: work is fast. Called before it is begun.
 * @returns how far it had come, in percent
 */
export function giveUpWhenSaid(page: Page, words: string): Promise<number> {
  return page.evaluate(
    (wanted) =>
      new Promise<number>((resolve) => {
        const look = () => {
          const work = document.querySelector('[data-testid="work"]');
          if (!work?.textContent.includes(wanted)) return void setTimeout(look, 5);
          const share = Number(work.querySelector('[role="progressbar"]')?.getAttribute('aria-valuenow'));
          work.querySelector<HTMLElement>('[aria-label^="Cancel"]')!.click();
          resolve(share);
        };
        look();
      }),
    words,
  );
}

/** Unfolds a card of the details that is folded at first. */
export async function unfold(page: Page, title: string): Promise<void> {
  const card = page.locator('.v-expansion-panel-title').filter({ hasText: new RegExp(`^${title}`) });
  if ((await card.getAttribute('aria-expanded')) !== 'true') await card.click();
}

/** Where a thing stands once it is in view and has come to rest: cards are built one after another, and unfold. */
export async function restingBox(thing: Locator): Promise<{ x: number; y: number; width: number; height: number }> {
  let before = await thing.boundingBox();
  let restedFor = 0;
  await expect
    .poll(
      async () => {
        await thing.scrollIntoViewIfNeeded();
        const now = await thing.boundingBox();
        const rests = now !== null && before !== null && now.y === before.y && now.x === before.x;
        before = now;
        // Twice: between two cards that are built there is a pause, too.
        restedFor = rests ? restedFor + 1 : 0;
        return restedFor >= 2;
      },
      { intervals: [150] },
    )
    .toBe(true);
  return before!;
}

/** Types a number into a field. */
export async function type(page: Page, name: string, value: string): Promise<void> {
  await page.getByRole('spinbutton', { name, exact: true }).first().focus();
  await page.keyboard.type(value);
  await page.keyboard.press('Enter');
}

/** To another place of the project. */
export async function goTo(page: Page, place: string): Promise<void> {
  await page.getByRole('link', { name: place, exact: true }).click();
  await expect(page.getByRole('main', { name: place })).toBeVisible();
}

export async function renameProject(page: Page, name: string): Promise<void> {
  await fromMenu(page, 'The project', 'Rename');
  await page.getByLabel('Name of the project').fill(name);
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('project-name')).toHaveText(name);
}

/** Another window opens the project, deals its pattern, and saves that. */
export async function changeElsewhere(context: BrowserContext, id: string): Promise<void> {
  const other = await context.newPage();
  await other.goto(`/bench/${id}`);
  await expect(other.getByTestId('slice-count')).toBeVisible();
  await other.getByTestId('deal').click();
  await saved(other);
}

/** Drops files on the page, as from a folder. */
export async function dropFiles(page: Page, files: string[]): Promise<void> {
  const data = files.map((file) => ({ name: basename(file), base64: readFileSync(file).toString('base64') }));
  const transfer = await page.evaluateHandle((list) => {
    const dataTransfer = new DataTransfer();
    for (const { name, base64 } of list) {
      const bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
      dataTransfer.items.add(new File([bytes], name));
    }
    return dataTransfer;
  }, data);
  await page.dispatchEvent('body', 'dragover', { dataTransfer: transfer });
  await page.dispatchEvent('body', 'drop', { dataTransfer: transfer });
}

/** Nothing waits to be saved, nor for the answer of a worker that would change something. */
export async function saved(page: Page): Promise<void> {
  const state = page.getByTestId('save-state');
  await expect(state).toHaveText('saved');
  const isQuiet = () =>
    state.evaluate(async (element) => {
      // What was just pressed is dealt with by the next frames; pages behind others draw none.
      const nextFrame = () =>
        new Promise((resolve) => {
          setTimeout(resolve, 100);
          requestAnimationFrame(() => setTimeout(resolve));
        });
      for (let frame = 0; frame < 2; frame++) {
        if (window.yappa.callsOnTheWay() > 0 || element.textContent.trim() !== 'saved') return false;
        await nextFrame();
      }
      return true;
    });
  await expect.poll(isQuiet, { intervals: [20, 50, 100] }).toBe(true);
}

export async function loadDocument(page: Page, id: string): Promise<ProjectDocument> {
  await saved(page);
  const response = await page.request.get(`/api/projects/${id}`);
  return ((await response.json()) as { document: ProjectDocument }).document;
}

/** Resolves when a sound is heard for itself, however short. Called before it is asked for: it may be over in no time. */
export function previewHeard(page: Page): Promise<void> {
  return page.evaluate(
    () =>
      new Promise<void>((resolve) => {
        const stop = window.yappa.engine.onStatus(({ previewing }) => {
          if (!previewing) return;
          stop();
          resolve();
        });
      }),
  );
}

/** The first part with its first cut, as they are saved. */
export async function firstPart(page: Page, id: string) {
  const document = await loadDocument(page, id);
  const part = document.parts[document.partOrder[0]!]!;
  const cut = document.cuts[part.cutOrder[0]!]!;
  const loop = cut.loop as Loop;
  return { document, part, cut, loop, placed: slicesOfCut(document, cut.id) };
}

/** The pattern that the first part plays; each event with the slice it sounds. */
export async function playedPattern(page: Page, id: string) {
  const found = await firstPart(page, id);
  const { document, part } = found;
  const events = eventsOf(document, part.activePatternId).map((event) => ({
    ...event,
    sliceId: document.zones[event.zoneId]!.plays.sliceId,
  }));
  return { ...found, pattern: document.patterns[part.activePatternId]!, events };
}

export async function loadAssets(page: Page, document: ProjectDocument): Promise<Map<string, AudioData>> {
  const assets = new Map<string, AudioData>();
  for (const id of Object.keys(document.sources)) {
    const body = await (await page.request.get(`/api/sources/${id}/audio`)).body();
    assets.set(id, readWav(body).audio);
  }
  return assets;
}

/** What the engine should play from the song's start. */
export function expectedSound(
  document: ProjectDocument,
  assets: ReadonlyMap<string, AudioData>,
  frames: number,
  { followsOrder = false, fromTicks = 0 } = {},
): Float32Array[] {
  const renderer = new Renderer(ENGINE_RATE);
  renderer.setPlan(compilePlan(document, ENGINE_RATE, { assets, renderings: renderAll(document, assets) }));
  renderer.play(fromTicks, Infinity, { followsOrder, returnTicks: null });
  const out = [new Float32Array(frames), new Float32Array(frames)];
  renderer.process(out[0]!, out[1]!, frames);
  return out;
}

/**
 * Presses play (or does what is given) and records what the engine plays from then on.
 * @param meanwhile done while it plays
 */
export async function listen(
  page: Page,
  frames: number,
  action?: () => Promise<void>,
  meanwhile?: () => Promise<void>,
): Promise<Float32Array[]> {
  // What is stretched or rung on is made first: until then another rendering plays in its place.
  await expect(page.getByTestId('rendering')).toHaveCount(0);
  await page.evaluate(() => window.yappa.engine.resume());
  const withPlay = action === undefined;
  await page.evaluate(
    ([count, fromPlay]) => {
      (window as unknown as { heard: Promise<unknown> }).heard = window.yappa.engine.capture(
        count as number,
        fromPlay as boolean,
      );
    },
    [frames, withPlay],
  );
  await (action ? action() : page.getByTestId('play').click());
  await meanwhile?.();
  const base64 = await page.evaluate(async () => {
    const heard = (await (window as unknown as { heard: Promise<{ left: Float32Array; right: Float32Array }> })
      .heard) as {
      left: Float32Array;
      right: Float32Array;
    };
    const encode = (samples: Float32Array) => {
      const bytes = new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength);
      let text = '';
      for (let i = 0; i < bytes.length; i += 0x8000) text += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
      return btoa(text);
    };
    return [encode(heard.left), encode(heard.right)];
  });
  return base64.map((text) => {
    const bytes = Uint8Array.from(Buffer.from(text, 'base64'));
    return new Float32Array(bytes.buffer);
  });
}

/**
 * What is heard of the song from its start, which is what the core plays of what was saved.
 * @param frames as long as is listened
 */
export async function heardAsSaved(page: Page, id: string, frames = ENGINE_RATE): Promise<Float32Array> {
  await saved(page);
  const document = await loadDocument(page, id);
  // What rang from before has died away.
  await expect.poll(() => page.evaluate(() => Math.max(...window.yappa.engine.status.peaks))).toBeLessThan(1e-6);
  const [left] = await listen(page, frames);
  await page.getByTestId('play').click();
  const [wanted] = expectedSound(document, await loadAssets(page, document), frames);
  expect(peakOf(left!.map((sample, i) => sample - wanted![i]!))).toBeLessThan(1e-4);
  return left!;
}

/** Waits until the song, in bars of 4/4, is early in one: what is asked for then waits long enough to be seen. */
export async function earlyInBar(page: Page): Promise<void> {
  await page.waitForFunction(
    () => {
      const { playing, positionTicks } = window.yappa.engine.status;
      return playing && positionTicks > 0 && positionTicks % 3840 < 700;
    },
    undefined,
    { polling: 5 },
  );
}

/**
 * Waits until the engine has played on for so long: on a busy machine its time goes slower than the clock on the wall,
 * and before the first sound it does not go at all.
 */
export async function engineFor(page: Page, ms: number): Promise<void> {
  await page.evaluate(async (forMs) => {
    const { engine } = window.yappa;
    const soon = () => new Promise((resolve) => setTimeout(resolve, 5));
    let now = engine.timeAt(performance.now());
    for (; now === null; now = engine.timeAt(performance.now())) await soon();
    const until = now + forMs / 1000;
    while ((engine.timeAt(performance.now()) ?? now) < until) await soon();
  }, ms);
}

export function peakOf(samples: Float32Array): number {
  return samples.reduce((peak, sample) => Math.max(peak, Math.abs(sample)), 0);
}

/** A point of a canvas, by shares of its width and height. */
export async function pointIn(canvas: Locator, x: number, y: number): Promise<{ x: number; y: number }> {
  const box = await restingBox(canvas);
  return { x: box.x + box.width * x, y: box.y + box.height * y };
}
