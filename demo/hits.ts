/** Single hits to build demo loops from; where they come from stands in demo/hits/LICENSE.txt. */
import { readFile } from 'node:fs/promises';
import { decodeSoundFile } from '#core/formats/decode.ts';

export type HitName = string;

interface HitEntry {
  name: HitName;
  offset: number;
  frames: number;
}

/** Samples of every hit by name, mono at 44.1 kHz. */
export async function loadHits(): Promise<ReadonlyMap<HitName, Float32Array>> {
  const { audio } = await decodeSoundFile(await readFile(new URL('./hits/hits.flac', import.meta.url)));
  const list = JSON.parse(await readFile(new URL('./hits/hits.json', import.meta.url), 'utf8')) as HitEntry[];
  const samples = audio.channels[0]!;
  return new Map(list.map(({ name, offset, frames }) => [name, samples.slice(offset, offset + frames)]));
}
