/** `root FILE…`: the note of each file, as JSON; null where there is no pitch. */
import { parseArgs } from 'node:util';
import { readRootNote } from '#core/analysis/root-note.ts';
import { mixForReading } from '#core/dsp/audio.ts';
import { UsageError } from './args.ts';
import { forEachFile } from './each-file.ts';
import { readAudioFile } from './read-audio.ts';

export async function runRoot(args: string[]): Promise<number> {
  const { positionals } = parseArgs({ args, allowPositionals: true, options: {} });
  if (positionals.length === 0) throw new UsageError('name at least one sound file');
  return forEachFile(positionals, async (file) => {
    const { audio } = await readAudioFile(file);
    const pitch = readRootNote(mixForReading(audio), audio.sampleRate);
    return {
      file,
      midi: pitch?.midi ?? null,
      cents: pitch?.cents ?? null,
      confidence: pitch ? Math.round(pitch.confidence * 10_000) / 10_000 : 0,
    };
  });
}
