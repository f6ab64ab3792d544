/** `capture FILE…`: the hits of recordings, one by one, as JSON. */
import { parseArgs } from 'node:util';
import { findTakes } from '#core/capture/find-takes.ts';
import { numberOption, UsageError } from './args.ts';
import { forEachFile } from './each-file.ts';
import { InputError, readAudioFile } from './read-audio.ts';

export function runCapture(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { open: { type: 'string' }, close: { type: 'string' }, pause: { type: 'string' } },
  });
  const level = { min: -120, max: 0 };
  const openDb = numberOption(values, 'open', level);
  const closeDb = numberOption(values, 'close', level);
  const leastPauseMs = numberOption(values, 'pause', { min: 1, max: 5000 });
  const wanted = {
    ...(openDb === undefined ? {} : { openDb }),
    ...(closeDb === undefined ? {} : { closeDb }),
    ...(leastPauseMs === undefined ? {} : { leastPauseMs }),
  };
  if (positionals.length === 0) throw new UsageError('name at least one sound file');
  return forEachFile(positionals, async (file) => {
    const { audio } = await readAudioFile(file);
    try {
      const { floor, settings, takes } = findTakes(audio, wanted);
      const rounded = (db: number) => Math.round(db * 10) / 10;
      return {
        file,
        noiseFloorDb: rounded(floor.levelDb),
        openDb: rounded(settings.openDb),
        closeDb: rounded(settings.closeDb),
        takes: takes.map(({ startFrame, endFrame }) => ({ startFrame, endFrame })),
      };
    } catch (error) {
      if (error instanceof RangeError) throw new InputError(file, error.message);
      throw error;
    }
  });
}
