<script setup lang="ts">
/** A setting that is a key of the keyboard: its number, with its name in place of a unit. */
import { computed } from 'vue';
import { valueOf } from '#core/project/commands/values.ts';
import { keyName } from '../../canvas/key-names.ts';
import { useProject } from '../../stores/document/project.ts';
import NumberSetting from './NumberSetting.vue';
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
const name = computed(() => keyName(valueOf(project.document!, props.owners[0]!, props.param) as number));
</script>

<template>
  <NumberSetting v-bind="props" :unit="name" />
</template>
