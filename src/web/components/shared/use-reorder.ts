/**
 * Putting a list in order by dragging. The library that drags is fetched when the pointer first comes over the list; it
 * moves elements, which are put back at once: the list is drawn from the document, and from nowhere else.
 */
import { useEventListener } from '@vueuse/core';
import { onScopeDispose, type Ref } from 'vue';
import type Sortable from 'sortablejs';

export interface ReorderOptions {
  /** What it is taken by; anywhere when left out. */
  handle?: string;
  /** Elements that stay where they are, in front of the others. */
  fixed?: string;
  /** An element was dragged from one place of the list to another. */
  onMoved: (from: number, to: number) => void;
}

const ANIMATION_MS = 120;

export function useReorder(list: Ref<HTMLElement | null>, { handle, fixed, onMoved }: ReorderOptions): void {
  let sortable: Sortable | null = null;
  let isLoading = false;

  async function start(): Promise<void> {
    if (isLoading) return;
    isLoading = true;
    const { default: Library } = await import('sortablejs');
    if (!list.value?.isConnected) return;
    sortable = Library.create(list.value, {
      animation: ANIMATION_MS,
      handle,
      filter: fixed,
      preventOnFilter: false,
      onMove: ({ related }) => fixed === undefined || !related.matches(fixed),
      onUpdate: ({ oldIndex, newIndex, item, from }) => {
        if (oldIndex === undefined || newIndex === undefined || oldIndex === newIndex) return;
        from.removeChild(item);
        from.insertBefore(item, from.children[oldIndex] ?? null);
        onMoved(oldIndex, newIndex);
      },
    });
  }

  useEventListener(list, ['pointerenter', 'pointerdown'], () => void start(), { passive: true });
  onScopeDispose(() => sortable?.destroy());
}
