<script setup lang="ts">
/** From where to where a setting is moved, and how bent the way is. */
import type { Owner } from '#core/project/commands/values.ts';
import { useMovedRanges, type MovedRange } from '../../stores/sound/moved-ranges.ts';
import DocumentField from '../fields/DocumentField.vue';
import ParamField from '../fields/ParamField.vue';

const { range, words = ['from', 'to'] } = defineProps<{ range: MovedRange; words?: [string, string] }>();
const { setEnds } = useMovedRanges();
const owners = (): Owner[] => [{ kind: 'route', id: range.route.id }];
const ends = [
  { end: 'from', place: 0 },
  { end: 'to', place: 1 },
] as const;

function put(end: 'from' | 'to', value: number): void {
  setEnds(range, end === 'from' ? value : range.from, end === 'to' ? value : range.to);
}
</script>

<template>
  <div class="range-fields">
    <DocumentField
      v-for="{ end, place } in ends"
      :key="end"
      :label="words[place]"
      :model-value="range[end]"
      :min="range.least"
      :max="range.most"
      :digits="range.digits"
      :step="range.moved.row.step"
      :unit="range.unit"
      :logarithmic="!range.isRelative && range.moved.row.curve === 'logarithmic'"
      :undo="`range of ${range.moved.words}`"
      @put="put(end, $event)"
    />
    <ParamField :owners="owners()" param="bend" />
  </div>
</template>

<style scoped>
.range-fields {
  display: grid;
  gap: 6px;
}
.range-fields :deep(.number) {
  display: grid;
  grid-template-columns: 64px minmax(0, 1fr);
  align-items: center;
  gap: 6px;
}
</style>
