/** How well breaks are found in long recordings with known places: prints the table of docs/analysis.md. */
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { DEFAULT_BREAK_WISH, findBreaks, type FoundBreak } from '#core/analysis/breaks/find-breaks.ts';
import { mixForReading } from '#core/dsp/audio.ts';
import { resampleFine } from '#core/dsp/fine-resample.ts';
import { decodeSoundFile } from '#core/formats/decode.ts';
import { runToEnd } from '#core/units/steps.ts';
import { makeRecording, RATE, type LoopSound, type TrueBreak } from './break-material.ts';

/** Found with the first of them; the others were put together afterwards. */
const SEEDS = [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12] as const;
const BREAKS_EACH = 8;
const NEAR_FRAMES = 0.01 * RATE;
const FIRST = 10;
const DRUMS = /^(straight|fast|swing|ghost|flam|cymbal|room|brush|noise|perc)/;
const MUSIC = /^(chords|pluck|pad|bass)/;

interface TrueLoop {
  bars: number;
  loopStart: number;
  loopFrames: number;
}

async function readLoops(folder: string): Promise<LoopSound[]> {
  const truth = JSON.parse(await readFile(join(folder, 'truth.json'), 'utf8')) as { files: Record<string, TrueLoop> };
  const loops: LoopSound[] = [];
  for (const [name, { bars, loopStart, loopFrames }] of Object.entries(truth.files)) {
    if (!DRUMS.test(name) && !MUSIC.test(name)) continue;
    const { audio } = await decodeSoundFile(Uint8Array.from(await readFile(join(folder, name))));
    const loop = mixForReading(audio).subarray(loopStart, loopStart + loopFrames);
    const increment = audio.sampleRate / RATE;
    const samples = resampleFine(loop, increment, Math.round(loop.length / increment));
    loops.push({ name, samples, bars, isDrums: DRUMS.test(name) });
  }
  return loops;
}

/** Does a loop begin on a bar line of a break, and is it whole bars of it? */
function isRight(found: FoundBreak, { startFrame, endFrame, barFrames }: TrueBreak): boolean {
  const beside = (frames: number) => Math.abs(frames - barFrames * Math.round(frames / barFrames));
  return (
    found.startFrame > startFrame - NEAR_FRAMES &&
    found.endFrame < endFrame + NEAR_FRAMES &&
    beside(found.startFrame - startFrame) <= NEAR_FRAMES &&
    beside(found.endFrame - found.startFrame) <= NEAR_FRAMES
  );
}

const overlaps = (one: FoundBreak, other: TrueBreak) =>
  one.startFrame < other.endFrame && one.endFrame > other.startFrame;

export async function benchBreaks(folder: string): Promise<void> {
  const loops = await readLoops(folder);
  const all = { breaks: 0, found: 0, right: 0, first: 0, firstRight: 0, audioSeconds: 0, seconds: 0 };
  for (const seed of SEEDS) {
    process.stderr.write(`recording ${seed}\n`);
    const { samples, breaks } = makeRecording(loops, BREAKS_EACH, seed);
    const began = performance.now();
    const found = runToEnd(findBreaks(samples, RATE, DEFAULT_BREAK_WISH));
    all.seconds += (performance.now() - began) / 1000;
    all.audioSeconds += samples.length / RATE;
    all.breaks += breaks.length;
    all.found += breaks.filter((one) => found.some((other) => overlaps(other, one))).length;
    all.right += breaks.filter((one) => found.some((other) => isRight(other, one))).length;
    const first = found.slice(0, FIRST);
    all.first += first.length;
    all.firstRight += first.filter((one) => breaks.some((other) => overlaps(one, other))).length;
  }
  const percent = (part: number, whole: number) => `${((100 * part) / whole).toFixed(1)}%`;
  process.stdout.write(`| ${all.breaks} breaks in ${(all.audioSeconds / 60).toFixed(0)} minutes | |\n| --- | --- |\n`);
  for (const [what, value] of [
    ['found', percent(all.found, all.breaks)],
    ['on a bar line and of whole bars, within 10 ms', percent(all.right, all.breaks)],
    ['of the first ten of each recording: breaks', percent(all.firstRight, all.first)],
    ['times as fast as playing', (all.audioSeconds / all.seconds).toFixed(0)],
  ]) {
    process.stdout.write(`| ${what} | ${value} |\n`);
  }
}
