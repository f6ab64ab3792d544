/** Reads sound files for the command line; every failure names the file. */
import { readFile } from 'node:fs/promises';
import { decodeSoundFile, type DecodedFile } from '#core/formats/decode.ts';

/** A file that could not be used: exit code 1. */
export class InputError extends Error {
  constructor(file: string, reason: string) {
    super(`${file}: ${reason}`);
  }
}

export async function readAudioFile(file: string): Promise<DecodedFile> {
  let bytes: Uint8Array;
  try {
    bytes = await readFile(file);
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code;
    throw new InputError(
      file,
      code === 'ENOENT' ? 'there is no such file' : `it cannot be read (${code ?? 'unknown reason'})`,
    );
  }
  try {
    return await decodeSoundFile(bytes);
  } catch (error) {
    throw new InputError(file, error instanceof Error ? error.message : String(error));
  }
}
