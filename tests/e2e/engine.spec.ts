/** Listens to the live engine and compares it with what should sound. */
import { expect } from '@playwright/test';
import type { AudioData } from '#core/dsp/audio.ts';
import { compilePlan } from '#core/engine/plan/compile.ts';
import { renderAll } from '#core/engine/plan/render-all.ts';
import { Renderer } from '#core/engine/renderer.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { loopTempoBpm } from '#core/units/time.ts';
import { firstDifference } from '../support/signals.ts';
import { tempoOf } from '../support/edits.ts';
import { test } from './one-window.ts';
import {
  ENGINE_RATE,
  expectedSound,
  firstPart,
  listen,
  loadAssets,
  loadDocument,
  peakOf,
  playedPattern,
  projectWith,
  saved,
} from './support.ts';

const LOOP = 'tests/fixtures/loops/swing-04.flac';

test('the worklet plays sample for sample what the core renders, and every slice starts on its frame', async ({
  page,
}) => {
  const id = await projectWith(page, LOOP);
  const { document: first, cut, loop, events } = await playedPattern(page, id);
  const assets = await loadAssets(page, first);
  const { sampleRate } = first.sources[cut.sourceId]!;
  const ownTempo = loopTempoBpm(loop.bars, loop.beatsPerBar, loop.endFrame - loop.startFrame, sampleRate);

  for (const factor of [0.7, 1, 1.4]) {
    await page.getByRole('spinbutton', { name: 'tempo', exact: true }).focus();
    await page.keyboard.type((ownTempo * factor).toFixed(2));
    await page.keyboard.press('Enter');
    await saved(page);
    const document = await loadDocument(page, id);
    expect(tempoOf(document)).toBeCloseTo(ownTempo * factor, 1);
    const frames = 2 * ENGINE_RATE;
    const heard = await listen(page, frames);
    const expected = expectedSound(document, assets, frames);
    expect(peakOf(heard[0]!)).toBeGreaterThan(0.1);
    expect(firstDifference(heard[0]!, expected[0]!)).toBe(-1);
    expect(firstDifference(heard[1]!, expected[1]!)).toBe(-1);
    await page.getByTestId('play').click();

    // Independently of the renderer: where a slice begins, its own samples are heard (past the fades around a start).
    const source = assets.get(cut.sourceId)!.channels[0]!;
    let compared = 0;
    for (const event of events) {
      const start = Math.round((event.positionTicks / 960) * (60 / tempoOf(document)) * ENGINE_RATE);
      const { startFrame } = cut.slices[event.sliceId!]!;
      if (start + 900 > frames) continue;
      for (let i = 300; i < 600; i += 37) expect(heard[0]![start + i]).toBe(source[startFrame + i]);
      compared++;
    }
    expect(compared).toBeGreaterThan(5);
  }
});

test('keys play their slices at once, and a new slice cuts the last one off without a click', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  const { document, cut, placed } = await firstPart(page, id);
  const assets = await loadAssets(page, document);
  const source = assets.get(cut.sourceId)!.channels[0]!;
  const [first] = placed;
  const heard = await listen(page, ENGINE_RATE, () => page.keyboard.press('z', { delay: 60 }));
  const begins = heard[0]!.findIndex((sample) => sample !== 0);
  const sourceBegins = source.findIndex((sample, i) => i >= first!.startFrame && sample !== 0);
  // Letters strike with 114 of 127, at the square law.
  for (let i = 50; i < 1500; i += 41) {
    expect(heard[0]![begins + i]!).toBeCloseTo(source[sourceBegins + i]! * (114 / 127) ** 2, 5);
  }
  const both = await listen(page, ENGINE_RATE, async () => {
    await page.keyboard.press('z', { delay: 20 });
    await page.keyboard.press('x', { delay: 20 });
  });
  // The first slice alone, up to where the second one was pressed; then what the core plays for both.
  const alone = keysSound(document, assets, [{ key: 48, frame: 0 }]);
  const lead = both[0]!.findIndex((sample) => sample !== 0) - alone.findIndex((sample) => sample !== 0);
  const heardFrom = both[0]!.subarray(lead, ENGINE_RATE - 10_000);
  const pressed = firstDifference(heardFrom, alone.subarray(0, heardFrom.length));
  expect(pressed).toBeGreaterThan(500);
  const matches = [0, 1, 2].map((before) => {
    const notes = [
      { key: 48, frame: 0 },
      // The lower row of letters is that of the white keys.
      { key: 50, frame: pressed - before },
    ];
    return firstDifference(heardFrom, keysSound(document, assets, notes).subarray(0, heardFrom.length));
  });
  expect(matches).toContain(-1);
});

/** What the left side plays for keys that are pressed at the given frames. */
function keysSound(
  document: ProjectDocument,
  assets: ReadonlyMap<string, AudioData>,
  notes: readonly { key: number; frame: number }[],
): Float32Array {
  const renderer = new Renderer(ENGINE_RATE);
  renderer.setPlan(compilePlan(document, ENGINE_RATE, { assets, renderings: renderAll(document, assets) }));
  notes.forEach(({ key, frame }, noteId) => {
    renderer.addNote({ kind: 'on', noteId, partId: document.partOrder[0]!, key, velocity: 114 / 127, frame });
  });
  const left = new Float32Array(ENGINE_RATE);
  renderer.process(left, new Float32Array(ENGINE_RATE), ENGINE_RATE);
  return left;
}

test('a click can be heard on every beat', async ({ page }) => {
  const id = await projectWith(page, LOOP);
  await page.getByRole('button', { name: 'mute' }).click();
  await page.getByRole('button', { name: 'click', exact: true }).click();
  await saved(page);
  const tempoBpm = tempoOf(await loadDocument(page, id));
  const heard = await listen(page, 2 * ENGINE_RATE);
  for (let beat = 0; beat < 3; beat++) {
    const frame = Math.round(beat * (60 / tempoBpm) * ENGINE_RATE);
    expect(peakOf(heard[0]!.subarray(frame, frame + 400))).toBeGreaterThan(0.1);
    expect(peakOf(heard[0]!.subarray(frame + 3000, frame + 8000))).toBe(0);
  }
});

test('the song ends by itself when it does not loop', async ({ page }) => {
  await projectWith(page, LOOP);
  await page.getByRole('button', { name: 'loop', exact: true }).click();
  await page.getByTestId('play').click();
  await expect(page.getByTestId('play')).toHaveAttribute('aria-pressed', 'true');
  await expect(page.getByTestId('play')).toHaveAttribute('aria-pressed', 'false');
});
