<script setup lang="ts">
/** A setting that is a key: its number, with its name beside it. */
import { computed } from 'vue';
import type { NumberRow } from '#core/params/row.ts';
import { noteName } from '#core/units/pitch.ts';
import NumberField from './NumberField.vue';
import { useSetting, type SettingProps } from './use-setting.ts';

defineOptions({ inheritAttrs: false });
const props = withDefaults(defineProps<SettingProps>(), {
  showLabel: true,
  label: undefined,
  unit: undefined,
  testId: undefined,
  put: undefined,
});
const { row, value, isMixed, words, set, begin, drag, end } = useSetting<NumberRow>(props);
const note = computed(() => value.value as number);
</script>

<template>
  <NumberField
    v-if="row"
    v-bind="$attrs"
    :data-testid="testId"
    :label="words"
    :show-label="showLabel"
    :hint="row.hint"
    :model-value="note"
    :mixed="isMixed"
    :min="row.min"
    :max="row.max"
    :unit="noteName(note)"
    :reset="row.default"
    @begin="begin"
    @put="(to, isRelative) => (isRelative ? drag(to) : set(to))"
    @commit="end('commit')"
    @cancel="end('cancel')"
  />
</template>
