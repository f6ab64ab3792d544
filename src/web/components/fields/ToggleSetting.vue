<script setup lang="ts">
/** A setting that is on or off; where those that are set differ, it stands between the two. */
import type { ToggleRow } from '#core/params/row.ts';
import { useSetting, type SettingProps } from './use-setting.ts';

const props = withDefaults(defineProps<SettingProps>(), {
  showLabel: true,
  label: undefined,
  unit: undefined,
  testId: undefined,
  put: undefined,
});
const { row, value, isMixed, words, set } = useSetting<ToggleRow>(props);
</script>

<template>
  <v-switch
    v-if="row"
    class="toggle"
    :data-testid="testId"
    :label="words"
    :data-tip="row.hint"
    :indeterminate="isMixed"
    :model-value="value === true"
    @update:model-value="set(isMixed || value !== true)"
  />
</template>

<style scoped>
.toggle :deep(.v-selection-control) {
  flex-direction: row-reverse;
  justify-content: space-between;
}
.toggle :deep(.v-label) {
  padding-inline-start: 0;
}
</style>
