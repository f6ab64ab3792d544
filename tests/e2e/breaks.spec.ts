/** Breaks in a long recording of the shelf: found, heard, kept and cut, in the browser. */
import { writeFileSync } from 'node:fs';
import { expect } from '@playwright/test';
import { writeWav } from '#core/formats/wav-write.ts';
import { rehearsal } from '../support/recording.ts';
import { test } from './one-window.ts';
import { giveUpWhenSaid, loadDocument, pickFiles, saved } from './support.ts';

test('a rehearsal is looked through: its breaks are shown, heard, kept with where they come from, and cut as a project', async ({
  page,
}, info) => {
  const { samples, sampleRate, breaks } = rehearsal();
  const file = info.outputPath('attic evening.wav');
  writeFileSync(file, writeWav({ sampleRate, channels: [samples] }, { encoding: 'pcm16' }));
  await page.goto('/');
  await pickFiles(page, page.getByTestId('import'), file);
  const row = page.getByRole('row').filter({ hasText: 'attic evening' });
  await row.click();
  await page.getByTestId('find-breaks').click();
  await expect(page.getByTestId('breaks').getByRole('listitem')).toHaveCount(2);
  await expect(page.getByTestId('breaks')).toContainText(/\b98\.\d bpm/);
  await expect(page.getByTestId('breaks')).toContainText(/\b121\.\d bpm/);
  // Which of the two is the more seamless does not matter here: the one at 98.
  await page.getByTestId('breaks').getByRole('listitem').filter({ hasText: '98.' }).getByRole('button').click();
  await page.waitForFunction(() => window.yappa.engine.status.previewing);
  const { startFrame, endFrame } = breaks[0]!;
  await page.waitForFunction(
    ([from, to]) => {
      const at = window.yappa.engine.status.previewFrame;
      return at > from! - 500 && at < to! + 500;
    },
    [startFrame, endFrame],
  );
  await page.getByTestId('break-keep').click();
  const kept = page.getByRole('row').filter({ hasText: /attic evening, break \d/ });
  await expect(kept).toContainText('98.');
  await kept.click();
  await expect(page.getByTestId('origin')).toContainText(/from attic evening, at 0:\d\d\.\d\d/);
  // Back at the recording: what was found is still known, and one is cut.
  await row.filter({ hasNotText: ', break' }).click();
  await page.getByTestId('breaks').getByRole('listitem').filter({ hasText: '121.' }).click();
  await page.getByTestId('break-cut').click();
  await page.waitForURL(/\/bench\//);
  await expect(page.getByTestId('slice-count')).toHaveText(/\d+ slices/);
  await saved(page);
  const document = await loadDocument(page, page.url().split('/').at(-1)!);
  const [cut] = Object.values(document.cuts);
  expect(cut!.loop!.endFrame - cut!.loop!.startFrame).toBeGreaterThan(60_000);
});

test('a search is given up, and one that finds nothing says what to allow', async ({ page }, info) => {
  const { samples, sampleRate } = rehearsal();
  const talk = samples.subarray(0, 7 * sampleRate);
  const long = new Float32Array(20 * talk.length);
  for (let n = 0; n < 20; n++) long.set(talk, n * talk.length);
  const file = info.outputPath('long talk.wav');
  writeFileSync(file, writeWav({ sampleRate, channels: [long] }, { encoding: 'pcm16' }));
  await page.goto('/');
  await pickFiles(page, page.getByTestId('import'), file);
  await page.getByRole('row').filter({ hasText: 'long talk' }).click();
  await expect(page.getByTestId('find-breaks')).toBeVisible();
  const givenUp = giveUpWhenSaid(page, 'Looking through long talk');
  await page.getByTestId('find-breaks').click();
  await givenUp;
  await expect(page.getByTestId('work')).toHaveCount(0);
  await expect(page.getByTestId('breaks')).toHaveCount(0);
  await page.getByTestId('find-breaks').click();
  await expect(page.getByText('None that fits')).toBeVisible();
  await expect(page.getByTestId('breaks')).toContainText('No break was found');
});
