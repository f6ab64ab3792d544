// Takes the pictures in docs/screenshots from a fresh demo database. Look at each before committing it.
import { spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { ensureBuild, ensureChromium, say, step } from './lib/steps.mjs';

const PORT = '4793';
const FOLDER = 'data/pictures';
const OUT = 'docs/screenshots';

mkdirSync(OUT, { recursive: true });
mkdirSync(FOLDER, { recursive: true });
const executablePath = await ensureChromium();
await ensureBuild();
await step('Making a demo database', 'npx', ['tsx', 'demo/make-demo.ts', `${FOLDER}/demo.sqlite`]);
const server = spawn(process.execPath, ['dist/server/main.js'], {
  stdio: 'ignore',
  env: { ...process.env, PORT, YAPPA_DATA: FOLDER, YAPPA_DB: 'demo.sqlite' },
});
const { chromium } = await import('@playwright/test');
const browser = await chromium.launch({
  executablePath,
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--disable-background-networking',
    '--autoplay-policy=no-user-gesture-required',
  ],
});
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
const shot = async (name) => {
  await page.screenshot({ path: `${OUT}/${name}.png` });
  say(`  ${OUT}/${name}.png`);
};

try {
  await page.waitForTimeout(800);
  await page.goto(`http://localhost:${PORT}/`);
  await page.getByText('Deckhand break').waitFor();
  await page.waitForTimeout(400);
  await shot('shelf');
  await page.getByLabel('Open An empty deck').click();
  await page.getByText('Drop a loop here.').waitFor();
  await page.waitForTimeout(300);
  await shot('bench-empty');
  await page.goto(`http://localhost:${PORT}/`);
  await page.getByLabel('Open The Odrun crossing').click();
  await page.getByTestId('slice-count').waitFor();
  await page.getByTestId('play').click();
  await page.waitForTimeout(1900);
  await shot('bench-dealt');
  await page.getByTestId('play').click();
  await page.getByRole('tab', { name: 'home' }).click();
  const canvas = page.getByTestId('source-canvas');
  const box = await canvas.boundingBox();
  await page.mouse.click(box.x + box.width * 0.145, box.y + box.height * 0.4);
  await page.waitForTimeout(700);
  await shot('bench-break');
  await page.getByRole('button', { name: 'night' }).click();
  await page.waitForTimeout(400);
  await shot('bench-night');
  await page.getByRole('button', { name: 'day' }).click();
  await page.getByRole('tab', { name: 'harbour lights' }).click();
  for (const act of ['deal', 'deal']) {
    await page.getByTestId(act).click();
    await page.waitForTimeout(1100);
  }
  await page.getByRole('button', { name: 'Versions' }).click();
  await page.getByTestId('versions').waitFor();
  await page.waitForTimeout(400);
  await shot('versions');
} finally {
  await browser.close();
  server.kill();
}
