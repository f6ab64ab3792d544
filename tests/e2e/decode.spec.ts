/** Our decoders against the browser's own, which share no code with them. */
import { readFileSync } from 'node:fs';
import { expect } from '@playwright/test';
import { testAnew as test } from './one-window.ts';
import { decodeSoundFile } from '#core/formats/decode.ts';

const exact = ['tone.wav', 'tone-8.wav', 'tone-24.wav', 'tone-f32.wav', 'tone.flac'];
const lossy = ['tone.mp3', 'tone.ogg'];

test('sound files are decoded as the browser decodes them', async ({ page }) => {
  await page.goto('/');
  for (const name of [...exact, ...lossy]) {
    const bytes = readFileSync(`tests/fixtures/formats/${name}`);
    const ours = await decodeSoundFile(bytes);
    const theirs = await page.evaluate(async (base64) => {
      const data = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
      const context = new OfflineAudioContext(1, 1, 44100);
      const buffer = await context.decodeAudioData(data.buffer);
      return [buffer.getChannelData(0), buffer.getChannelData(1)].map((channel) => Array.from(channel));
    }, bytes.toString('base64'));
    for (const channel of [0, 1]) {
      const mine = ours.audio.channels[channel]!;
      if (exact.includes(name)) {
        // The browser divides positive 8-bit samples by 127.
        expect(theirs[channel], name).toHaveLength(mine.length);
        for (let i = 0; i < mine.length; i += 101)
          expect(mine[i]).toBeCloseTo(theirs[channel]![i]!, name === 'tone-8.wav' ? 1.5 : 4);
      } else {
        // Decoders differ in how much of the codec's delay they cut: align before comparing.
        const from = 6000;
        let best = Infinity;
        for (let lag = -2400; lag <= 2400; lag++) {
          let error = 0;
          for (let i = 0; i < 400; i++) error += (mine[from + i]! - (theirs[channel]![from + i + lag] ?? 0)) ** 2;
          best = Math.min(best, error / 400);
        }
        expect(Math.sqrt(best), name).toBeLessThan(0.002);
      }
    }
  }
});
