<script setup lang="ts">
/** One thing that can leave: ticked or not, with its settings, the file names, length and size it will have. */
import { computed } from 'vue';
import { formatSeconds } from '#core/units/time.ts';
import type { RowSummary } from '../../stores/away/row-summary.ts';
import { bytesWords } from './away-words.ts';
import { countWords } from '../shelf/shelf-words.ts';

const ticked = defineModel<boolean>({ required: true });
const { title, about, summary, share } = defineProps<{
  title: string;
  about: string;
  summary: RowSummary;
  /** 0..1 while it is being made, else null. */
  share: number | null;
}>();
const size = computed(() => `${summary.isAbout ? 'about ' : ''}${bytesWords(summary.bytes)}`);
</script>

<template>
  <section class="away-row" :class="{ off: !ticked, making: share !== null }" :aria-label="title">
    <v-checkbox v-model="ticked" class="tick" :aria-label="title" :disabled="summary.problem !== null" />
    <div class="picture"><slot name="picture" /></div>
    <div class="about">
      <h2>{{ title }}</h2>
      <p class="mono one-line" :data-tip="summary.fileName">{{ summary.fileName }}</p>
      <p class="quiet small">{{ share !== null ? 'being made' : (summary.problem ?? summary.lacks ?? about) }}</p>
    </div>
    <div class="settings"><slot /></div>
    <div class="sums">
      <span
        ><b class="mono">{{ summary.files }}</b> {{ summary.files === 1 ? 'file' : 'files' }}</span
      >
      <span class="mono" :aria-label="countWords(Math.round(summary.seconds), 'second')">{{
        formatSeconds(summary.seconds)
      }}</span>
      <span class="mono">{{ size }}</span>
    </div>
    <v-progress-linear
      v-if="share !== null"
      class="progress"
      :model-value="share * 100"
      :aria-label="`${title} is being made`"
    />
  </section>
</template>

<style scoped>
.away-row {
  display: grid;
  grid-template-columns: 28px 112px minmax(120px, 0.8fr) minmax(320px, 2fr) 102px;
  gap: 6px 12px;
  align-items: center;
  padding: 10px 12px;
  border-bottom: 1px solid var(--rule);
  position: relative;
  min-height: 96px;
}
.away-row:last-child {
  border-bottom: 0;
}
.away-row.making {
  background: var(--sea-wash);
}
.away-row.off .picture {
  opacity: 0.45;
}
.away-row.off .sums {
  color: var(--ink-quiet);
}
.tick {
  align-self: start;
}
.picture {
  height: 64px;
  background: var(--paper);
  padding: 6px;
  border-radius: 2px;
  overflow: hidden;
}
h2 {
  font-size: 16px;
  font-weight: 660;
  color: var(--ink);
}
.about .mono {
  font-size: 13px;
}
.about {
  min-width: 0;
}
.settings {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  min-width: 0;
}
.sums {
  white-space: nowrap;
  display: grid;
  justify-items: end;
  font-size: 13px;
  text-align: right;
}
.progress {
  position: absolute;
  inset: auto 0 0;
}
@media (max-width: 980px) {
  .away-row {
    grid-template-columns: 28px minmax(0, 1fr) 96px;
  }
  .picture {
    display: none;
  }
  .settings {
    grid-column: 2 / -1;
    grid-row: 2;
  }
}
</style>
