/**
 * Saves that were not acknowledged yet, kept in the browser's own storage: what a crash or a closed window would lose is
 * sent again when the project is next opened.
 */
import type { SaveRequest } from '#core/api/projects.ts';
import { jsonText } from '../api/json-text.ts';

const PREFIX = 'yappa.unsaved.';

export interface UnsavedStore {
  put(projectId: string, save: SaveRequest): void;
  remove(projectId: string, saveId: string): void;
  list(projectId: string): SaveRequest[];
}

function keyOf(projectId: string, saveId: string): string {
  return `${PREFIX}${projectId}.${saveId}`;
}

/** @param storage as `localStorage`; where it is full or forbidden nothing is kept, and saving goes on as it would */
export function unsavedIn(storage: Storage): UnsavedStore {
  return {
    put(projectId, save) {
      try {
        storage.setItem(keyOf(projectId, save.saveId), jsonText(save));
      } catch {
        // The save itself is still tried.
      }
    },
    remove(projectId, saveId) {
      try {
        storage.removeItem(keyOf(projectId, saveId));
      } catch {
        // It is acknowledged: sending it once more does no harm.
      }
    },
    list(projectId) {
      try {
        const keys = Array.from({ length: storage.length }, (_, index) => storage.key(index)!);
        return keys
          .filter((key) => key.startsWith(`${PREFIX}${projectId}.`))
          .map((key) => JSON.parse(storage.getItem(key)!) as SaveRequest)
          .sort((a, b) => a.baseRevision - b.baseRevision);
      } catch {
        return [];
      }
    },
  };
}
