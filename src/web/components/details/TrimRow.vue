<script setup lang="ts">
/** Silence about to be left out of the chosen slices: its level to set, what it takes, and the word. */
import { computed } from 'vue';
import { LEAST_SILENCE_DB, MOST_SILENCE_DB } from '#core/analysis/silence.ts';
import { useSession } from '../../stores/document/session.ts';
import { useTrimming } from '../../stores/source/trimming.ts';
import NumberField from '../fields/NumberField.vue';

const trimming = useTrimming();
const session = useSession();
const rate = computed(() => session.loaded?.sampleRate ?? 44100);
const goes = computed(() => {
  const frames = trimming.leftOut.reduce((sum, { startFrame, endFrame }) => sum + endFrame - startFrame, 0);
  const count = session.selectedSlices.length;
  return `${((1000 * frames) / rate.value).toFixed(0)} ms of ${count} ${count === 1 ? 'slice' : 'slices'}`;
});
</script>

<template>
  <section class="trim" aria-label="Trim silence" data-testid="trim">
    <NumberField
      label="silence below"
      unit="dB"
      :model-value="trimming.levelDb!"
      :min="LEAST_SILENCE_DB"
      :max="MOST_SILENCE_DB"
      hint="Suggested from the noise beneath the sound; the line in the picture"
      @update:model-value="trimming.setLevel($event)"
    />
    <span class="quiet">{{ goes }}</span>
    <span class="buttons">
      <v-btn
        :disabled="trimming.leftOut.length === 0"
        data-tip="What is struck out in the picture"
        @click="trimming.apply()"
        >leave it out</v-btn
      >
      <v-btn variant="text" @click="trimming.giveUp()">not now</v-btn>
    </span>
  </section>
</template>

<style scoped>
.trim {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 10px;
  padding: 8px 10px;
  border: 1px solid var(--sea);
  border-radius: 6px;
  font-size: 13px;
  margin-block: 6px 8px;
}
.trim > :first-child {
  flex: 1 1 100%;
}
.buttons {
  display: flex;
  gap: 4px;
}
</style>
