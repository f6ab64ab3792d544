/** How long the page was busy in one go, out of what the browser recorded of itself. */
import { test, type Page } from '@playwright/test';

interface TraceEvent {
  name: string;
  ph: string;
  pid: number;
  tid: number;
  /** Processor time, microseconds: what others took of a crowded machine does not count. */
  tdur?: number;
  args: { name?: string };
}

/** @param trace of the category `toplevel`, as `Browser.stopTracing` gives it */
export function longestTaskMs(trace: Buffer): number {
  const { traceEvents } = JSON.parse(trace.toString()) as { traceEvents: TraceEvent[] };
  const threads = new Set(
    traceEvents
      .filter(({ name, args }) => name === 'thread_name' && args.name === 'CrRendererMain')
      .map(({ pid, tid }) => `${pid} ${tid}`),
  );
  const tasks = traceEvents.filter(({ ph, pid, tid }) => ph === 'X' && threads.has(`${pid} ${tid}`));
  return tasks.reduce((longest, { tdur = 0 }) => Math.max(longest, tdur / 1000), 0);
}

/** How much slower than a quiet machine of the kind that the numbers are for this one is just now, 1 at least. */
export async function slowness(page: Page): Promise<number> {
  const QUIET_MS = 40;
  const spentMs = await page.evaluate(() => {
    const start = performance.now();
    let sum = 0;
    for (let i = 0; i < 3e7; i++) sum += i * 1.0001;
    return sum > 0 ? performance.now() - start : 0;
  });
  return Math.max(1, spentMs / QUIET_MS);
}

/** What the page was busy for in one go at most meanwhile, as on a quiet machine, in ms. */
export async function longestTaskOf(page: Page, what: string, meanwhile: () => Promise<void>): Promise<number> {
  const browser = page.context().browser()!;
  const before = await slowness(page);
  await browser.startTracing(page, { categories: ['toplevel'] });
  await meanwhile();
  const longestMs = longestTaskMs(await browser.stopTracing()) / Math.max(before, await slowness(page));
  test.info().annotations.push({ type: `longest task: ${what}`, description: `${longestMs.toFixed(0)} ms` });
  return longestMs;
}
