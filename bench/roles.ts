/**
 * How well it is heard what slices are, on a folder of single hits (`hits/hits.flac`, `hits/truth.json`) and loops with truth:
 * each hit by itself, each true onset of a loop beside the others. Confidence is told against how often it is right, in ten
 * steps (C. Guo and others, "On Calibration of Modern Neural Networks", 2017: the expected calibration error).
 */
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { analyseSource, describeSlices, type SliceFacts } from '#core/analysis/analyse-source.ts';
import { ROLES, type Role } from '#core/analysis/role-names.ts';
import { decodeSoundFile } from '#core/formats/decode.ts';
import type { TrueLoop } from './score-onsets.ts';

const NAMES: Record<string, Role> = {
  rimshot: 'rim',
  closedHat: 'closed hat',
  openHat: 'open hat',
  crash: 'cymbal',
  ride: 'cymbal',
};
const TONAL: readonly string[] = ['bass', 'note', 'chord'];
export const roleOfTruth = (name: string): Role => NAMES[name] ?? (name as Role);

interface Answer {
  heard: SliceFacts;
  /** What begins there, the loudest first. */
  truth: Role[];
}

interface TrueHit {
  offset: number;
  frames: number;
  role: string;
  hard?: boolean;
}

async function hitAnswers(folder: string): Promise<Answer[]> {
  const { hits } = JSON.parse(await readFile(join(folder, 'hits/truth.json'), 'utf8')) as { hits: TrueHit[] };
  const { audio } = await decodeSoundFile(await readFile(join(folder, 'hits/hits.flac')));
  return hits
    .filter(({ hard }) => !hard)
    .map(({ offset, frames, role }) => {
      const channels = audio.channels.map((channel) => channel.slice(offset, offset + frames));
      const analysis = analyseSource({ sampleRate: audio.sampleRate, channels });
      const [heard] = describeSlices(analysis, [{ startFrame: 0, endFrame: frames }]);
      return { heard: heard!, truth: [roleOfTruth(role)] };
    });
}

async function loopAnswers(folder: string, name: string, loop: TrueLoop): Promise<Answer[]> {
  const { audio } = await decodeSoundFile(await readFile(join(folder, name)));
  const analysis = analyseSource(audio);
  const starts = loop.onsets.map((onset) => Math.round(onset.frameExact ?? onset.frame));
  const ranges = starts.map((startFrame, i) => ({ startFrame, endFrame: starts[i + 1] ?? analysis.mono.length }));
  const heard = describeSlices(analysis, ranges);
  return loop.onsets.flatMap(({ roles, masked }, i) =>
    masked ? [] : [{ heard: heard[i]!, truth: roles.map(roleOfTruth) }],
  );
}

const percent = (share: number) => (Number.isFinite(share) ? `${(100 * share).toFixed(1)}%` : '–');
const shareOf = (answers: readonly Answer[], isRight: (answer: Answer) => boolean) =>
  percent(answers.filter(isRight).length / answers.length);
const isAny = ({ heard, truth }: Answer) => truth.includes(heard.role);
const isAmongTwo = ({ heard, truth }: Answer) =>
  truth.includes(heard.role) || truth.includes(heard.secondRole ?? 'other');

function calibrationError(answers: readonly Answer[]): number {
  let error = 0;
  for (let step = 0; step < 10; step++) {
    const some = answers.filter(({ heard }) => Math.min(9, Math.floor(heard.roleConfidence * 10)) === step);
    if (some.length === 0) continue;
    const said = some.reduce((sum, { heard }) => sum + heard.roleConfidence, 0) / some.length;
    error += (some.length / answers.length) * Math.abs(said - some.filter(isAny).length / some.length);
  }
  return error;
}

function report(title: string, answers: readonly Answer[]): void {
  if (answers.length === 0) return;
  const sure = answers.filter(({ heard }) => heard.roleConfidence > 0.9);
  process.stdout.write(
    `| ${title} (${answers.length}) | ${shareOf(answers, isAny)} | ${shareOf(answers, ({ heard, truth }) => heard.role === truth[0])} | ` +
      `${shareOf(answers, isAmongTwo)} | ${percent(calibrationError(answers))} | ${shareOf(sure, isAny)} of ${sure.length} |\n`,
  );
}

export async function benchRoles(folder: string): Promise<void> {
  process.stdout.write(
    '| what | any role in it | the loudest | among two | calibration error | right when over 0.9 |\n',
  );
  process.stdout.write('| --- | --- | --- | --- | --- | --- |\n');
  const hits = await hitAnswers(folder).catch(() => []);
  report('single hits', hits);
  report(
    'single drums',
    hits.filter(({ truth }) => !TONAL.includes(truth[0]!)),
  );
  const { files } = JSON.parse(await readFile(join(folder, 'truth.json'), 'utf8')) as {
    files: Record<string, TrueLoop>;
  };
  const loops: Answer[] = [];
  for (const [name, loop] of Object.entries(files)) loops.push(...(await loopAnswers(folder, name, loop)));
  report('slices of loops', loops);
  for (const role of ROLES) {
    const some = [...hits, ...loops].filter(({ truth }) => truth[0] === role);
    if (some.length > 0) report(`- ${role}`, some);
  }
}
