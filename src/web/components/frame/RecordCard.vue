<script setup lang="ts">
/** How what is played is recorded: beside what is there or in its place, drawn to the grid, after how many bars. */
import { RECORD_ROWS, type RecordValues } from '#core/params/record-rows.ts';
import { withValues } from '#core/params/row.ts';
import { engine } from '../../audio/services.ts';
import { useRecording } from '../../stores/sound/recording.ts';
import ParamField from '../fields/ParamField.vue';
import RowField from '../fields/RowField.vue';

const recording = useRecording();
const IDS = Object.keys(RECORD_ROWS) as (keyof RecordValues)[];

const measuredMs = engine.outputLatencyMs();

function put(id: keyof RecordValues, value: unknown): void {
  recording.sparse = withValues(RECORD_ROWS, recording.sparse, { [id]: value });
}
</script>

<template>
  <v-card class="card" aria-label="How it is recorded">
    <RowField
      v-for="id in IDS"
      :key="id"
      :row="RECORD_ROWS[id]"
      :model-value="recording.rules[id]"
      @put="put(id, $event)"
    />
    <v-btn
      v-if="measuredMs > 0 && measuredMs !== recording.rules.earlierMs"
      data-tip="How late the browser says that sound leaves this machine; headphones without a cable may add to it"
      @click="put('earlierMs', measuredMs)"
      >{{ measuredMs }} ms, as the browser measures</v-btn
    >
    <ParamField :owners="[{ kind: 'song' }]" param="countInBars" />
    <p class="quiet small">Each round is a step of its own: undo takes back the last one.</p>
  </v-card>
</template>

<style scoped>
.card {
  width: 260px;
  padding: 12px 14px;
  display: grid;
  gap: 6px;
}
.card :deep(.label) {
  flex: none;
  width: 92px;
}
</style>
