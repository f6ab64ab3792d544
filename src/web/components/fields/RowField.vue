<script setup lang="ts">
/** A row of the table of settings that belongs to no document: its value comes from outside, in the field of its kind. */
import type { Row } from '#core/params/row.ts';
import ChoiceField from './ChoiceField.vue';
import NumberField from './NumberField.vue';

type Choice = number | string;
defineProps<{ row: Row; modelValue: number | string | boolean; disabled?: boolean; bar?: boolean }>();
const emit = defineEmits<{ put: [value: number | string | boolean] }>();
</script>

<template>
  <NumberField
    v-if="row.kind === 'number'"
    :label="row.label"
    :hint="row.hint"
    :unit="row.unit"
    :model-value="(modelValue as number) * row.scale"
    :min="row.min * row.scale"
    :max="row.max * row.scale"
    :step="row.step"
    :digits="row.digits"
    :reset="row.default * row.scale"
    :disabled="disabled"
    :bar="bar"
    @update:model-value="emit('put', $event / row.scale)"
  />
  <ChoiceField
    v-else-if="row.kind === 'choice'"
    :label="row.label"
    :hint="row.hint"
    :model-value="modelValue as Choice"
    :choices="row.choices"
    :disabled="disabled"
    @put="emit('put', $event)"
  />
  <v-checkbox
    v-else
    hide-details
    :label="row.label"
    :data-tip="row.hint"
    :model-value="modelValue === true"
    :disabled="disabled"
    @update:model-value="emit('put', $event === true)"
  />
</template>
