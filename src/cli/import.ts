/** `import FILE|FOLDER…`: sounds and whole projects onto the shelf of the running application. */
import { createHash, randomUUID } from 'node:crypto';
import { readdir, stat } from 'node:fs/promises';
import { basename, extname, join, relative, sep } from 'node:path';
import { parseArgs } from 'node:util';
import { analyseSource } from '#core/analysis/analyse-source.ts';
import { hearForShelf } from '#core/analysis/hear-for-shelf.ts';
import { namedFirst, suggestTags } from '#core/analysis/name-hints.ts';
import type { LoadedProject, ProjectSummary } from '#core/api/projects.ts';
import type { KnownSource, SourceUpload } from '#core/api/sources.ts';
import type { AudioData } from '#core/dsp/audio.ts';
import { buildPeaks, SHELF_SKYLINE_STRETCHES, skylineOf } from '#core/dsp/peaks.ts';
import { diff } from '#core/document/diff.ts';
import { losslessEncoding, writeWav } from '#core/formats/wav-write.ts';
import type { CuePoint, SamplerLoop } from '#core/formats/wav-read.ts';
import { mergeProject } from '#core/project/commands/merge.ts';
import { UsageError } from './args.ts';
import { forEachFile } from './each-file.ts';
import { InputError, readAudioFile } from './read-audio.ts';
import { readProject } from './read-project.ts';
import { Server, ServerError } from './server.ts';

const SOUND = /\.(wav|wave|flac|mp3|ogg|oga|aif|aiff|zip)$/i;
const MOST_TAGS = 20;
const MOST_LETTERS = 40;

interface Found {
  file: string;
  /** Names of the folders that it lies in, under the one that was named, and of that one. */
  folders: string[];
}

/** Folders are gone through; of those only what can be sound is taken. */
async function filesOf(path: string): Promise<Found[]> {
  const kind = await stat(path).catch(() => null);
  if (!kind) throw new InputError(path, 'there is no such file or folder');
  if (!kind.isDirectory()) return [{ file: path, folders: [] }];
  const all = await readdir(path, { recursive: true, withFileTypes: true });
  return all
    .filter((entry) => entry.isFile() && SOUND.test(entry.name))
    .map((entry) => {
      const inside = relative(path, entry.parentPath).split(sep).filter(Boolean);
      return { file: join(entry.parentPath, entry.name), folders: [basename(path), ...inside] };
    })
    .sort((a, b) => a.file.localeCompare(b.file, 'en', { numeric: true }));
}

export async function runImport(args: string[]): Promise<number> {
  const options = { tags: { type: 'string' }, port: { type: 'string' } } as const;
  const { values, positionals } = parseArgs({ args, allowPositionals: true, options });
  if (positionals.length === 0) throw new UsageError('name sound files, projects or folders');
  const server = Server.of(values);
  const more = (values.tags ?? '').split(',');
  const found = (await Promise.all(positionals.map(filesOf))).flat();
  const byFile = new Map(found.map((one) => [one.file, one]));
  return forEachFile([...byFile.keys()], async (file) => {
    try {
      if (/\.zip$/i.test(file)) return { file, ...(await bringProject(server, file)) };
      const tags = [...byFile.get(file)!.folders, ...more].map((tag) =>
        tag.trim().toLowerCase().slice(0, MOST_LETTERS),
      );
      return { file, ...(await bringFile(server, file, tags.filter(Boolean))) };
    } catch (error) {
      if (!(error instanceof ServerError)) throw error;
      throw new InputError(file, error.message);
    }
  });
}

async function bringFile(server: Server, file: string, tags: readonly string[]) {
  const { audio, cues, loops } = await readAudioFile(file);
  const name = basename(file, extname(file)).trim().slice(0, 200) || 'sound';
  return bringSound(server, { audio, cues, loops }, name, tags);
}

interface Sound {
  audio: AudioData;
  cues?: readonly CuePoint[];
  loops?: readonly SamplerLoop[];
}

/** @returns its id, and whether the same samples lay on the shelf before: then they keep their name and tags */
async function bringSound(
  server: Server,
  { audio, cues = [], loops = [] }: Sound,
  name: string,
  more: readonly string[],
) {
  const wav = writeWav(audio, { encoding: losslessEncoding(audio), cues, loop: loops[0] });
  const id = createHash('sha256').update(wav).digest('hex');
  const known = await server.json<KnownSource>(`/sources/${id}`);
  if (known.name !== null) return { id, name: known.name, wasHere: true };
  const analysis = analyseSource(audio);
  const { heard, prints } = hearForShelf(audio, analysis);
  const [best] = namedFirst(analysis.tempoReadings, name);
  const upload: SourceUpload = {
    name,
    facts: {
      tempo: best ? { bpm: best.bpm, bars: best.bars } : null,
      skyline: skylineOf(buildPeaks(audio), SHELF_SKYLINE_STRETCHES),
      ...(heard && { heard }),
    },
    tags: [...new Set([...suggestTags(name, heard !== undefined), ...more])].slice(0, MOST_TAGS),
    prints: { startFrames: prints.startFrames, bytes: Buffer.from(prints.bytes).toString('base64') },
  };
  const headers = {
    'Content-Type': 'audio/wav',
    'X-Source': Buffer.from(JSON.stringify(upload)).toString('base64'),
  };
  await server.ask(`/sources/${id}`, { method: 'PUT', headers, body: wav });
  return { id, name, wasHere: false };
}

/** A project that was taken away, as a new one. */
async function bringProject(server: Server, file: string) {
  const { document: from, assets, problems } = await readProject(file);
  for (const [id, audio] of assets) {
    const brought = await bringSound(server, { audio }, from.sources[id]?.name ?? 'sound', []);
    if (brought.id !== id) problems.push(`the sound ${brought.name} is another one than it was`);
  }
  const { id } = await server.post<ProjectSummary>('/projects', { name: from.name.trim() || 'A project' });
  const { document: empty, revision } = await server.json<LoadedProject>(`/projects/${id}`);
  let seeds = 0;
  const env = { newId: () => randomUUID(), newSeed: () => ++seeds };
  const result = mergeProject(empty, { from, isWhole: true }, env);
  if (!result.ok) throw new InputError(file, result.reason);
  const changes = diff(empty, result.document);
  await server.post(`/projects/${id}/saves`, {
    saveId: randomUUID(),
    baseRevision: revision,
    label: 'from a file',
    changes,
  });
  return { projectId: id, sounds: assets.size, problems };
}
