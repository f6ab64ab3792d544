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
  /** Lists of one name give to each other what they take: what is called `data-id` has come to a place of this one. */
  among?: { name: string; takes: (element: HTMLElement) => boolean; onTaken: (id: string, to: number) => void };
}

const ANIMATION_MS = 120;
/** Lists that give to each other, by name: what is dragged from one enters the others without a pointer that comes over them. */
const startsAmong = new Map<string, Set<() => void>>();

/** Of an element that holds lists of its own (`data-inner-list`) only the head and the edges are a place beside it. */
const HEAD_PX = 32;
const EDGE_PX = 10;
function isAmongInner(element: HTMLElement, { clientX, clientY }: MouseEvent): boolean {
  if (!element.querySelector('[data-inner-list]')) return false;
  const { left, right, top } = element.getBoundingClientRect();
  return clientX > left + EDGE_PX && clientX < right - EDGE_PX && clientY > top + HEAD_PX;
}

export function useReorder(list: Ref<HTMLElement | null>, { handle, fixed, onMoved, among }: ReorderOptions): void {
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
      onMove: ({ related }, event) =>
        (fixed === undefined || !related.matches(fixed)) && !(among && isAmongInner(related, event as MouseEvent)),
      ...(among && {
        group: {
          name: among.name,
          put: (_to: Sortable, _from: Sortable, element: HTMLElement) => among.takes(element),
        },
        onAdd: ({ oldIndex, newIndex, item, from }: Sortable.SortableEvent) => {
          from.insertBefore(item, from.children[oldIndex ?? 0] ?? null);
          const { id } = item.dataset;
          if (id !== undefined && newIndex !== undefined) among.onTaken(id, newIndex);
        },
      }),
      onUpdate: ({ oldIndex, newIndex, item, from }) => {
        if (oldIndex === undefined || newIndex === undefined || oldIndex === newIndex) return;
        from.removeChild(item);
        from.insertBefore(item, from.children[oldIndex] ?? null);
        onMoved(oldIndex, newIndex);
      },
    });
  }

  const startThis = () => void start();
  const others = among ? (startsAmong.get(among.name) ?? new Set()) : null;
  if (among) startsAmong.set(among.name, others!.add(startThis));
  const startAll = () => (others ? others.forEach((one) => one()) : startThis());
  useEventListener(list, ['pointerenter', 'pointerdown'], startAll, { passive: true });
  onScopeDispose(() => {
    others?.delete(startThis);
    sortable?.destroy();
  });
}
