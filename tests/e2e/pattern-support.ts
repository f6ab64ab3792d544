/** What the tests of patterns have in common. */
import { expect, type Page } from '@playwright/test';
import { zonesOfPart } from '#core/queries/zones.ts';
import {
  ENGINE_RATE,
  expectedSound,
  listen,
  loadAssets,
  loadDocument,
  peakOf,
  playedPattern,
  restingBox,
  saved,
} from './support.ts';

/** Middle of a strip on the ribbon, by its place in the pattern. */
export async function stripPoint(page: Page, id: string, place: number) {
  const { events, pattern, loop } = await playedPattern(page, id);
  const lengthTicks = pattern?.lengthTicks ?? loop.bars * loop.beatsPerBar * 960;
  const box = await restingBox(page.getByTestId('pattern-canvas'));
  const event = events[place]!;
  const middle = (event.positionTicks + Math.min(event.lengthTicks, 120) / 2) / lengthTicks;
  return { x: box.x + box.width * middle, y: box.y + box.height * 0.8 };
}

/** The pattern that is played, and the zones of its part in the order of the loop. */
export async function rowsOf(page: Page, id: string) {
  const { document, part, pattern } = await playedPattern(page, id);
  const zones = zonesOfPart(document, document.parts[part.id]!).map(({ zone }) => zone.id);
  return { pattern: pattern!, zones };
}

/** Does the engine play just what the saved document says? */
export async function expectHeardAsSaved(page: Page, id: string, seconds = 1.2): Promise<void> {
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
