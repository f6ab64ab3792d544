<script setup lang="ts">
/** A setting of the table, in the field that fits its kind. */
import { computed } from 'vue';
import { rowOf } from '#core/project/commands/values.ts';
import { useLearning } from '../../stores/keys/learning.ts';
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
const learning = useLearning();
/** As a controller may move it. */
const learnable = computed(() => (learning.isOn && row.value ? learning.targetOf(props.owners, props.param) : null));
/** Chosen for a controller, and not for itself. */
function learn(event: Event): void {
  if (!learnable.value) return;
  event.preventDefault();
  event.stopPropagation();
  if (event.type === 'pointerdown') learning.choose(learnable.value, props.label ?? row.value!.label);
}
/** On their way down: the field itself hears nothing of them. */
const handlers = { onPointerdownCapture: learn, onMousedownCapture: learn, onClickCapture: learn };
const marks = computed(() =>
  learnable.value ? { learnable: true, chosen: learning.isChosen(learnable.value) } : undefined,
);
const field = computed(() => {
  if (row.value?.kind === 'number') return row.value.isNote ? NoteSetting : NumberSetting;
  return row.value?.kind === 'choice' ? ChoiceSetting : ToggleSetting;
});
</script>

<template>
  <component :is="field" v-if="row" v-bind="{ ...props, ...(learning.isOn ? handlers : {}) }" :class="marks" />
</template>

<style>
.learnable {
  outline: 2px dashed var(--sea);
  outline-offset: 1px;
}
.learnable,
.learnable * {
  cursor: crosshair !important;
}
.learnable.chosen {
  outline: 3px solid var(--signal);
}
</style>
