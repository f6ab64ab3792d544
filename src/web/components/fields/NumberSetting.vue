<script setup lang="ts">
/** A setting that is a number. */
import { computed } from 'vue';
import { MODULATOR_WORDS } from '#core/params/modulators.ts';
import type { NumberRow } from '#core/params/row.ts';
import { movedByOf } from '#core/queries/moved-by.ts';
import { useProject } from '../../stores/document/project.ts';
import NumberField from './NumberField.vue';
import { useSetting, type SettingProps } from './use-setting.ts';

defineOptions({ inheritAttrs: false });
// A boolean that is left out would be false.
const props = withDefaults(defineProps<SettingProps>(), {
  showLabel: true,
  label: undefined,
  unit: undefined,
  testId: undefined,
  put: undefined,
});
const { row, value, isMixed, words, set, begin, drag, end } = useSetting<NumberRow>(props);
const project = useProject();
/** What moves it while it sounds, in words; empty when nothing does. */
const movedBy = computed(() => {
  const { document } = project;
  const owner = props.owners[0];
  if (!document || !row.value?.movedBy || !owner || owner.kind === 'song' || owner.kind === 'event') return '';
  const movers = movedByOf(document, owner, props.param);
  return movers.length === 0 ? '' : `moved by ${movers.map((kind) => MODULATOR_WORDS[kind]).join(', ')}`;
});

function putNumber(shown: number, isRelative: boolean): void {
  const to = shown / row.value!.scale;
  if (isRelative) drag(to);
  else set(to);
}
</script>

<template>
  <NumberField
    v-if="row"
    v-bind="$attrs"
    :data-testid="testId"
    :label="words"
    :show-label="showLabel"
    :hint="[row.hint, movedBy].filter(Boolean).join('; ')"
    :class="{ moved: movedBy !== '' }"
    :model-value="(value as number) * row.scale"
    :mixed="isMixed"
    :min="row.min * row.scale"
    :max="row.max * row.scale"
    :step="row.step"
    :digits="row.digits"
    :unit="unit ?? row.unit"
    :reset="row.default * row.scale"
    :logarithmic="row.curve === 'logarithmic'"
    @begin="begin"
    @put="putNumber"
    @commit="end('commit')"
    @cancel="end('cancel')"
  />
</template>
