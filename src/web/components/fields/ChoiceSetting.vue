<script setup lang="ts">
/** A setting with a few named values. */
import type { ChoiceRow } from '#core/params/row.ts';
import ChoiceField from './ChoiceField.vue';
import { useSetting, type SettingProps } from './use-setting.ts';

defineOptions({ inheritAttrs: false });
const props = withDefaults(defineProps<SettingProps & { spread?: boolean }>(), {
  showLabel: true,
  label: undefined,
  unit: undefined,
  testId: undefined,
  put: undefined,
});
const { row, value, isMixed, words, set } = useSetting<ChoiceRow>(props);
</script>

<template>
  <ChoiceField
    v-if="row"
    v-bind="$attrs"
    :test-id="testId"
    :label="words"
    :show-label="showLabel"
    :hint="row.hint"
    :spread="spread"
    :model-value="isMixed ? null : (value as string | number)"
    :choices="row.choices"
    @put="set($event)"
  />
</template>
