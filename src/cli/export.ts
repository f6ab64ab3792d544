/** `export PROJECT.zip… --as slices|stems|midi|sfz --out DIR`: what a project is taken away as. */
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { endingOf } from '#core/formats/encode.ts';
import { NamesOnce, safeFileName } from '#core/formats/file-names.ts';
import { writeMidiFile } from '#core/formats/midi-file.ts';
import { losslessEncoding, writeWav } from '#core/formats/wav-write.ts';
import { stemsDocument, stemsOf } from '#core/queries/stems.ts';
import { midiSong, type MidiSettings } from '#core/takeaway/midi-song.ts';
import { sfzInstrument } from '#core/takeaway/sfz.ts';
import type { AudioEncoding } from '#core/formats/encode.ts';
import { choiceOption, UsageError } from './args.ts';
import { bounceToFiles } from './bounce-to-files.ts';
import { exportSlices } from './export-slices.ts';
import { forEachFile } from './each-file.ts';
import { readProject, songRange, type ReadProject } from './read-project.ts';
import { ENCODINGS } from './render.ts';

/** See SliceFileOptions. */
const PLAIN_NAMES = '{source} {number} {slice}';
const KINDS = ['slices', 'stems', 'midi', 'sfz'] as const;

export async function runExport(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      as: { type: 'string' },
      out: { type: 'string' },
      samples: { type: 'string' },
      dry: { type: 'boolean' },
      'by-drum': { type: 'boolean' },
      sounding: { type: 'boolean' },
      together: { type: 'boolean' },
      names: { type: 'string' },
      'as-heard': { type: 'boolean' },
      'drum-keys': { type: 'boolean' },
    },
  });
  if (positionals.length === 0) throw new UsageError('name a project');
  if (values.as === undefined) throw new UsageError(`say as what with --as: ${KINDS.join(', ')}`);
  if (values.out === undefined) throw new UsageError('name the folder to write into with --out');
  const kind = choiceOption(values, 'as', KINDS, 'slices');
  const encoding = choiceOption(values, 'samples', ENCODINGS, 'wav24');
  const out = values.out;
  return forEachFile(positionals, async (file, stem) => {
    const project = await readProject(file);
    const name = safeFileName(stem, 'project');
    const folder = positionals.length === 1 ? out : join(out, name);
    await mkdir(folder, { recursive: true });
    if (kind === 'stems') {
      const wish = { encoding, isDry: values.dry === true, byDrum: values['by-drum'] === true };
      return { file, files: await stems(project, folder, name, wish) };
    }
    if (kind === 'midi') {
      const wish = {
        asHeard: values['as-heard'] === true,
        keys: values['drum-keys'] ? ('drums' as const) : ('own' as const),
      };
      return { file, ...(await midi(project, folder, name, wish)) };
    }
    if (kind === 'sfz') return { file, ...(await instruments(project, folder)) };
    const wish = { encoding, asSounding: values.sounding === true, together: values.together === true };
    return { file, files: await exportSlices(project, folder, { ...wish, namePattern: values.names ?? PLAIN_NAMES }) };
  });
}

async function stems(
  project: ReadProject,
  folder: string,
  name: string,
  wish: { encoding: AudioEncoding; isDry: boolean; byDrum: boolean },
): Promise<string[]> {
  const { encoding, isDry, byDrum } = wish;
  const document = stemsDocument(project.document, { withChains: !isDry, withSends: !isDry });
  const stems = stemsOf(document, byDrum);
  const stemFiles = stems.map(({ name: words }, place) => {
    const number = String(place + 1).padStart(2, '0');
    return join(folder, `${safeFileName(`${name} - ${number} ${words}`, `stem ${number}`)}.${endingOf(encoding)}`);
  });
  const range = { ...songRange(document, null), ringOut: true, sampleRate: 44_100, encoding, mixFile: null };
  const { written } = await bounceToFiles(project, document, { ...range, stems, stemFiles });
  return written;
}

async function midi(
  { document }: ReadProject,
  folder: string,
  name: string,
  wish: Pick<MidiSettings, 'asHeard' | 'keys'>,
): Promise<{ files: string[]; stripsWithoutKey: number }> {
  const whole = { order: true, partId: null, patternId: null, handId: null, withLanes: true };
  const song = midiSong(document, { ...whole, ...wish });
  const out = join(folder, `${name}.mid`);
  await writeFile(out, writeMidiFile(song, { format: 1, ticksPerBeat: 480 }));
  return { files: [out], stripsWithoutKey: song.without };
}

async function instruments({ document, assets }: ReadProject, folder: string) {
  const files: string[] = [];
  const unsaid: Record<string, string[]> = {};
  const names = new NamesOnce();
  for (const partId of document.partOrder) {
    const part = document.parts[partId]!;
    const name = names.take(safeFileName(part.name, 'part'));
    const samples = `${name} samples`;
    const options = { withShape: true, withChoke: true, folder: samples, ending: 'wav' as const };
    const instrument = sfzInstrument(document, part, options);
    if (instrument.zones === 0) continue;
    await mkdir(join(folder, samples), { recursive: true });
    for (const { file, sourceId, startFrame, endFrame, loop } of instrument.samples) {
      const whole = assets.get(sourceId);
      if (!whole) continue;
      const channels = whole.channels.map((channel) => channel.slice(startFrame, endFrame));
      const audio = { sampleRate: whole.sampleRate, channels };
      const wav = writeWav(audio, { encoding: losslessEncoding(audio), loop: loop ?? undefined });
      await writeFile(join(folder, samples, file), wav);
    }
    const out = join(folder, `${name}.sfz`);
    await writeFile(out, instrument.text);
    files.push(out);
    if (instrument.unsaid.length > 0) unsaid[name] = instrument.unsaid;
  }
  return { files, unsaid };
}
