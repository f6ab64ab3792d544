<script setup lang="ts">
/** All that is ticked as one sum, one button, and the progress of it. */
import { computed, ref, watch } from 'vue';
import { formatSeconds } from '#core/units/time.ts';
import { useTakeAway } from '../../stores/away/take-away.ts';
import { bytesWords } from './away-words.ts';

const away = useTakeAway();
const NAMES = {
  mix: 'the mix',
  stems: 'the stems',
  slices: 'the slices',
  instrument: 'the instrument',
  project: 'the whole project',
  page: 'the page',
  source: 'the source',
  midi: 'the MIDI file',
  pack: 'one zip of all',
};
const doing = computed(() => (away.running ? NAMES[away.running.row] : ''));
/** When a row was begun: what is gone of it tells what is to go. */
const begun = ref({ row: '', at: 0 });
watch(
  () => away.running?.row,
  (row) => (begun.value = { row: row ?? '', at: performance.now() }),
);
const LEAST_SECONDS = 2;
const toGo = computed(() => {
  const share = away.running?.share ?? 0;
  const seconds = (performance.now() - begun.value.at) / 1000;
  if (share < 0.05 || seconds < LEAST_SECONDS) return '';
  return `, ${formatSeconds((seconds / share) * (1 - share)).slice(0, -4)} to go`;
});
const where = computed(() => {
  if (away.tickedRows.length === 0) return 'tick what you want';
  return away.tickedRows.length > 1 ? 'all of it in one zip' : 'as it is';
});
</script>

<template>
  <div class="sum sheet" role="status" data-testid="away-sum">
    <p class="total">
      <b class="mono">{{ away.sum.files }}</b> {{ away.sum.files === 1 ? 'file' : 'files' }} ·
      <b class="mono">{{ away.sum.isAbout ? 'about ' : '' }}{{ bytesWords(away.sum.bytes) }}</b> ·
      <b class="mono">{{ formatSeconds(away.sum.seconds) }}</b> of sound
    </p>
    <v-progress-linear
      v-if="away.running"
      class="progress"
      height="8"
      :model-value="away.running.share * 100"
      :aria-label="`Writing ${doing}`"
    />
    <span v-if="away.running" class="quiet small">{{ doing }}{{ toGo }}</span>
    <span v-else class="quiet small where">{{ where }}</span>
    <v-btn v-if="away.running" class="big" @click="away.cancel()">Cancel</v-btn>
    <v-btn
      class="strong big"
      :disabled="away.tickedRows.length === 0 || away.running !== null"
      data-testid="away-run"
      @click="away.run()"
      >Take away</v-btn
    >
  </div>
</template>

<style scoped>
.sum {
  display: flex;
  align-items: center;
  gap: 14px;
  padding: 12px 14px;
  flex: none;
}
.total {
  font-size: 15px;
  white-space: nowrap;
}
.progress {
  flex: 1;
}
.where {
  margin-left: auto;
}
.big.v-btn.v-btn--density-default {
  height: 42px;
  padding: 0 18px;
  font-size: 15px;
}
</style>
