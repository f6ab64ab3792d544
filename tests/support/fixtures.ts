/** The small set of loops with exact truth that lies in tests/fixtures/loops. */
import { readFile } from 'node:fs/promises';
import type { AudioData } from '#core/dsp/audio.ts';
import { decodeSoundFile } from '#core/formats/decode.ts';
import type { TrueLoop } from '../../bench/score-onsets.ts';

const folder = new URL('../fixtures/', import.meta.url);

export function fixtureBytes(path: string): Promise<Buffer> {
  return readFile(new URL(path, folder));
}

export async function fixtureLoops(): Promise<{ name: string; truth: TrueLoop; audio: AudioData }[]> {
  const truth = JSON.parse((await fixtureBytes('loops/truth.json')).toString()) as { files: Record<string, TrueLoop> };
  return Promise.all(
    Object.entries(truth.files).map(async ([name, loop]) => {
      const { audio } = await decodeSoundFile(await fixtureBytes(`loops/${name}`));
      return { name, truth: loop, audio };
    }),
  );
}
