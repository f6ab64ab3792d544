<script setup lang="ts">
/** One layer of a slice: what it is, where it is known from, how loud it stays, and whether it is kept. */
import { computed } from 'vue';
import { ROLES, type Role } from '#core/analysis/role-names.ts';
import { LAYER_ROWS } from '#core/params/apart-rows.ts';
import { levelsOf } from '#core/unmix/results.ts';
import type { WantedLayer } from '../../stores/source/apart.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import RowField from '../fields/RowField.vue';
import HearButton from '../shared/HearButton.vue';
import SkylineMini from '../shared/SkylineMini.vue';
import { stretchPeaks } from './layer-looks.ts';

const props = defineProps<{
  layer: WantedLayer;
  channels: Float32Array[] | undefined;
  colour: string;
  /** In words, by what they are asked for as. */
  guides: readonly { value: string; words: string }[];
  guide: string;
  playing: boolean;
  /** The second of two may be taken away again, for a slice with one sound. */
  other?: boolean;
}>();
const emit = defineEmits<{
  role: [role: Role | 'none'];
  change: [change: Partial<WantedLayer>];
  guide: [guide: string];
  hear: [];
}>();
const roles = computed(() => [
  ...ROLES.map((value) => ({ value: value as Role | 'none', words: value as string })),
  ...(props.other ? [{ value: 'none' as const, words: 'nothing else' }] : []),
]);
const levels = computed(() => (props.channels ? stretchPeaks(props.channels) : []));
const peak = computed(() => {
  const { peakDb } = levelsOf(props.channels ?? []);
  return peakDb === -Infinity ? 'silent' : `${peakDb.toFixed(1)} dB`;
});
</script>

<template>
  <div class="layer" data-testid="layer" :style="{ '--layer': colour }">
    <ChoiceField
      label="What it is"
      :show-label="false"
      :choices="roles"
      :model-value="layer.role"
      @put="emit('role', $event)"
    />
    <div class="mini"><SkylineMini :levels="levels" :colour="colour" /></div>
    <HearButton :name="layer.role" :playing="playing" @click="emit('hear')" />
    <v-checkbox
      hide-details
      :model-value="layer.isWanted"
      :aria-label="`Keep the ${layer.role}`"
      data-tip="Kept; or left out"
      @update:model-value="emit('change', { isWanted: $event === true })"
    />
    <RowField
      class="gain"
      :row="LAYER_ROWS.gainDb"
      :model-value="layer.gainDb"
      :disabled="!layer.isWanted"
      @put="emit('change', { gainDb: $event as number })"
    />
    <span class="mono small quiet peak">{{ peak }}</span>
    <ChoiceField
      class="guide"
      label="known from"
      hint="Where it sounds alone: from that it is known what of this slice is it"
      :choices="guides"
      :model-value="guide"
      @put="emit('guide', $event)"
    />
  </div>
</template>

<style scoped>
.layer {
  display: grid;
  grid-template-columns: 118px minmax(30px, 1fr) 28px 28px 84px;
  grid-template-rows: 30px 28px;
  align-items: center;
  gap: 2px 6px;
  padding: 4px 6px 4px 10px;
  border: 1px solid var(--rule);
  border-left: 4px solid var(--layer);
  border-radius: 4px;
}
.mini {
  height: 26px;
  min-width: 0;
}
.gain :deep(.label) {
  display: none;
}
.peak {
  grid-column: 1;
  padding-left: 2px;
}
.guide {
  grid-column: 2 / -1;
  display: flex;
  align-items: center;
  gap: 6px;
}
.guide :deep(.label) {
  color: var(--ink-quiet);
  font-size: 13px;
  white-space: nowrap;
}
</style>
