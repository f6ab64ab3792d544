<script setup lang="ts">
/**
 * The sounds of the shelf as a table: sorted by any column, several chosen, one under the cursor. Arrow keys move the
 * cursor (with Shift they choose), Space hears, Enter cuts.
 */
import { computed, nextTick, ref, useTemplateRef } from 'vue';
import type { SourceSummary } from '../../api/client.ts';
import { secondsOf } from '../../audio/library.ts';
import { useListening } from '../../stores/shelf/listening.ts';
import { usePreview } from '../../stores/sound/preview.ts';
import SoundRow from './SoundRow.vue';

const collator = new Intl.Collator();
const chosen = defineModel<string[]>({ required: true });
const { sources } = defineProps<{ sources: readonly SourceSummary[] }>();
const emit = defineEmits<{ cut: [source: SourceSummary] }>();
const listening = useListening();
const preview = usePreview();
const table = useTemplateRef<{ $el: HTMLElement }>('table');

const HEADERS = [
  { title: 'hear', key: 'hear', sortable: false, width: 32, headerProps: { class: 'no-words' } },
  { title: 'picture', key: 'picture', sortable: false, width: 92, headerProps: { class: 'no-words' } },
  { title: 'name', key: 'name' },
  {
    title: 'tags',
    key: 'tags',
    value: (one: SourceSummary) => one.tags.join(),
  },
  { title: 'bars', key: 'bars', align: 'end', value: (one: SourceSummary) => one.facts.tempo?.bars ?? 0 },
  { title: 'tempo', key: 'tempo', align: 'end', value: (one: SourceSummary) => one.facts.tempo?.bpm ?? 0 },
  { title: 'length', key: 'seconds', align: 'end', value: secondsOf },
  { title: 'kHz', key: 'sampleRate', align: 'end' },
  { title: 'when', key: 'createdAt', align: 'end' },
] as const;
type Header = (typeof HEADERS)[number];
/** The table is given the rows in their order: it has all that are wanted to sort, and not only those it shows. */
const headers = HEADERS.map((header) => ({ ...header, sort: () => 0 }));
const sortBy = ref<{ key: string; order?: boolean | 'asc' | 'desc' }[]>([]);

function valueOf(header: Header, one: SourceSummary): string | number {
  return 'value' in header ? header.value(one) : (Reflect.get(one, header.key) as string | number);
}

const sorted = computed(() => {
  const [by] = sortBy.value;
  const header = HEADERS.find(({ key }) => key === by?.key);
  if (!by || !header) return [...sources];
  const sign = by.order === 'desc' ? -1 : 1;
  const rows = sources.map((source) => ({ source, value: valueOf(header, source) }));
  const compare = ({ value: a }: (typeof rows)[number], { value: b }: (typeof rows)[number]) =>
    typeof a === 'number' && typeof b === 'number' ? a - b : collator.compare(String(a), String(b));
  return rows.sort((a, b) => sign * compare(a, b)).map(({ source }) => source);
});

/** Of thousands the table takes its time: the first are shown, and the rest when asked for. */
const SHOWN_AT_FIRST = 500;
const showsAll = ref(false);
const items = computed(() => (showsAll.value ? sorted.value : sorted.value.slice(0, SHOWN_AT_FIRST)));
const moreCount = computed(() => sorted.value.length - items.value.length);

async function onKey(event: KeyboardEvent): Promise<void> {
  const target = event.target as HTMLElement;
  const at = sources.find(({ id }) => id === listening.cursorId);
  const by = { ArrowDown: 1, ArrowUp: -1, PageDown: 10, PageUp: -10 }[event.key];
  if (by !== undefined) {
    event.preventDefault();
    event.stopPropagation();
    // In the order that is shown: the cursor goes by it.
    const ids = items.value.map(({ id }) => id);
    const place = ids.indexOf(listening.cursorId ?? '');
    const next = ids[Math.max(0, Math.min(ids.length - 1, place + by))];
    if (next === undefined) return;
    const wasHeard = preview.previewId !== null && preview.previewId === listening.cursorId;
    if (event.shiftKey) chosen.value = [...new Set([...chosen.value, ...(at ? [at.id] : []), next])];
    listening.cursorId = next;
    if (wasHeard) void listening.play();
    await nextTick();
    table.value?.$el.querySelector(`[data-id="${next}"]`)?.scrollIntoView({ block: 'nearest' });
  } else if (at && !target.closest('button, input') && (event.key === ' ' || event.key === 'Enter')) {
    event.preventDefault();
    event.stopPropagation();
    if (event.key === ' ') void listening.toggle(at.id);
    else emit('cut', at);
  }
}
</script>

<template>
  <v-data-table-virtual
    ref="table"
    v-model="chosen"
    v-model:sort-by="sortBy"
    class="table"
    fixed-header
    show-select
    :headers="headers"
    :items="items"
    item-value="id"
    :item-height="32"
    tabindex="0"
    aria-label="Sounds"
    data-testid="sources"
    no-data-text="No sound is called that, or has these tags."
    @keydown="onKey"
  >
    <template #item="{ item, internalItem, index, itemRef, isSelected, toggleSelect }">
      <SoundRow
        :ref="itemRef"
        :source="item"
        :is-cursor="item.id === listening.cursorId"
        :is-chosen="isSelected([internalItem])"
        :is-playing="preview.previewId === item.id"
        :song-tempo="item.id === listening.cursorId && listening.isInTime ? listening.songTempo : null"
        @choose="toggleSelect(internalItem, index, $event)"
        @hear="listening.toggle(item.id)"
        @click="listening.cursorId = item.id"
        @dblclick="emit('cut', item)"
      />
    </template>
    <template v-if="moreCount > 0" #[`body.append`]>
      <tr class="more">
        <td :colspan="HEADERS.length + 1">
          <span class="quiet">and {{ moreCount.toLocaleString('en') }} more: search, or </span>
          <v-btn size="small" @click="showsAll = true">show all</v-btn>
        </td>
      </tr>
    </template>
  </v-data-table-virtual>
</template>

<style scoped>
.table :deep(tr) {
  cursor: default;
}
.table :deep(tr.cursor) {
  background: var(--sea-wash);
  box-shadow: inset 0 0 0 1.5px var(--sea);
}
.table :deep(td),
.table :deep(th) {
  white-space: nowrap;
}
/* All columns fit beside the details at 1280 pixels, also with a tempo that becomes another. */
.table :deep(.v-table__wrapper > table > * > tr > :nth-child(n + 4)) {
  padding-inline: 3px;
}
.more td {
  height: 44px;
}
@media (max-width: 859px) {
  .table :deep(td:nth-child(n + 6)),
  .table :deep(th:nth-child(n + 6)) {
    display: none;
  }
}
</style>
