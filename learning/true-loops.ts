/** Loops of a folder with truth (`truth.json`, format "loops-1"), as they are learned from. */
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { mixForReading } from '#core/dsp/audio.ts';
import { decodeSoundFile } from '#core/formats/decode.ts';
import type { TrueLoop } from '../bench/score-onsets.ts';

export interface Start {
  seconds: number;
  /** How long it swells. */
  riseSeconds: number;
  /** It may be marked or not. */
  isMasked: boolean;
}
export interface LoopToLearn {
  name: string;
  signal: Float32Array;
  rate: number;
  starts: Start[];
}

export async function* loopsToLearn(folder: string): AsyncIterable<LoopToLearn> {
  const { files } = JSON.parse(await readFile(join(folder, 'truth.json'), 'utf8')) as {
    files: Record<string, TrueLoop>;
  };
  for (const [name, loop] of Object.entries(files)) {
    const { audio } = await decodeSoundFile(await readFile(join(folder, name)));
    const starts = loop.onsets.map((onset) => ({
      seconds: (onset.frameExact ?? onset.frame) / loop.sampleRate,
      riseSeconds: (onset.riseMs ?? 0) / 1000,
      isMasked: onset.masked ?? false,
    }));
    yield { name, signal: mixForReading(audio), rate: audio.sampleRate, starts };
  }
}
