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
import HearButton from '../shared/HearButton.vue';
import SkylineMini from '../shared/SkylineMini.vue';
import { whenWords } from './shelf-words.ts';

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

function rowProps({ item }: { item: SourceSummary }): Record<string, unknown> {
  return {
    class: { cursor: item.id === listening.cursorId },
    'aria-current': item.id === listening.cursorId ? 'true' : undefined,
    'data-id': item.id,
    onClick: () => (listening.cursorId = item.id),
    onDblclick: () => emit('cut', item),
  };
}

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

/** Half and double are told apart at two digits. */
const tempoWords = (bpm: number) => bpm.toFixed(2);
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
    :row-props="rowProps"
    tabindex="0"
    aria-label="Sounds"
    data-testid="sources"
    no-data-text="No sound is called that, or has these tags."
    @keydown="onKey"
  >
    <template #[`item.hear`]="{ item }">
      <HearButton :name="item.name" :playing="preview.previewId === item.id" @click.stop="listening.toggle(item.id)" />
    </template>
    <template #[`item.picture`]="{ item }">
      <span class="sky"><SkylineMini :levels="item.facts.skyline" /></span>
    </template>
    <template #[`item.name`]="{ item }"
      ><b class="one-line name">{{ item.name }}</b></template
    >
    <template #[`item.tags`]="{ item }">
      <span class="tags"
        ><span v-for="tag in item.tags" :key="tag" class="tag">{{ tag }}</span></span
      >
    </template>
    <template #[`item.bars`]="{ item }"
      ><span class="mono">{{ item.facts.tempo?.bars ?? '' }}</span></template
    >
    <template #[`item.tempo`]="{ item }">
      <span v-if="item.facts.tempo" class="mono">
        <template v-if="item.id === listening.cursorId && listening.isInTime"
          ><span class="quiet">{{ tempoWords(item.facts.tempo.bpm) }} → </span
          ><b>{{ tempoWords(listening.songTempo!) }}</b></template
        ><template v-else>{{ tempoWords(item.facts.tempo.bpm) }}</template>
      </span>
    </template>
    <template #[`item.seconds`]="{ item }"
      ><span class="mono">{{ secondsOf(item).toFixed(3) }}</span> s</template
    >
    <template #[`item.sampleRate`]="{ item }"
      ><span class="mono">{{ item.sampleRate / 1000 }}</span></template
    >
    <template #[`item.createdAt`]="{ item }">{{ whenWords(item.createdAt) }}</template>
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
.sky {
  display: block;
  height: 20px;
  width: 84px;
  border-bottom: 1px solid var(--ink);
}
.name {
  display: block;
  max-width: 230px;
  font-weight: 600;
}
.tags {
  display: flex;
  gap: 4px;
}
/* Only told, not pressed: many rows of chips take their time. */
.tag {
  height: 20px;
  padding: 0 7px;
  border: 1px solid var(--rule);
  border-radius: 10px;
  font-size: 12px;
  line-height: 18px;
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
