<script setup lang="ts">
/** Quarter notes a bar (halves of them in metres of odd eighths), by the metres they are written as. */
import { METRES } from '#core/units/time.ts';

const props = defineProps<{ modelValue: number }>();
const emit = defineEmits<{ put: [beatsPerBar: number] }>();

function choose(event: Event): void {
  const value = Number((event.target as HTMLSelectElement).value);
  if (value !== props.modelValue) emit('put', value);
}
</script>

<template>
  <select
    class="plain-select"
    aria-label="Metre"
    title="Metre: how many quarter notes a bar has"
    :value="modelValue"
    @change="choose"
    @keydown.stop
  >
    <option v-for="{ beatsPerBar, words } in METRES" :key="beatsPerBar" :value="beatsPerBar">{{ words }}</option>
  </select>
</template>
