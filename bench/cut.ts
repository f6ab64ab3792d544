/**
 * How good the cut is, and the stretching, on a folder of loops with truth (`truth.json`, format "loops-1"): `npm run bench -- FOLDER`.
 * Prints the tables of docs/analysis.md and, where the folder has single hits and notes (`hits/`, `notes/`), of docs/timing.md. Everything runs through the same code as the application.
 */
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { analyseSource, describeSlices } from '#core/analysis/analyse-source.ts';
import { cutAtHits } from '#core/analysis/cut.ts';
import { DEFAULT_SELECTION } from '#core/analysis/select-onsets.ts';
import { decodeSoundFile } from '#core/formats/decode.ts';
import { readSounds } from './stretch-material.ts';
import { printStretchTable } from './stretch.ts';
import { roleOfTruth } from './roles.ts';
import { fMeasure, matchOnsets, scoreLoop, type TrueLoop } from './score-onsets.ts';

const QUIET_VELOCITY = 45;
interface Measured {
  loop: TrueLoop;
  markers: number[];
  roles: string[];
  readings: { bpm: number; bars: number }[];
}

async function measure(folder: string, name: string, loop: TrueLoop): Promise<Measured> {
  const { audio } = await decodeSoundFile(await readFile(join(folder, name)));
  const analysis = analyseSource(audio);
  const markers = cutAtHits(analysis, DEFAULT_SELECTION).map((marker) => marker.frame);
  const ranges = markers.map((startFrame, i) => ({ startFrame, endFrame: markers[i + 1] ?? analysis.mono.length }));
  return {
    loop,
    markers,
    roles: describeSlices(analysis, ranges).map((facts) => facts.role),
    readings: analysis.tempoReadings,
  };
}

function fAt(all: readonly Measured[], toleranceMs: number, softSpan = false): string {
  const total = { found: 0, missed: 0, invented: 0 };
  for (const { loop, markers } of all) {
    const score = scoreLoop(loop, markers, toleranceMs, softSpan);
    total.found += score.found;
    total.missed += score.missed;
    total.invented += score.invented;
  }
  return all.length > 0 ? fMeasure(total).toFixed(3) : '–';
}

function percent(share: number): string {
  return Number.isFinite(share) ? `${(100 * share).toFixed(1)}%` : '–';
}

function report(all: readonly Measured[]): [string, string][] {
  const tagged = (tag: string) => all.filter(({ loop }) => loop.tags.includes(tag));
  const errors = all.flatMap(({ loop, markers }) => scoreLoop(loop, markers, 50).errorsMs);
  const distances = errors.map(Math.abs).sort((a, b) => a - b);
  const quantile = (share: number) => (distances[Math.floor((distances.length - 1) * share)] ?? NaN).toFixed(2);
  const right = all.filter(({ loop, markers }) => {
    const { missed, invented } = scoreLoop(loop, markers, 10);
    return missed + invented === 0;
  });
  let quiet = 0;
  let quietFound = 0;
  let roles = 0;
  let rolesRight = 0;
  for (const { loop, markers, roles: guessed } of all) {
    const times = loop.onsets.map((onset) => (onset.frameExact ?? onset.frame) / loop.sampleRate);
    const pairs = new Map(
      matchOnsets(
        times,
        markers.map((frame) => frame / loop.sampleRate),
        0.01,
      ),
    );
    loop.onsets.forEach((onset, index) => {
      const marker = pairs.get(index);
      if (!onset.masked && (onset.velocity ?? 127) <= QUIET_VELOCITY) {
        quiet++;
        if (marker !== undefined) quietFound++;
      }
      if (marker === undefined) return;
      roles++;
      if (onset.roles.some((role) => roleOfTruth(role) === guessed[marker])) rolesRight++;
    });
  }
  const trimmed = all.filter(({ loop }) => !loop.tags.includes('untrimmed'));
  const untrimmed = tagged('untrimmed');
  const matches = (loop: TrueLoop, reading: { bpm: number; bars: number } | undefined) =>
    reading !== undefined && Math.abs(reading.bpm / loop.bpm - 1) < 0.001 && reading.bars === loop.bars;
  const first = trimmed.filter(({ loop, readings }) => matches(loop, readings[0]));
  const shown = trimmed.filter(({ loop, readings }) => readings.slice(0, 6).some((reading) => matches(loop, reading)));
  const near = untrimmed.filter(
    ({ loop, readings }) => readings[0] && Math.abs(readings[0].bpm / loop.bpm - 1) < 0.005,
  );
  return [
    ['drums: F at ±5 / ±10 / ±25 ms', [5, 10, 25].map((ms) => fAt(tagged('drums'), ms)).join(' / ')],
    ['all loops: F at ±10 / ±50 ms', [10, 50].map((ms) => fAt(all, ms)).join(' / ')],
    ['distance from the attack, median / 95th percentile', `${quantile(0.5)} / ${quantile(0.95)} ms`],
    ['markers later than 1 ms after the attack', percent(errors.filter((ms) => ms > 1).length / errors.length)],
    ['loops right without any edit (±10 ms)', percent(right.length / all.length)],
    ['quiet hits (velocity 45 and under) within 10 ms', percent(quietFound / quiet)],
    ['percussion and found sounds: F at ±10 ms', fAt(tagged('perc'), 10)],
    ['soft pads, a marker anywhere in the rise: F at ±50 ms', fAt(tagged('soft'), 50, true)],
    [
      'trimmed loops: tempo and bars, first / among alternatives',
      `${percent(first.length / trimmed.length)} / ${percent(shown.length / trimmed.length)}`,
    ],
    ['leading silence, pickup or tail: tempo within 0.5%', percent(near.length / untrimmed.length)],
    ['roles right, of the hits found (in loops)', percent(rolesRight / roles)],
  ];
}

/** Prints the tables for a folder of loops with their truth. */
export async function benchCut(folder: string): Promise<void> {
  const truth = JSON.parse(await readFile(join(folder, 'truth.json'), 'utf8')) as { files: Record<string, TrueLoop> };
  const all: Measured[] = [];
  let seconds = 0;
  const before = process.cpuUsage();
  for (const [name, loop] of Object.entries(truth.files)) {
    process.stderr.write(`${name}\n`);
    all.push(await measure(folder, name, loop));
    seconds += loop.frames / loop.sampleRate;
  }
  const used = process.cpuUsage(before);
  const rows: [string, string][] = [
    ...report(all),
    [
      'audio seconds a CPU second (decode, hits, tempo, roles)',
      (seconds / ((used.user + used.system) / 1e6)).toFixed(0),
    ],
  ];
  process.stdout.write(`| ${all.length} loops | |\n| --- | --- |\n`);
  for (const [what, value] of rows) process.stdout.write(`| ${what} | ${value} |\n`);

  const sounds = await readSounds(folder);
  if (sounds) {
    process.stderr.write('stretching …\n');
    printStretchTable(sounds, (line) => process.stdout.write(`${line}\n`));
  }
}
