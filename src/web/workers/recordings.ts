/** Recordings on the disk of the browser while they are made: pieces of half a second, so that a crash loses no more. */
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';

export interface StoredRecording {
  id: string;
  sampleRate: number;
  channels: number;
  /** When it began. */
  at: number;
}

interface Recordings extends DBSchema {
  recordings: { key: string; value: StoredRecording };
  /** Left and right, by the recording and the number of the piece. */
  pieces: { key: [string, number]; value: { left: Float32Array; right: Float32Array } };
}

let opened: Promise<IDBPDatabase<Recordings>> | null = null;
const db = () =>
  (opened ??= openDB<Recordings>('yappa-recordings', 1, {
    upgrade(database) {
      database.createObjectStore('recordings', { keyPath: 'id' });
      database.createObjectStore('pieces');
    },
  }));
const piecesOf = (id: string) => IDBKeyRange.bound([id, 0], [id, Infinity]);

export async function beginRecording(recording: StoredRecording): Promise<void> {
  await (await db()).put('recordings', recording);
}

export async function addPiece(id: string, number: number, left: Float32Array, right: Float32Array): Promise<void> {
  await (await db()).put('pieces', { left, right }, [id, number]);
}

export async function forgetRecording(id: string): Promise<void> {
  const database = await db();
  await database.delete('pieces', piecesOf(id));
  await database.delete('recordings', id);
}

/** Those that were not fetched: what a crash has left. */
export async function leftRecordings(): Promise<StoredRecording[]> {
  return (await db()).getAll('recordings');
}

/**
 * Calls back with each piece, in order; one at a time, so that no more than that is held.
 * @param first the number of the first one, counted from 0 @param count so many at most
 */
export async function eachPiece(
  id: string,
  visit: (left: Float32Array, right: Float32Array) => void,
  first = 0,
  count = Infinity,
): Promise<void> {
  const transaction = (await db()).transaction('pieces');
  let cursor = await transaction.store.openCursor(IDBKeyRange.bound([id, first], [id, first + count - 1]));
  while (cursor) {
    visit(cursor.value.left, cursor.value.right);
    cursor = await cursor.continue();
  }
}
