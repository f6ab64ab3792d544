<script setup lang="ts">
/** A number of the document that is no setting: a drag or a typed value is one step that can be undone. */
import { onBeforeUnmount } from 'vue';
import type { Gesture } from '../../stores/document/gesture.ts';
import { useProject } from '../../stores/document/project.ts';
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
let gesture: Gesture | null = null;
function begin(): void {
  gesture = project.begin(props.undo ?? props.label);
}
function end(how: 'commit' | 'cancel'): void {
  gesture?.[how]();
}

/** What is still dragged after its gesture has ended is not meant any more. */
function put(value: number): void {
  if (!gesture || gesture.isOpen) emit('put', value);
}
onBeforeUnmount(() => end('commit'));
</script>

<template>
  <NumberField
    v-bind="{ ...$attrs, label: props.label, modelValue: props.modelValue, min: props.min, max: props.max }"
    @begin="begin"
    @update:model-value="put"
    @commit="end('commit')"
    @cancel="end('cancel')"
  />
</template>
