/** Looks at a database file before it is opened: what is none, is broken or is of a newer program is told apart. */
import { closeSync, existsSync, openSync, readFileSync, readSync, statSync } from 'node:fs';
import { join } from 'node:path';

/** The file cannot be used, and why, in words that name the way out. */
export class UnusableDatabase extends Error {}

/** The database header string, the page size, and the size in pages with what vouches for it: SQLite file format, 1.3. */
const MAGIC = 'SQLite format 3\0';
const HEADER_BYTES = 100;

/**
 * @param file a path; a file that is not there, or is empty, will be made
 * @throws UnusableDatabase
 */
export function checkDatabaseFile(file: string): void {
  if (file === ':memory:' || !existsSync(file)) return;
  const { size } = statSync(file);
  if (size === 0) return;
  const header = Buffer.alloc(HEADER_BYTES);
  const handle = openSync(file, 'r');
  try {
    readSync(handle, header, 0, HEADER_BYTES, 0);
  } finally {
    closeSync(handle);
  }
  if (header.toString('latin1', 0, 16) !== MAGIC) {
    throw new UnusableDatabase(`${file} is not a database: put it elsewhere, or put a backup in its place.`);
  }
  const pageBytes = header.readUInt16BE(16) === 1 ? 65_536 : header.readUInt16BE(16);
  const isVouchedFor = header.readUInt32BE(24) === header.readUInt32BE(92);
  // What is newer than the file lies in the log beside it.
  const hasLog = existsSync(`${file}-wal`) && statSync(`${file}-wal`).size > 0;
  if (isVouchedFor && !hasLog && size < header.readUInt32BE(28) * pageBytes) throw damaged(file);
}

export function damaged(file: string): UnusableDatabase {
  return new UnusableDatabase(`${file} is damaged: a piece of it is missing. Put a backup in its place.`);
}

/** When the newest migration of this program was written, as the journal beside them says. */
export function newestMigration(folder: string): number {
  const journal = JSON.parse(readFileSync(join(folder, 'meta', '_journal.json'), 'utf8')) as {
    entries: { when: number }[];
  };
  return Math.max(...journal.entries.map(({ when }) => when));
}
