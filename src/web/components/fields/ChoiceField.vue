<script setup lang="ts" generic="Value extends string | number">
/** One of a few named values: side by side where they fit, else behind a menu. */
import { computed, nextTick } from 'vue';
import { isByKeyboard } from '../../input/shortcuts.ts';

const props = withDefaults(
  defineProps<{
    label: string;
    /** Null: none is chosen, or those that are set differ. */
    modelValue: Value | null;
    /** `short` stands in the closed field, where there is little room. */
    choices: readonly { value: Value; words: string; short?: string; disabled?: boolean; marked?: boolean }[];
    hint?: string;
    /** What stands there when it is null. */
    noneWords?: string;
    testId?: string;
    showLabel?: boolean;
    /** Lays the choices out side by side. */
    spread?: boolean;
    disabled?: boolean;
  }>(),
  { hint: undefined, noneWords: 'mixed', testId: undefined, showLabel: true, spread: false, disabled: false },
);
const emit = defineEmits<{ put: [value: Value] }>();
const items = computed(() =>
  props.choices.map(({ value, words, short, disabled }) => ({
    value,
    title: words,
    short: short ?? words,
    props: { disabled: disabled === true },
  })),
);

/** The list that opens is called as the field; the toolkit's types know no names of it. */
const named = computed(() => ({ 'aria-label': props.label }) as object);

function choose(value: Value | null): void {
  if (value !== null && value !== undefined && value !== props.modelValue) emit('put', value);
}

/** Chosen with the pointer: the letters play keys again, and are not for the field. */
function leave(isOpen: boolean): void {
  if (isOpen || isByKeyboard()) return;
  void nextTick(() => (document.activeElement instanceof HTMLInputElement ? document.activeElement.blur() : undefined));
}
</script>

<template>
  <div class="choice" :data-tip="hint">
    <span v-if="showLabel" class="label" aria-hidden="true">{{ label }}</span>
    <v-btn-toggle
      v-if="spread"
      class="spread"
      role="group"
      :aria-label="label"
      :model-value="modelValue"
      :data-testid="testId"
      :disabled="disabled"
      @update:model-value="choose"
    >
      <v-btn
        v-for="choice in choices"
        :key="choice.value"
        :value="choice.value"
        :class="{ marked: choice.marked === true }"
        >{{ choice.words }}</v-btn
      >
    </v-btn-toggle>
    <v-select
      v-else
      class="menu"
      :aria-label="label"
      :model-value="modelValue"
      :items="items"
      :list-props="named"
      :placeholder="modelValue === null ? noneWords : undefined"
      persistent-placeholder
      :disabled="disabled"
      :data-testid="testId"
      @update:model-value="choose"
      @update:menu="leave"
    >
      <template #selection="{ item }">
        <span class="v-select__selection-text">{{ item.short }}</span>
      </template>
    </v-select>
  </div>
</template>

<style scoped>
.choice {
  display: flex;
  align-items: center;
  gap: 6px;
  min-width: 0;
}
.label {
  font-size: 13px;
  color: var(--ink-quiet);
  white-space: nowrap;
}
.menu {
  flex: 1 1 0;
  min-width: 64px;
}
.spread {
  flex: 1 1 auto;
}
.spread > .marked::after {
  content: '';
  position: absolute;
  top: 2px;
  right: 3px;
  width: 6px;
  height: 6px;
  border-radius: 50%;
  background: currentcolor;
}
.spread > .v-btn {
  flex: 1 1 auto;
}
</style>
