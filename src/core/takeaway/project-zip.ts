/**
 * A whole project as one zip: `project.json` (see docs/project-file.md), its sounds as FLAC where that keeps every sample
 * and as float WAV where not, and `contents.json`, which names each file with its SHA-256 (FIPS 180-4). Described in
 * docs/formats.md.
 */
import * as z from 'zod/mini';
import { bytesToHex } from '@noble/hashes/utils.js';
import { sha256 as sumOf } from '@noble/hashes/sha2.js';
import { strFromU8, strToU8, unzipSync, Zip, ZipPassThrough } from 'fflate';
import { openDocument } from '../document/validate.ts';
import type { ProjectDocument, SourceRef } from '../document/schema.ts';
import type { AudioData } from '../dsp/audio.ts';
import { AppError } from '../units/errors.ts';
import { safeFileName } from '../formats/file-names.ts';
import { writeFlac } from '../formats/flac-write.ts';
import { losslessEncoding, writeWav } from '../formats/wav-write.ts';

const FORMAT = 'yappa project';
const VERSION = 1;
const PROJECT = 'project.json';
const CONTENTS = 'contents.json';

const contents = z.object({
  format: z.literal(FORMAT),
  version: z.int(),
  project: z.object({ file: z.literal(PROJECT), sha256: z.string() }),
  sounds: z.array(z.object({ id: z.string(), name: z.string(), file: z.string(), sha256: z.string() })),
});
type Contents = z.infer<typeof contents>;

/** What an archive may hold at most: more is refused before it is unpacked. In bytes. */
const MOST_BYTES = 4_000_000_000;
const MOST_JSON_BYTES = 256_000_000;
const MOST_FILES = 5000;

const sha256 = (bytes: Uint8Array): string => bytesToHex(sumOf(bytes));

export interface ZipWays {
  /** Gives a sound of the project when its turn has come; null where it cannot be had. */
  sound: (source: SourceRef) => Promise<AudioData | null>;
  /** Takes the bytes of the zip, piece by piece. */
  take: (bytes: Uint8Array<ArrayBuffer>) => void;
  /** @returns false to give up */
  onProgress?: (share: number) => boolean | Promise<boolean>;
}

/**
 * Writes a project; one sound is held at a time.
 * @returns the names of sounds that could not be had: they are missing in it
 * @throws AppError `cancelled`
 */
export async function writeProjectZip(
  document: ProjectDocument,
  { sound, take, onProgress }: ZipWays,
): Promise<string[]> {
  let failure: Error | null = null;
  const zip = new Zip((error, data) => {
    if (error) failure = error;
    else take(data as Uint8Array<ArrayBuffer>);
  });
  const put = (name: string, bytes: Uint8Array) => {
    // Sound does not shrink by packing.
    const entry = new ZipPassThrough(name);
    zip.add(entry);
    entry.push(bytes, true);
    if (failure) throw failure;
  };
  const json = strToU8(JSON.stringify(document, null, 1));
  put(PROJECT, json);
  const sounds: Contents['sounds'] = [];
  const missing: string[] = [];
  const sources = Object.values(document.sources);
  for (const [place, source] of sources.entries()) {
    if ((await (onProgress?.(place / sources.length) ?? true)) === false)
      throw new AppError('cancelled', 'writing the project was cancelled');
    const audio = await sound(source);
    if (!audio) {
      missing.push(source.name);
      continue;
    }
    const { bytes, ending } = await encoded(audio);
    const file = `sounds/${String(place + 1).padStart(3, '0')} ${safeFileName(source.name, 'sound').slice(0, 60)}.${ending}`;
    put(file, bytes);
    sounds.push({ id: source.id, name: source.name, file, sha256: sha256(bytes) });
  }
  const list: Contents = {
    format: FORMAT,
    version: VERSION,
    project: { file: PROJECT, sha256: sha256(json) },
    sounds,
  };
  put(CONTENTS, strToU8(JSON.stringify(list, null, 1)));
  zip.end();
  return missing;
}

async function encoded(audio: AudioData): Promise<{ bytes: Uint8Array<ArrayBuffer>; ending: 'flac' | 'wav' }> {
  const encoding = losslessEncoding(audio);
  // FLAC counts up to 655,350 Hz (RFC 9639, section 8.2), and holds no floats.
  if (encoding === 'float32' || audio.sampleRate > 655_350)
    return { bytes: writeWav(audio, { encoding }), ending: 'wav' };
  return { bytes: await writeFlac(audio, encoding === 'pcm16' ? 16 : 24), ending: 'flac' };
}

export interface PackedSound {
  id: string;
  name: string;
  file: string;
  bytes: Uint8Array<ArrayBuffer>;
}

export interface OpenedProject {
  document: ProjectDocument;
  sounds: PackedSound[];
  /** What is missing or broken, in words: the rest can be used. */
  problems: string[];
}

function broken(message: string, reason: string): AppError {
  return new AppError('document.invalid', message, { reason });
}

/** A name that leads out of the archive, or is none. */
function isUnsafe(name: string): boolean {
  return name.length === 0 || name.length > 500 || /^[\\/]|^[a-z]:|\\|(^|\/)\.\.(\/|$)|\0/i.test(name);
}

/**
 * Opens what {@link writeProjectZip} wrote, also of an earlier version.
 * @throws AppError `document.invalid` where it is no such zip or its project cannot be read, `document.newer` where a newer
 *   version wrote it, `format.too-large`
 */
export function readProjectZip(bytes: Uint8Array<ArrayBuffer>): OpenedProject {
  const files = unpacked(bytes);
  const json = files.get(PROJECT);
  if (!json) throw broken('this zip holds no project', `there is no ${PROJECT} in it`);
  const problems: string[] = [];
  const list = readContents(files.get(CONTENTS), problems);
  if (list && list.version > VERSION)
    throw new AppError('document.newer', 'a newer version of this program has written this project', {
      version: list.version,
      known: VERSION,
    });
  if (list && sha256(json) !== list.project.sha256) problems.push(`${PROJECT} is not as it was written`);
  const document = openDocument(parsed(json));
  const sounds: PackedSound[] = [];
  for (const source of Object.values(document.sources)) {
    const entry = list?.sounds.find(({ id }) => id === source.id);
    const found = entry && files.get(entry.file);
    if (!entry || !found) problems.push(`the sound ${source.name} is missing`);
    else {
      if (sha256(found) !== entry.sha256) problems.push(`the sound ${source.name} is not as it was written`);
      sounds.push({ id: source.id, name: source.name, file: entry.file, bytes: found });
    }
  }
  return { document, sounds, problems };
}

function parsed(json: Uint8Array): unknown {
  try {
    return JSON.parse(strFromU8(json));
  } catch (error) {
    throw broken(`${PROJECT} in this zip cannot be read`, error instanceof Error ? error.message : String(error));
  }
}

function readContents(bytes: Uint8Array | undefined, problems: string[]): Contents | null {
  if (!bytes) {
    problems.push(`${CONTENTS} is missing: which sound is which cannot be told`);
    return null;
  }
  try {
    return contents.parse(JSON.parse(strFromU8(bytes)));
  } catch {
    problems.push(`${CONTENTS} cannot be read: which sound is which cannot be told`);
    return null;
  }
}

function unpacked(bytes: Uint8Array<ArrayBuffer>): Map<string, Uint8Array<ArrayBuffer>> {
  let total = 0;
  let count = 0;
  let refused: AppError | null = null;
  const filter = ({ name, originalSize }: { name: string; originalSize: number }) => {
    if (refused) return false;
    const isJson = name.endsWith('.json');
    total += originalSize;
    if (isUnsafe(name))
      refused = broken('this zip is refused', `it names a place outside of itself: ${name.slice(0, 60)}`);
    else if (++count > MOST_FILES) refused = broken('this zip is refused', `it holds more than ${MOST_FILES} files`);
    else if (total > MOST_BYTES || (isJson && originalSize > MOST_JSON_BYTES))
      refused = new AppError('format.too-large', 'what this zip unpacks to is too large', { bytes: total });
    return !refused && (isJson || name.startsWith('sounds/')) && !name.endsWith('/');
  };
  let files: Record<string, Uint8Array>;
  try {
    files = unzipSync(bytes, { filter });
  } catch (error) {
    throw refused ?? broken('this is no zip, or a broken one', error instanceof Error ? error.message : String(error));
  }
  if (refused) throw refused as AppError;
  return new Map(Object.entries(files) as [string, Uint8Array<ArrayBuffer>][]);
}
