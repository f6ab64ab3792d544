// Takes the pictures in docs/screenshots from a fresh demo database. Look at each before committing it.
import { spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
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

/** Goes to a part of the page and lets it settle. */
const settle = () => page.waitForTimeout(900);
const go = async (name) => {
  await page.getByRole('link', { name, exact: true }).click();
  await page.mouse.move(640, 22);
  await settle();
};
const grown = async (key, name) => {
  await page.keyboard.press(key);
  await page.mouse.move(100, 530);
  await settle();
  await shot(name);
  await page.keyboard.press(key);
};

/** A held note that runs a break, and the controller that shortens it while it learns. */
async function theWayToTheKeys() {
  await go('Shelf');
  await page.getByLabel('Open One long note').click();
  await page.getByTestId('slice-count').waitFor();
  await page.keyboard.press('F3');
  await page.getByTestId('helper-card').first().getByRole('button', { name: 'runner', exact: true }).click();
  await page.getByTestId('play').click();
  await page.waitForTimeout(2900);
  await shot('keys-way');
  await page.keyboard.press('Alt+s');
  await settle();
  const dial = await page.getByRole('slider', { name: 'dial 1', exact: true }).boundingBox();
  await page.mouse.move(dial.x + 30, dial.y + 20);
  await page.mouse.down();
  await page.mouse.move(dial.x + 30, dial.y - 40, { steps: 10 });
  await page.mouse.up();
  await page.keyboard.press('Alt+z');
  await page.mouse.move(700, 548);
  await settle();
  await shot('controller-learning');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Alt+s');
  await page.getByTestId('play').click();
  await page.keyboard.press('F3');
}

/** The page that plays, as somebody opens it who has nothing else. */
async function theIndependentPage() {
  for (const name of ['Mix', 'Stems', 'Instrument', 'The whole project'])
    await page.getByRole('checkbox', { name, exact: true }).uncheck();
  await page.getByRole('checkbox', { name: 'A page that plays', exact: true }).check();
  const downloading = page.waitForEvent('download');
  await page.getByTestId('away-run').click();
  const file = resolve(FOLDER, 'page.html');
  await (await downloading).saveAs(file);
  const alone = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await alone.goto(pathToFileURL(file).href);
  await alone.getByTestId('page-part').first().waitFor();
  await alone.getByText('slices are still being made').waitFor({ state: 'detached' });
  await alone.getByTestId('page-play').click();
  await alone.waitForTimeout(2500);
  await alone.screenshot({ path: `${OUT}/page.png` });
  say(`  ${OUT}/page.png`);
  await alone.close();
}

/** Hits of the stand-in drum box fall onto keys. */
async function capture() {
  await go('Shelf');
  await page.getByTestId('to-capture').click();
  await page.getByTestId('listen').click();
  await page.getByText('listening', { exact: true }).waitFor();
  const pads = page.getByTestId('drum-box');
  const struck = ['kick', 'snare', 'hat', 'open', 'rim', 'tom', 'block'];
  for (const sound of struck) {
    await pads.getByRole('button', { name: sound, exact: true }).click({ position: { x: 30, y: 42 } });
    await page.waitForTimeout(1300);
  }
  await page.keyboard.press('Delete');
  await page.mouse.move(640, 22);
  await settle();
  await shot('capture');
}

try {
  await page.waitForTimeout(800);
  await page.goto(`http://localhost:${PORT}/`);
  await page.getByText('Deckhand break').first().waitFor();
  await page.getByLabel('Open The Odrun crossing').click();
  await page.getByTestId('slice-count').waitFor();
  await settle();
  await go('Shelf');
  await page.getByTestId('sources').getByText('Gangway brushes').click();
  await page.getByTestId('listening').getByText('slices at hits').waitFor();
  await page.getByLabel('Play Gangway brushes').first().click();
  await page.waitForTimeout(1600);
  await shot('shelf');
  await page.getByLabel('Stop Gangway brushes').first().click();
  await page.getByTestId('sources').getByText('Boat-deck rehearsal').click();
  await page.getByTestId('find-breaks').click();
  await page.getByTestId('breaks').waitFor();
  await page.getByRole('button', { name: 'Play break 1' }).click();
  await page.mouse.move(640, 22);
  await page.waitForTimeout(1600);
  await shot('breaks');
  await page.getByRole('button', { name: 'Stop break 1' }).click();
  await go('Bench');
  await page.getByTestId('deal-rules').click();
  await grown('F4', 'pattern-rows');
  await page.getByRole('tab', { name: 'shoal water' }).click();
  await page.getByRole('button', { name: 'Hand 2', exact: true }).click({ modifiers: ['Shift'] });
  await page.getByTestId('play').click();
  await page.waitForTimeout(2600);
  await page.getByRole('button', { name: 'compare', exact: true }).first().click();
  await settle();
  await shot('hands-compared');
  await page.getByRole('button', { name: 'part', exact: true }).click();
  await page.getByTestId('play').click();
  await page.getByText('Winch bass').first().click();
  await page.getByRole('tab', { name: 'night watch' }).click();
  await page.keyboard.press('F4');
  await page.locator('.order .v-select').click();
  await page.getByRole('option', { name: 'by note' }).click();
  await page.mouse.move(860, 765);
  await settle();
  await shot('pattern-melody');
  await page.keyboard.press('F4');
  await page.getByText('Deckhand break').first().click();
  await page.getByRole('tab', { name: 'home' }).click();
  const box = await page.getByTestId('source-canvas').boundingBox();
  await page.mouse.click(box.x + box.width * 0.145, box.y + box.height * 0.5);
  await page.mouse.move(640, 22);
  await settle();
  await shot('bench-break');
  await page.keyboard.press('F2');
  await settle();
  const tall = await page.getByTestId('source-canvas').boundingBox();
  await page.mouse.click(tall.x + tall.width * 0.515, tall.y + 90);
  await page.getByTestId('open-apart').click();
  await page.getByTestId('layer').first().waitFor();
  const ring = page.getByRole('spinbutton', { name: 'take out', exact: true });
  await ring.focus();
  await page.keyboard.type('70');
  await page.keyboard.press('Enter');
  await page.mouse.move(640, 22);
  await page.waitForTimeout(1500);
  await shot('apart');
  await page.getByTestId('apart').getByRole('button', { name: 'close', exact: true }).click();
  await page.getByRole('button', { name: 'likeness' }).click();
  await page.mouse.move(640, 22);
  await settle();
  await page.locator('.dot').nth(8).click();
  await page.mouse.move(640, 22);
  await settle();
  await shot('likeness');
  await page.getByRole('button', { name: 'likeness' }).click();
  await page.keyboard.press('F2');
  await go('Shape');
  await page.getByRole('button', { name: 'its sounds', exact: true }).click();
  const tiles = page.getByTestId('zone-tiles').getByRole('button');
  await tiles.nth(2).click();
  const envelope = await page.getByTestId('envelope').getByRole('slider', { name: 'decay and sustain' }).boundingBox();
  await page.mouse.move(envelope.x + 6, envelope.y + 6);
  await page.mouse.down();
  await page.mouse.move(envelope.x + 130, envelope.y + 80, { steps: 8 });
  await page.mouse.up();
  await page.locator('.filter .v-select').click();
  await page.getByRole('option', { name: 'low pass' }).click();
  const cutoff = await page.getByTestId('filter-curve').getByRole('slider').boundingBox();
  await page.mouse.move(cutoff.x + 6, cutoff.y + 6);
  await page.mouse.down();
  await page.mouse.move(cutoff.x - 90, cutoff.y - 30, { steps: 8 });
  await page.mouse.up();
  await page.mouse.move(1150, 690);
  await settle();
  await shot('shape-sounds');
  await page.getByRole('button', { name: 'the part', exact: true }).click();
  await page.getByText('Saltlamp chords').first().click();
  await page.getByTestId('effect-card').nth(2).getByRole('button').first().click();
  await page.getByTestId('effect-card').nth(2).waitFor();
  await page.locator('.shape').evaluate((area) => area.scrollTo(0, 0));
  await page.getByTestId('play').click();
  await page.waitForTimeout(1900);
  await shot('shape');
  await page.getByTestId('play').click();
  await go('Running order');
  await page.getByText('Deckhand break').first().click();
  await page.getByRole('button', { name: 'sections', exact: true }).click();
  await page.getByTestId('section').nth(2).click();
  await page.getByRole('button', { name: 'play from here' }).click();
  await page.mouse.move(300, 660);
  await page.waitForTimeout(3900);
  await shot('running-order');
  await page.getByTestId('play').click();
  await go('Take away');
  for (const name of ['Stems', 'Instrument', 'The whole project'])
    await page.getByRole('checkbox', { name, exact: true }).check();
  await page.getByTestId('mix-peak').waitFor();
  await page.locator('.rows.sheet').evaluate((rows) => rows.scrollTo(0, 0));
  await page.mouse.move(640, 22);
  await settle();
  await shot('take-away');
  await theIndependentPage();
  await go('Bench');
  await page.getByRole('button', { name: 'night' }).click();
  await settle();
  await shot('bench-night');
  await page.getByRole('button', { name: 'day' }).click();
  await page.keyboard.press('Escape');
  await go('Shelf');
  await page.getByLabel('Open Bollard and bell').click();
  await page.getByTestId('slice-count').waitFor();
  await page.keyboard.press('F3');
  const keys = page.getByTestId('key-table');
  await keys.waitFor();
  await settle();
  await page.evaluate(() => {
    const open = {
      'slice-place': false,
      'slice-sound': false,
      'zone-answer': true,
      'slice-filter': false,
      'zone-strength': true,
    };
    localStorage.setItem('yappa.cards', JSON.stringify(open));
  });
  // A groove of presses, soft and hard, on the kit.
  for (const letter of 'zxzg zxzm zgxz'.replaceAll(' ', '')) {
    await page.keyboard.press(letter === 'g' ? 'Alt+PageDown' : letter, { delay: 60 });
    if (letter !== 'g') await page.waitForTimeout(90);
  }
  const kit = await keys.boundingBox();
  await page.mouse.click(kit.x + kit.width * 0.53, kit.y + kit.height * 0.3);
  await page.mouse.move(100, 530);
  await settle();
  await shot('keys-kit');
  await page.getByTestId('part').nth(1).click();
  await settle();
  await page.mouse.click(kit.x + kit.width * 0.5, kit.y + kit.height * 0.4);
  await page.evaluate(() => {
    const open = {
      'slice-place': false,
      'slice-sound': false,
      'zone-answer': false,
      'slice-filter': false,
      'zone-moved': true,
    };
    localStorage.setItem('yappa.cards', JSON.stringify(open));
  });
  await page.reload();
  await page.getByTestId('slice-count').waitFor();
  await page.getByTestId('part').nth(1).click();
  await page.keyboard.press('F3');
  await keys.waitFor();
  await settle();
  await page.mouse.click(kit.x + kit.width * 0.5, kit.y + kit.height * 0.4);
  await page.waitForTimeout(2500);
  await page.mouse.move(100, 530);
  await settle();
  await shot('keys-instrument');
  await page.keyboard.press('F3');
  await theWayToTheKeys();
  await capture();
} finally {
  await browser.close();
  server.kill();
}
