<script setup lang="ts">
/**
 * The sounds of the shelf as a table: sorted by any column, several chosen, one under the cursor. Arrow keys move the
 * cursor (with Shift they choose), Space hears, Enter cuts.
 */
import { computed, shallowRef, useTemplateRef } from 'vue';
import type { SourceSummary } from '../../api/client.ts';
import { secondsOf } from '../../audio/library.ts';
import { useListening } from '../../stores/shelf/listening.ts';
import { usePreview } from '../../stores/sound/preview.ts';
import SoundRow from './SoundRow.vue';
import { useShownRows } from './use-shown-rows.ts';

const collator = new Intl.Collator();
const chosen = defineModel<string[]>({ required: true });
const { sources } = defineProps<{ sources: readonly SourceSummary[] }>();
const emit = defineEmits<{ cut: [source: SourceSummary] }>();
const listening = useListening();
const preview = usePreview();
const table = useTemplateRef<{ $el: HTMLElement }>('table');

interface Column {
  key: string;
  /** What it is sorted by. */
  by: (one: SourceSummary) => string | number;
  atEnd?: boolean;
}
const COLUMNS: readonly Column[] = [
  { key: 'name', by: (one) => one.name },
  { key: 'tags', by: (one) => one.tags.join() },
  { key: 'bars', by: (one) => one.facts.tempo?.bars ?? 0, atEnd: true },
  { key: 'tempo', by: (one) => one.facts.tempo?.bpm ?? 0, atEnd: true },
  { key: 'length', by: secondsOf, atEnd: true },
  { key: 'kHz', by: (one) => one.sampleRate, atEnd: true },
  { key: 'when', by: (one) => one.createdAt, atEnd: true },
];
/** With the choice, the button and the picture. */
const COLUMN_COUNT = COLUMNS.length + 3;

const sortBy = shallowRef<{ column: Column; sign: 1 | -1 } | null>(null);
/** Upwards, downwards, as they came. */
function sort(column: Column): void {
  const now = sortBy.value?.column === column ? sortBy.value.sign : null;
  sortBy.value = now === -1 ? null : { column, sign: now === 1 ? -1 : 1 };
}
function orderOf(column: Column): 'ascending' | 'descending' | undefined {
  if (sortBy.value?.column !== column) return undefined;
  return sortBy.value.sign === 1 ? 'ascending' : 'descending';
}

const sorted = computed(() => {
  if (!sortBy.value) return sources;
  const { column, sign } = sortBy.value;
  const rows = sources.map((source) => ({ source, value: column.by(source) }));
  const compare = ({ value: a }: (typeof rows)[number], { value: b }: (typeof rows)[number]) =>
    typeof a === 'number' && typeof b === 'number' ? a - b : collator.compare(String(a), String(b));
  return rows.sort((a, b) => sign * compare(a, b)).map(({ source }) => source);
});

const { range, rowPx, reveal } = useShownRows(table, () => sorted.value.length);
/** There is a row for every line in sight, which shows another sound when that comes there. */
const rows = computed(() => {
  const { from, to } = range.value;
  return sorted.value.slice(from, to).map((source, at) => ({ source, line: (from + at) % (to - from) }));
});

const chosenSet = computed(() => new Set(chosen.value));
const areAllChosen = computed(() => sources.length > 0 && sources.every(({ id }) => chosenSet.value.has(id)));
function chooseAll(): void {
  chosen.value = areAllChosen.value ? [] : sorted.value.map(({ id }) => id);
}
/** Choosing with Shift goes on from here. */
let lastChosenId: string | null = null;
function choose(id: string, event: MouseEvent): void {
  const ids = sorted.value.map((source) => source.id);
  const from = event.shiftKey && lastChosenId !== null ? ids.indexOf(lastChosenId) : -1;
  const at = ids.indexOf(id);
  const these = new Set(from < 0 ? [id] : ids.slice(Math.min(at, from), Math.max(at, from) + 1));
  const others = chosen.value.filter((one) => !these.has(one));
  chosen.value = chosenSet.value.has(id) ? others : [...others, ...these];
  lastChosenId = id;
}

function onKey(event: KeyboardEvent): void {
  const target = event.target as HTMLElement;
  const at = sources.find(({ id }) => id === listening.cursorId);
  const by = { ArrowDown: 1, ArrowUp: -1, PageDown: 10, PageUp: -10 }[event.key];
  if (by !== undefined) {
    event.preventDefault();
    event.stopPropagation();
    // In the order that is shown: the cursor goes by it.
    const ids = sorted.value.map(({ id }) => id);
    const place = ids.indexOf(listening.cursorId ?? '');
    const next = ids[Math.max(0, Math.min(ids.length - 1, place + by))];
    if (next === undefined) return;
    const wasHeard = preview.previewId !== null && preview.previewId === listening.cursorId;
    if (event.shiftKey) chosen.value = [...new Set([...chosen.value, ...(at ? [at.id] : []), next])];
    listening.cursorId = next;
    if (wasHeard) void listening.play();
    reveal(ids.indexOf(next));
  } else if (at && !target.closest('button, input') && (event.key === ' ' || event.key === 'Enter')) {
    event.preventDefault();
    event.stopPropagation();
    if (event.key === ' ') void listening.toggle(at.id);
    else emit('cut', at);
  }
}
</script>

<template>
  <v-table
    ref="table"
    class="table"
    :class="{ 'in-time': listening.isInTime }"
    density="compact"
    fixed-header
    tabindex="0"
    role="group"
    aria-label="Sounds"
    data-testid="sources"
    @keydown="onKey"
  >
    <thead>
      <tr>
        <th class="choose">
          <v-checkbox-btn
            density="compact"
            aria-label="Choose all"
            :model-value="areAllChosen"
            :indeterminate="!areAllChosen && chosen.length > 0"
            @click.stop
            @update:model-value="chooseAll"
          />
        </th>
        <th class="hear"><span class="unseen">hear</span></th>
        <th class="picture"><span class="unseen">picture</span></th>
        <th
          v-for="column in COLUMNS"
          :key="column.key"
          :class="[column.key, { end: column.atEnd }]"
          :aria-sort="orderOf(column)"
        >
          <v-btn
            variant="text"
            class="sort"
            :append-icon="orderOf(column) && (orderOf(column) === 'ascending' ? '$sortAsc' : '$sortDesc')"
            @click="sort(column)"
            >{{ column.key }}</v-btn
          >
        </th>
      </tr>
    </thead>
    <tbody>
      <tr class="room" aria-hidden="true">
        <td :colspan="COLUMN_COUNT" :style="{ height: `${range.from * rowPx}px` }" />
      </tr>
      <SoundRow
        v-for="{ source, line } in rows"
        :key="line"
        :source="source"
        :is-cursor="source.id === listening.cursorId"
        :is-chosen="chosenSet.has(source.id)"
        :is-playing="preview.previewId === source.id"
        :song-tempo="source.id === listening.cursorId && listening.isInTime ? listening.songTempo : null"
        @choose="choose(source.id, $event)"
        @hear="listening.toggle(source.id)"
        @click="listening.cursorId = source.id"
        @dblclick="emit('cut', source)"
      />
      <tr class="room" aria-hidden="true">
        <td :colspan="COLUMN_COUNT" :style="{ height: `${(sorted.length - range.to) * rowPx}px` }" />
      </tr>
      <tr v-if="sources.length === 0">
        <td :colspan="COLUMN_COUNT" class="quiet none">No sound is called that, or has these tags.</td>
      </tr>
    </tbody>
  </v-table>
</template>

<style scoped>
.table :deep(table) {
  table-layout: fixed;
}
.table :deep(td),
.table :deep(th) {
  white-space: nowrap;
  overflow: hidden;
  transition: none;
}
/* All columns fit beside the details at 1280 pixels, also with a tempo that becomes another. */
.table :deep(.v-table__wrapper > table > * > tr > :nth-child(n + 4)) {
  padding-inline: 3px;
}
.choose {
  width: 44px;
}
.hear {
  width: 38px;
}
.picture {
  width: 96px;
}
.tags {
  width: 13%;
}
.bars {
  width: 44px;
}
.tempo {
  width: 76px;
}
/* From its own tempo to the song's. */
.in-time .tempo {
  width: 120px;
}
.length {
  width: 72px;
}
.kHz {
  width: 46px;
}
.when {
  width: 90px;
}
.end {
  text-align: end;
}
.sort.v-btn.v-btn--density-default {
  width: 100%;
  height: 24px;
  min-width: 0;
  padding: 0;
  justify-content: start;
  font-size: 13px;
  font-weight: 500;
  color: var(--ink-quiet);
}
.end .sort.v-btn.v-btn--density-default {
  justify-content: end;
}
/* Above and below what is in sight. */
.table :deep(.v-table__wrapper > table > tbody > tr.room > td) {
  padding: 0;
  border: 0;
}
.none {
  text-align: center;
}
@media (max-width: 859px) {
  /* What is left of the columns takes all the room. */
  .table :deep(table) {
    table-layout: auto;
  }
  .table :deep(tr:not(.room) > :nth-child(n + 6)) {
    display: none;
  }
}
</style>
