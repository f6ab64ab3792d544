<script setup lang="ts" generic="Value extends string | number">
/** A setting with a few named values. */
defineProps<{
  label: string;
  /** Null: those that are set differ. */
  modelValue: Value | null;
  choices: readonly { value: Value; words: string }[];
  hint?: string;
  testId?: string;
}>();
const emit = defineEmits<{ put: [value: Value] }>();

function choose(event: Event, choices: readonly { value: Value }[]): void {
  const { value } = event.target as HTMLSelectElement;
  const choice = choices.find((one) => String(one.value) === value);
  if (choice) emit('put', choice.value);
}
</script>

<template>
  <label class="row">
    <span>{{ label }}</span>
    <select
      class="plain-select"
      :aria-label="label"
      :title="hint"
      :value="modelValue ?? ''"
      :data-testid="testId"
      @change="choose($event, choices)"
      @keydown.stop
    >
      <option v-if="modelValue === null" value="" disabled>mixed</option>
      <option v-for="choice in choices" :key="choice.value" :value="choice.value">{{ choice.words }}</option>
    </select>
  </label>
</template>
