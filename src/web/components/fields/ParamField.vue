<script setup lang="ts">
/** A setting of the table, in the field that fits its kind. */
import { computed } from 'vue';
import { rowOf } from '#core/project/commands/values.ts';
import { useProject } from '../../stores/document/project.ts';
import ChoiceSetting from './ChoiceSetting.vue';
import NoteSetting from './NoteSetting.vue';
import NumberSetting from './NumberSetting.vue';
import ToggleSetting from './ToggleSetting.vue';
import type { SettingProps } from './use-setting.ts';

// A boolean that is left out would be false.
const props = withDefaults(defineProps<SettingProps>(), {
  showLabel: true,
  label: undefined,
  unit: undefined,
  testId: undefined,
  put: undefined,
});
const project = useProject();
const row = computed(() =>
  project.document && props.owners[0] ? rowOf(project.document, props.owners[0], props.param) : null,
);
const field = computed(() => {
  if (row.value?.kind === 'number') return row.value.isNote ? NoteSetting : NumberSetting;
  return row.value?.kind === 'choice' ? ChoiceSetting : ToggleSetting;
});
</script>

<template>
  <component :is="field" v-if="row" v-bind="props" />
</template>
