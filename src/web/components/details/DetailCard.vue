<script setup lang="ts">
/** A card of settings that folds; whether it is open is remembered, in this browser, for all things of its kind. */
import { useStorage } from '@vueuse/core';
import { computed } from 'vue';
import { ICONS } from '../../theme/icons.ts';
import InTurn from '../shared/InTurn.vue';

defineOptions({ inheritAttrs: false });
const props = defineProps<{
  /** What it is remembered under. */
  id: string;
  title: string;
  /** Beside the title: what one wants to know without opening it. */
  note?: string;
  /** Folded until it is opened for the first time. */
  folded?: boolean;
}>();
const openById = useStorage<Record<string, boolean>>('yappa.cards', {}, undefined, { mergeDefaults: true });
const open = computed({
  get: () => ((openById.value[props.id] ?? !props.folded) ? [props.id] : []),
  set: (ids: string[]) => (openById.value = { ...openById.value, [props.id]: ids.includes(props.id) }),
});
</script>

<template>
  <InTurn>
    <v-expansion-panels v-model="open" class="card" v-bind="$attrs">
      <v-expansion-panel :value="id">
        <v-expansion-panel-title hide-actions>
          <v-icon class="turn" :class="{ open: open.length > 0 }" :icon="ICONS.later" size="18" />
          <span class="one-line">{{ title }}</span>
          <span v-if="note" class="note quiet one-line">{{ note }}</span>
        </v-expansion-panel-title>
        <v-expansion-panel-text>
          <InTurn
            ><div class="rows"><slot /></div
          ></InTurn>
        </v-expansion-panel-text>
      </v-expansion-panel>
    </v-expansion-panels>
  </InTurn>
</template>

<style scoped>
.card :deep(.v-expansion-panel-title) {
  justify-content: flex-start;
}
.turn {
  margin-left: -5px;
  margin-right: 2px;
}
.turn.open {
  transform: rotate(90deg);
}
.note {
  margin-left: auto;
  padding-left: 10px;
  font-weight: 400;
  font-size: 13px;
}
.rows {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 4px;
}
.rows :deep(.number:not(.stacked)),
.rows :deep(.choice:not(.wide)),
.rows :deep(.row) {
  display: grid;
  grid-template-columns: 76px minmax(0, 1fr);
  align-items: center;
  gap: 6px;
  min-height: 24px;
  font-size: 13px;
}
.rows :deep(.number.bare:not(.stacked)),
.rows :deep(.choice.bare) {
  grid-template-columns: minmax(0, 1fr);
}
.rows :deep(.row > :first-child) {
  color: var(--ink-quiet);
}
.rows :deep(.pair) {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 6px;
}
.rows :deep(.buttons) {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.rows :deep(.facts) {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 2px 10px;
  font-size: 13px;
}
.rows :deep(.facts > div) {
  display: grid;
}
.rows :deep(.facts dt) {
  color: var(--ink-quiet);
}
.rows :deep(.facts dd) {
  margin: 0;
  font-family: var(--mono);
}
</style>
