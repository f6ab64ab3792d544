/** Opens the database file, sets its ways and brings its tables up to date. */
import { existsSync, mkdirSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import Sqlite from 'better-sqlite3';
import { drizzle, type BetterSQLite3Database } from 'drizzle-orm/better-sqlite3';
import { migrate } from 'drizzle-orm/better-sqlite3/migrator';
import { checkDatabaseFile, damaged, newestMigration, UnusableDatabase } from './file.ts';
import * as schema from './schema.ts';

export type Db = BetterSQLite3Database<typeof schema> & { $client: Sqlite.Database };

export interface OpenDatabase {
  db: Db;
  close(): void;
}

/** Another process has the database: two that write would contradict each other. */
export class DatabaseInUse extends Error {}

/** How long another process that is about to end is waited for, in milliseconds. */
const WAIT_MS = 1500;

/** The committed migrations lie beside this file in the source tree, and are found from the built server too. */
function migrationsFolder(): string {
  const here = dirname(fileURLToPath(import.meta.url));
  const places = [join(here, 'migrations'), join(here, '../../src/server/db/migrations')];
  const found = places.find((place) => existsSync(join(place, 'meta', '_journal.json')));
  if (!found) throw new Error('the database migrations are missing from this installation');
  return found;
}

/** What SQLite says of a file that is not whole. */
const isDamage = (error: unknown) => /^SQLITE_(CORRUPT|NOTADB)/.test((error as { code?: string }).code ?? '');

/** @throws UnusableDatabase for what a newer version of this program has written: it would not be understood */
function refuseNewer(sqlite: Sqlite.Database, file: string, folder: string): void {
  const table = sqlite.prepare("SELECT 1 FROM sqlite_master WHERE name = '__drizzle_migrations'").get();
  if (!table) return;
  const { newest } = sqlite.prepare('SELECT max(created_at) AS newest FROM __drizzle_migrations').get() as {
    newest: number | null;
  };
  if (Number(newest) > newestMigration(folder)) {
    throw new UnusableDatabase(
      `${file} was written by a newer version of this program: update the program to open it.`,
    );
  }
}

/**
 * Opens a database for this process alone; the lock goes with the process, however that ends. A save is acknowledged only
 * when it is on disk (`synchronous = FULL`), so killing the server loses none.
 * @param file path of the database, or `:memory:`
 * @throws DatabaseInUse, or UnusableDatabase for what is no database, is damaged or of a newer version
 */
export function openDatabase(file: string): OpenDatabase {
  checkDatabaseFile(file);
  if (file !== ':memory:') mkdirSync(dirname(file), { recursive: true });
  const sqlite = new Sqlite(file, { timeout: WAIT_MS });
  try {
    sqlite.pragma('locking_mode = EXCLUSIVE');
    // Room that is given up goes back to the disk; it takes effect in a new file only.
    sqlite.pragma('auto_vacuum = INCREMENTAL');
    sqlite.pragma('journal_mode = WAL');
    sqlite.exec('BEGIN EXCLUSIVE; COMMIT');
  } catch (error) {
    sqlite.close();
    const isBusy = (error as { code?: string }).code?.startsWith('SQLITE_BUSY');
    if (isDamage(error)) throw damaged(file);
    throw isBusy ? new DatabaseInUse(`${file} is in use`) : error;
  }
  sqlite.pragma('synchronous = FULL');
  sqlite.pragma('foreign_keys = ON');
  const db = drizzle(sqlite, { schema });
  const folder = migrationsFolder();
  try {
    refuseNewer(sqlite, file, folder);
    migrate(db, { migrationsFolder: folder });
  } catch (error) {
    sqlite.close();
    throw isDamage((error as { cause?: unknown }).cause ?? error) ? damaged(file) : error;
  }
  return { db, close: () => sqlite.close() };
}
