/** `render PROJECT.zip… --out MIX.wav`: the mix of a project that was taken away. */
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { endingOf } from '#core/formats/encode.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { choiceOption, numberOption, UsageError } from './args.ts';
import { bounceToFiles } from './bounce-to-files.ts';
import { forEachFile } from './each-file.ts';
import { InputError } from './read-audio.ts';
import { readProject, songRange } from './read-project.ts';

export const ENCODINGS = ['wav16', 'wav24', 'wav32', 'flac16', 'flac24'] as const;

export async function runRender(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      out: { type: 'string' },
      rounds: { type: 'string' },
      pattern: { type: 'string' },
      samples: { type: 'string' },
      rate: { type: 'string' },
      cut: { type: 'boolean' },
    },
  });
  if (positionals.length === 0) throw new UsageError('name a project');
  if (values.out === undefined) throw new UsageError('name the file to write with --out; of several projects a folder');
  const out = values.out;
  const rounds = numberOption(values, 'rounds', { min: 1, max: 999, whole: true }) ?? null;
  const sampleRate = numberOption(values, 'rate', { min: 8000, max: 192_000, whole: true, fallback: 44_100 })!;
  const encoding = choiceOption(values, 'samples', [...ENCODINGS, 'mp3', 'ogg'] as const, 'wav24');
  return forEachFile(positionals, async (file, stem) => {
    const project = await readProject(file);
    const document =
      values.pattern === undefined ? project.document : onlyPattern(project.document, values.pattern, file);
    const mixFile = positionals.length === 1 ? out : join(out, `${stem}.${endingOf(encoding)}`);
    const range = songRange(document, values.pattern === undefined ? rounds : (rounds ?? 1));
    if (range.lengthTicks === 0) throw new InputError(file, 'there is nothing in it that plays');
    const wish = { ...range, ringOut: values.cut !== true, sampleRate, encoding, mixFile };
    const { seconds, truePeakDb, peakDb, loudnessLufs, rangeLu } = await bounceToFiles(project, document, wish);
    return { file, out: mixFile, sampleRate, seconds, peakDb, truePeakDb, loudnessLufs, rangeLu };
  });
}

/** The part that has a pattern of this name plays it, and nobody else plays. */
function onlyPattern(document: ProjectDocument, name: string, file: string): ProjectDocument {
  const pattern = Object.values(document.patterns).find((one) => one.name === name);
  if (!pattern) {
    const names = Object.values(document.patterns).map((one) => one.name);
    throw new InputError(file, `there is no pattern "${name}" in it; there are: ${names.join(', ') || 'none'}`);
  }
  const part = { ...document.parts[pattern.partId]!, activePatternId: pattern.id };
  return { ...document, parts: { ...document.parts, [part.id]: part }, partOrder: [part.id] };
}
