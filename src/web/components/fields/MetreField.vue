<script setup lang="ts">
/** Quarter notes a bar (halves of them in metres of odd eighths), by the metres they are written as. */
import { METRES } from '#core/units/time.ts';
import ChoiceField from './ChoiceField.vue';

defineProps<{ modelValue: number; showLabel?: boolean }>();
const emit = defineEmits<{ put: [beatsPerBar: number] }>();
const choices = METRES.map(({ beatsPerBar, words }) => ({ value: beatsPerBar, words, short: words.split(' ')[0]! }));
</script>

<template>
  <ChoiceField
    label="metre"
    hint="How many quarter notes a bar has"
    :show-label="showLabel"
    :model-value="modelValue"
    :choices="choices"
    @put="emit('put', $event)"
  />
</template>
