/** What commands over several files have in common: progress, naming the bad ones, one JSON array at the end. */
import { basename, extname } from 'node:path';
import { NamesOnce } from '#core/formats/file-names.ts';
import { InputError } from './read-audio.ts';

/**
 * @param work is told of the file, and of its name without folder and ending, by which what is made of it is called: files
 * of one name from two folders are told apart by a number
 * @returns the exit code: 1 when any file could not be used; the others are done all the same
 */
export async function forEachFile(
  files: readonly string[],
  work: (file: string, stem: string) => Promise<unknown>,
): Promise<number> {
  const results: unknown[] = [];
  const stems = new NamesOnce();
  let exitCode = 0;
  for (const [index, file] of files.entries()) {
    if (files.length > 1) process.stderr.write(`${index + 1}/${files.length} ${file}\n`);
    try {
      results.push(await work(file, stems.take(basename(file, extname(file)))));
    } catch (error) {
      if (!(error instanceof InputError)) throw error;
      process.stderr.write(`${error.message}\n`);
      exitCode = 1;
    }
  }
  process.stdout.write(`${JSON.stringify(results)}\n`);
  return exitCode;
}
