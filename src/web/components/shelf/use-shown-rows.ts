/** Which rows of a long table are in sight: only those are in the page, and what is above and below is room. */
import { useElementSize, useMediaQuery, useScroll } from '@vueuse/core';
import { computed, ref, watch, type ComputedRef, type Ref } from 'vue';

/** Before the first row has been measured. */
const USUAL_ROW_PX = 29;
/** Rows come and go together, and so many are there above and below those in sight. */
const ROWS_AT_A_TIME = 4;

interface ShownRows {
  /** From this row on, and up to that one without it. */
  range: ComputedRef<{ from: number; to: number }>;
  rowPx: Ref<number>;
  /** Scrolls no further than is needed to see a row whole. */
  reveal: (row: number) => void;
}

/** @param table a table of Vuetify with a fixed header, whose rows have a `data-id` and are all of one height */
export function useShownRows(table: Readonly<Ref<{ $el: HTMLElement } | null>>, count: () => number): ShownRows {
  const scroller = computed(() => table.value?.$el.querySelector<HTMLElement>('.v-table__wrapper'));
  const { y } = useScroll(scroller);
  const { height } = useElementSize(scroller);
  const isCoarse = useMediaQuery('(pointer: coarse)');
  const rowPx = ref(USUAL_ROW_PX);
  watch(
    [() => count() > 0, height, isCoarse],
    () => (rowPx.value = table.value?.$el.querySelector<HTMLElement>('tr[data-id]')?.offsetHeight ?? rowPx.value),
    { flush: 'post', immediate: true },
  );

  const range = computed(() => {
    const most = Math.ceil(height.value / rowPx.value) + 3 * ROWS_AT_A_TIME;
    const first = Math.floor(y.value / rowPx.value / ROWS_AT_A_TIME) - 1;
    const from = Math.max(0, Math.min(first * ROWS_AT_A_TIME, count() - most));
    return { from, to: Math.min(count(), from + most) };
  });

  function reveal(row: number): void {
    const head = scroller.value?.querySelector('thead')?.offsetHeight ?? 0;
    const top = row * rowPx.value;
    const last = top + rowPx.value - (height.value - head);
    if (y.value > top) y.value = top;
    else if (y.value < last) y.value = last;
  }

  return { range, rowPx, reveal };
}
