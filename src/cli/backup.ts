/** `backup --out FILE`: everything of the running application as one file. */
import { createWriteStream } from 'node:fs';
import { rename, rm, stat } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream } from 'node:stream/web';
import { parseArgs } from 'node:util';
import { UsageError } from './args.ts';
import { InputError } from './read-audio.ts';
import { Server } from './server.ts';

export async function runBackup(args: string[]): Promise<number> {
  const { values } = parseArgs({ args, options: { out: { type: 'string' }, port: { type: 'string' } } });
  const { out } = values;
  if (out === undefined) throw new UsageError('name the file to write with --out');
  if (await stat(out).catch(() => null)) throw new InputError(out, 'it is there already: give another name');
  const { body } = await Server.of(values).ask('/backup');
  const part = `${out}.part`;
  try {
    await pipeline(Readable.fromWeb(body as ReadableStream), createWriteStream(part));
    await rename(part, out);
  } catch (error) {
    await rm(part, { force: true });
    throw error;
  }
  process.stdout.write(`${JSON.stringify([{ file: out, bytes: (await stat(out)).size }])}\n`);
  return 0;
}
