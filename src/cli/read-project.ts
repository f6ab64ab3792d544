/** Opens projects that were taken away as a zip, for the command line; every failure names the file. */
import { readFile } from 'node:fs/promises';
import type { AudioData } from '#core/dsp/audio.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { decodeSoundFile } from '#core/formats/decode.ts';
import { orderLayout } from '#core/order/layout.ts';
import { patternLengthTicks } from '#core/queries/patterns.ts';
import { readProjectZip } from '#core/takeaway/project-zip.ts';
import { InputError } from './read-audio.ts';

export interface ReadProject {
  document: ProjectDocument;
  assets: Map<string, AudioData>;
  /** What is missing or broken in it. */
  problems: string[];
}

export async function readProject(file: string): Promise<ReadProject> {
  try {
    const { document, sounds, problems } = readProjectZip(Uint8Array.from(await readFile(file)));
    const assets = new Map<string, AudioData>();
    for (const { id, bytes } of sounds) assets.set(id, (await decodeSoundFile(bytes)).audio);
    for (const problem of problems) process.stderr.write(`${file}: ${problem}\n`);
    return { document, assets, problems };
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') throw new InputError(file, 'there is no such file');
    const { details, message } = error as { details?: { reason?: string }; message: string };
    throw new InputError(file, details?.reason ? `${message}: ${details.reason}` : message);
  }
}

/** What of the song is rendered: its running order if it has one and nothing else is said, else rounds of what is on. */
export function songRange(document: ProjectDocument, rounds: number | null) {
  const { lengthTicks } = orderLayout(document);
  if (rounds === null && lengthTicks > 0) return { lengthTicks, followsOrder: true };
  const lengths = Object.values(document.parts).map((part) => patternLengthTicks(document, part.activePatternId));
  return { lengthTicks: Math.max(0, ...lengths) * (rounds ?? 1), followsOrder: false };
}
