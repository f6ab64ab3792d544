/**
 * What is not saved yet, kept in the browser's database, for each project and window of its own: what a crash, a closed
 * window or a server that is away would lose is sent when the project is next opened. What a window keeps that is still
 * open is its own business: each holds a lock by which the others know.
 */
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { SaveRequest } from '#core/api/projects.ts';

/** All that one window has not saved of one project. */
export interface Draft {
  projectId: string;
  windowId: string;
  changedAt: number;
  /** In order: the first stands on its own base revision, each later one on what the one before it makes. */
  saves: SaveRequest[];
}

export interface UnsavedStore {
  readonly windowId: string;
  /** Keeps a draft in place of the one of its project and window. False where the browser keeps nothing: full, forbidden. */
  put(draft: Draft): Promise<boolean>;
  remove(projectId: string, windowId: string): Promise<void>;
  /** Drafts of windows that are gone, the oldest first; of one project, or of all. */
  left(projectId?: string): Promise<Draft[]>;
}

interface Schema extends DBSchema {
  drafts: { key: [string, string]; value: Draft };
}

const DATABASE = 'yappa';
const LOCK_PREFIX = 'yappa.window.';

export function browserUnsaved(): UnsavedStore {
  const windowId = crypto.randomUUID();
  const alive = navigator.locks?.request(LOCK_PREFIX + windowId, () => new Promise(() => undefined));
  // A window that is going gives up its lock.
  alive?.catch(() => undefined);
  let opening: Promise<IDBPDatabase<Schema>> | null = null;
  /** Rejects where the browser has none. */
  const database = async () => {
    opening ??= openDB<Schema>(DATABASE, 1, {
      upgrade: (db) => void db.createObjectStore('drafts', { keyPath: ['projectId', 'windowId'] }),
      terminated: () => (opening = null),
    });
    try {
      return await opening;
    } catch (error) {
      opening = null;
      throw error;
    }
  };
  // Opened before it is needed: a page that is being left has no time for it.
  void database().catch(() => undefined);

  async function isOpen(): Promise<(id: string) => boolean> {
    const { held = [] } = (await navigator.locks?.query()) ?? {};
    const names = new Set(held.map(({ name }) => name));
    return (id) => id === windowId || names.has(LOCK_PREFIX + id);
  }

  return {
    windowId,
    async put(draft) {
      try {
        const transaction = (await database()).transaction('drafts', 'readwrite');
        // Without waiting for the answer to each request: the page may be going.
        void transaction.store.put(draft).catch(() => undefined);
        transaction.commit();
        await transaction.done;
        return true;
      } catch {
        return false;
      }
    },
    async remove(projectId, ofWindow) {
      try {
        await (await database()).delete('drafts', [projectId, ofWindow]);
      } catch {
        // What it holds is acknowledged: the server knows it when it is sent once more.
      }
    },
    async left(projectId) {
      try {
        const db = await database();
        const range = projectId === undefined ? undefined : IDBKeyRange.bound([projectId], [projectId, []]);
        const [drafts, isOpenWindow] = await Promise.all([db.getAll('drafts', range), isOpen()]);
        return drafts.filter((draft) => !isOpenWindow(draft.windowId)).sort((a, b) => a.changedAt - b.changedAt);
      } catch {
        return [];
      }
    },
  };
}

/** Where a window keeps what it has not saved; tests put another place here. */
export const keeping = { open: browserUnsaved };
