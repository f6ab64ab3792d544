/** What a browser keeps between its windows, in memory: `newWindow` is a window of it, `closeAll` leaves what they kept. */
import type { Draft, UnsavedStore } from '../../src/web/saving/unsaved.ts';

export class KeptInMemory {
  readonly drafts = new Map<string, Draft>();
  isFull = false;
  /** A slow disk. */
  beforeRemove: () => Promise<void> = async () => undefined;
  private open = new Set<string>();
  private count = 0;

  newWindow(): UnsavedStore {
    const windowId = `window-${++this.count}`;
    const keyOf = (projectId: string, id: string) => `${projectId} ${id}`;
    this.open.add(windowId);
    return {
      windowId,
      put: async (draft) => {
        if (!this.isFull) this.drafts.set(keyOf(draft.projectId, draft.windowId), structuredClone(draft));
        return !this.isFull;
      },
      remove: async (projectId, id) => {
        await this.beforeRemove();
        this.drafts.delete(keyOf(projectId, id));
      },
      left: async (projectId) =>
        [...this.drafts.values()]
          .filter(
            (draft) => (projectId === undefined || draft.projectId === projectId) && !this.open.has(draft.windowId),
          )
          .sort((a, b) => a.changedAt - b.changedAt),
    };
  }

  closeAll(): void {
    this.open.clear();
  }
}
