/** The clock of others: followed and sent, with the stand-in machine at both ends, and to a plugged in device. */
import { expect, type Page } from '@playwright/test';
import { mean, sum } from 'd3-array';
import { test, testAnew } from './one-window.ts';
import { connectDevices, fakeMidi } from './midi-stand-in.ts';
import { choose, engineFor, firstPart, menuField, projectWith, saved, watchForTrouble } from './support.ts';

const LOOP = 'tests/fixtures/loops/swing-04.flac';

async function openClock(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'The click’s settings' }).click();
  await expect(page.getByTestId('clock-card')).toBeVisible();
}

async function put(page: Page, name: string, value: string): Promise<void> {
  const card = page.getByTestId('clock-card');
  await card.getByRole('spinbutton', { name, exact: true }).focus();
  await page.keyboard.type(value);
  await page.keyboard.press('Enter');
}

test('another’s clock is followed, start, tempo, place and stop, and ours comes back to it steady', async ({
  page,
}) => {
  const trouble = watchForTrouble(page);
  const id = await projectWith(page, LOOP);
  await openClock(page);
  const card = page.getByTestId('clock-card');
  await card.getByRole('button', { name: 'stand-in machine' }).click();
  await choose(page, menuField(page, 'follow'), 'Stand-in machine');
  await card.getByRole('button', { name: 'Stand-in machine', exact: true }).click();
  await put(page, 'its tempo', '132');
  await put(page, 'unsteady by', '1');
  await card.getByRole('button', { name: 'start it' }).click();
  await expect(page.getByTestId('play')).toHaveAttribute('aria-pressed', 'true');
  await expect(page.getByTestId('clock-state')).toContainText(/13[12]\.\d bpm, runs, steady within/);
  // Round to the machine again: near its own place, and as steady as ours are to be.
  const hears = page.getByTestId('machine-hears');
  const apart = async () => {
    const words = /steady within ([\d.]+) ms, ([\d.]+) ms/.exec((await hears.textContent()) ?? '');
    return words ? { steady: Number(words[1]), away: Number(words[2]) } : { steady: 99, away: 99 };
  };
  // On a busy machine sound itself comes late; how near it is kept is held to 2 ms by the tests of the clock.
  await expect.poll(async () => (await apart()).away, { timeout: 60_000 }).toBeLessThan(60);
  await expect.poll(async () => (await apart()).steady, { timeout: 60_000 }).toBeLessThan(5);
  const tempoOf = async () => (await firstPart(page, id)).document.song.values.tempoBpm ?? 100;
  await expect.poll(tempoOf).toBeGreaterThan(131.3);
  expect(await tempoOf()).toBeLessThan(132.7);
  await card.getByRole('button', { name: 'stop it' }).click();
  await expect(page.getByTestId('play')).toHaveAttribute('aria-pressed', 'false');
  await expect(hears).toContainText('stands');
  await choose(page, menuField(page, 'follow'), 'nobody: our own');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
  await saved(page);
  expect(await tempoOf()).not.toBeGreaterThan(131.3);
  expect(trouble).toEqual([]);
});

/** How far each time is from the straight line that fits them best. */
function distancesFromLine(times: readonly number[]): number[] {
  const midPlace = (times.length - 1) / 2;
  const midTime = mean(times)!;
  const top = sum(times.map((time, place) => (place - midPlace) * (time - midTime)));
  const slope = top / sum(times.map((_, place) => (place - midPlace) ** 2));
  return times.map((time, place) => Math.abs(time - midTime - slope * (place - midPlace)));
}

testAnew(
  'a plugged in device gets start, clock with a jitter under a millisecond, the notes of a part, and stop',
  async ({ page }) => {
    const trouble = watchForTrouble(page);
    const midi = await fakeMidi(page, ['Bosun box']);
    await projectWith(page, LOOP);
    await connectDevices(page, 'Bosun box');
    await openClock(page);
    await page.getByTestId('clock-card').getByRole('button', { name: 'Bosun box', exact: true }).click();
    await choose(page, menuField(page, 'notes to'), 'Bosun box');
    await choose(page, menuField(page, 'of'), 'swing-04');
    await page.keyboard.press('Escape');
    let sent: Awaited<ReturnType<typeof midi.sent>> = [];
    // A machine that is busy with others' work stops the sound itself now and then: the steadiest of some rounds.
    const steadiness = async () => {
      const before = (await midi.sent('Bosun box')).length;
      await page.getByTestId('play').click();
      await engineFor(page, 4000);
      await page.getByTestId('play').click();
      const since = async () => (await midi.sent('Bosun box')).slice(before);
      await expect.poll(async () => (await since()).at(-1)?.bytes, { timeout: 4000 }).toEqual([0xfc]);
      sent = await since();
      // A page that was held up while the song began says where it is and goes on from there.
      const [first, second] = sent.filter(({ bytes }) => bytes[0]! >= 0xf2 && bytes[0] !== 0xf8);
      if (first!.bytes[0] === 0xf2) expect(second!.bytes).toEqual([0xfb]);
      else expect(first!.bytes).toEqual([0xfa]);
      const clocks = sent.filter(({ bytes }) => bytes[0] === 0xf8).map(({ time }) => time);
      expect(clocks.length).toBeGreaterThan(100);
      // The first ones find the clock of the machine.
      const offMs = distancesFromLine(clocks.slice(24)).sort((a, b) => a - b);
      return { mostMs: offMs[Math.floor(0.98 * offMs.length)]!, worstMs: offMs.at(-1)! };
    };
    await expect(async () => {
      const { mostMs, worstMs } = await steadiness();
      expect(mostMs).toBeLessThan(1);
      expect(worstMs).toBeLessThan(2.5);
    }).toPass({ timeout: 80_000 });
    const notes = sent.filter(({ bytes }) => bytes[0] === 0x90);
    expect(notes.length).toBeGreaterThan(8);
    expect(notes[0]!.bytes[1]).toBe(48);
    expect(trouble).toEqual([]);
  },
);
