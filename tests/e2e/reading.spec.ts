import { expect, type Page } from '@playwright/test';
import { test } from './one-window.ts';
import { projectWith, saved } from './support.ts';

/** The least contrast of text: WCAG 2.2, success criterion 1.4.3 (AA). */
const MIN_CONTRAST = 4.5;

interface Read {
  words: string;
  isPressed: boolean;
  contrast: number;
}

/** Contrast of a button's words with what is painted behind them, by WCAG's relative luminance. */
function readUnderMouse(page: Page, index: number): Promise<Read> {
  return page.evaluate((nth) => {
    type Colour = [red: number, green: number, blue: number, alpha: number];
    const parse = (css: string): Colour => {
      const numbers = (css.match(/[\d.]+/g) ?? []).map(Number);
      // What was mixed is told in shares of 1: "color(srgb 0.94 0.92 0.87)".
      const scale = css.startsWith('color(') ? 255 : 1;
      const [red = 0, green = 0, blue = 0] = numbers.map((value) => value * scale);
      const alpha = numbers[3] ?? 1;
      return [red, green, blue, alpha];
    };
    const over = (top: Colour, below: Colour): Colour => {
      const mix = (channel: 0 | 1 | 2) => top[channel] * top[3] + below[channel] * (1 - top[3]);
      return [mix(0), mix(1), mix(2), 1];
    };
    const luminance = (colour: Colour) => {
      const [red, green, blue] = colour.map((value) => {
        const share = value / 255;
        return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
      }) as [number, number, number, number];
      return 0.2126 * red + 0.7152 * green + 0.0722 * blue;
    };
    const button = [...document.querySelectorAll<HTMLElement>('button:enabled')][nth]!;
    const layers: Colour[] = [];
    for (let element: Element | null = button; element; element = element.parentElement)
      layers.push(parse(getComputedStyle(element).backgroundColor));
    const behind = layers.reduceRight((below, layer) => over(layer, below), [255, 255, 255, 1] as Colour);
    const words = over(parse(getComputedStyle(button).color), behind);
    const [light, dark] = [luminance(words), luminance(behind)].sort((a, b) => b - a) as [number, number];
    return {
      words: button.innerText.trim(),
      isPressed: button.getAttribute('aria-pressed') === 'true',
      contrast: (light + 0.05) / (dark + 0.05),
    };
  }, index);
}

test('what lies under the mouse can be read, pressed or not, by day and by night', async ({ page }) => {
  await projectWith(page, 'tests/fixtures/loops/fast-04.flac');
  for (const theme of ['light', 'dark']) {
    if (theme === 'dark') await page.getByRole('button', { name: 'night' }).click();
    const buttons = page.locator('button:enabled');
    const reads: Read[] = [];
    for (let index = 0; index < (await buttons.count()); index++) {
      if (!(await buttons.nth(index).isVisible()) || !(await buttons.nth(index).innerText())) continue;
      await buttons.nth(index).hover();
      reads.push(await readUnderMouse(page, index));
    }
    expect(reads.filter(({ isPressed }) => isPressed).length).toBeGreaterThan(1);
    const unread = reads.filter(({ contrast }) => contrast < MIN_CONTRAST);
    expect(unread.map(({ words, contrast }) => `${words}, ${theme}: ${contrast.toFixed(1)}`)).toEqual([]);
  }
});

test('in a narrow window what is needed while playing is at hand, and nothing runs over the edge', async ({ page }) => {
  await projectWith(page, 'tests/fixtures/loops/fast-04.flac');
  const foot = page.getByRole('contentinfo', { name: 'Transport' });
  for (const width of [1280, 1161, 1099, 1000, 985, 940, 911, 900, 860, 800, 780]) {
    await page.setViewportSize({ width, height: 700 });
    for (const name of ['Play', 'loop', 'tap', 'click', /undo/i, /redo/i])
      await expect(foot.getByRole('button', { name, exact: true })).toBeInViewport({ ratio: 1 });
    const { over, steps } = await foot.evaluate((bar) => ({
      over: bar.scrollWidth - bar.clientWidth,
      steps: [...bar.querySelectorAll<HTMLElement>('.steps > button')].map((button) => button.offsetWidth),
    }));
    expect(over, `over in ${width}`).toBe(0);
    expect(Math.min(...steps), `undo and redo in ${width}`).toBeGreaterThan(24);
    for (const place of ['Bench', 'Shape', 'Running order', 'Take away', 'Shelf'])
      await expect(page.getByRole('link', { name: place, exact: true })).toBeInViewport({ ratio: 1 });
  }
  // The chosen hand comes into sight in its row, and the bench begins at its top all the same.
  await page.getByTestId('deal').click();
  await saved(page);
  await page.reload();
  await expect(page.getByRole('button', { name: 'Hand 1', exact: true })).toBeAttached();
  await expect(page.getByRole('heading', { name: 'Source' })).toBeInViewport({ ratio: 1 });
});
