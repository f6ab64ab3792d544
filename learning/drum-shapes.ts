/**
 * Makes src/core/unmix/drum-shape-data.ts: how loud each role is at each moment in each band, on the average of the single
 * hits of a folder as bench/ reads it. `npx tsx learning/drum-shapes.ts FOLDER`
 */
import { writeFile } from 'node:fs/promises';
import { BANDS, bandsOfBins } from '#core/unmix/bands.ts';
import { SHAPED_ROLES, SHAPE_MS, SHAPE_RANGE_DB, type ShapedRole } from '#core/unmix/drum-shapes.ts';
import { sumOfPowers } from '#core/unmix/ring.ts';
import { spectrographFor } from '#core/unmix/take-apart.ts';
import { base64Of } from '#core/units/base64.ts';
import { readSounds, RATE } from '../bench/stretch-material.ts';

const ROLE_OF: Record<string, ShapedRole> = {
  kick: 'kick',
  snare: 'snare',
  rimshot: 'rim',
  clap: 'clap',
  closedHat: 'closed hat',
  openHat: 'open hat',
  tom: 'tom',
  crash: 'cymbal',
  ride: 'cymbal',
  percussion: 'percussion',
};

const sounds = await readSounds(process.argv[2] ?? '');
if (!sounds) throw new Error('say which folder: it has hits/hits.flac and hits/truth.json');
const spectrograph = spectrographFor(RATE);
const { bins, hop } = spectrograph;
const bandOfBin = bandsOfBins(bins, RATE);
const frames = RATE * 0.6;
const sums = new Map(
  SHAPED_ROLES.map((role) => [role, { powers: new Float64Array(SHAPE_MS.length * BANDS), count: 0 }]),
);
for (const hit of sounds.hits) {
  const sum = sums.get(ROLE_OF[hit.role]!)!;
  const samples = sounds.hitAudio.subarray(hit.offset, hit.offset + hit.frames);
  const powers = sumOfPowers([samples], spectrograph, 0, frames);
  const total = powers.reduce((all, power) => all + power, 0);
  for (const [moment, ms] of SHAPE_MS.entries()) {
    const row = Math.round(((ms / 1000) * RATE - spectrograph.frameOf(0)) / hop);
    for (let bin = 1; bin < bins; bin++) {
      const at = moment * BANDS + bandOfBin[bin]!;
      // A window that lies half before the hit has half of its power.
      sum.powers[at]! += powers[row * bins + bin]! / total / spectrograph.coverage(row, frames);
    }
  }
  sum.count++;
}
const widths = new Float64Array(BANDS);
for (let bin = 1; bin < bins; bin++) widths[bandOfBin[bin]!]!++;
const bytes = new Uint8Array(SHAPED_ROLES.length * SHAPE_MS.length * BANDS);
for (const [place, role] of SHAPED_ROLES.entries()) {
  const { powers } = sums.get(role)!;
  const means = powers.map((power, i) => power / Math.max(1, widths[i % BANDS]!));
  const loudest = Math.max(...means);
  means.forEach((power, i) => {
    const db = Math.max(-SHAPE_RANGE_DB, 10 * Math.log10(power / loudest + 1e-30));
    bytes[place * means.length + i] = Math.round(255 * (1 + db / SHAPE_RANGE_DB));
  });
}
const text = base64Of(bytes).replace(/(.{110})/g, "$1' +\n  '");
await writeFile(
  new URL('../src/core/unmix/drum-shape-data.ts', import.meta.url),
  `/** Written by learning/drum-shapes.ts: levels by role, moment and band, 255 the loudest. */\nexport const SHAPES_BASE64 =\n  '${text}';\n`,
);
