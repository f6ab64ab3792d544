<script setup lang="ts">
/** A number of the document: a drag or a typed value is one step that can be undone. */
import { useProject } from '../../stores/project.ts';
import NumberField from './NumberField.vue';

defineOptions({ inheritAttrs: false });
const props = defineProps<{
  label: string;
  modelValue: number;
  min: number;
  max: number;
  /** What the step is called in undo; the label when left out. */
  undo?: string;
}>();
const emit = defineEmits<{ put: [value: number] }>();
const project = useProject();
</script>

<template>
  <NumberField
    v-bind="{ ...$attrs, label: props.label, modelValue: props.modelValue, min: props.min, max: props.max }"
    @begin="project.begin(props.undo ?? props.label)"
    @update:model-value="emit('put', $event)"
    @commit="project.commit()"
    @cancel="project.cancel()"
  />
</template>
