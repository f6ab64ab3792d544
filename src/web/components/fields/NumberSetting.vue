<script setup lang="ts">
/** A setting that is a number. */
import { computed } from 'vue';
import type { NumberRow } from '#core/params/row.ts';
import { mappingsOn, movedWords } from '#core/queries/mappings.ts';
import { movedByOf } from '#core/queries/moved-by.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSettingMenu } from '../../stores/frame/setting-menu.ts';
import { askedTargets } from './asked-targets.ts';
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
const settingMenu = useSettingMenu();
/** What moves it while it sounds, in words; empty when nothing does. */
const movedBy = computed(() => {
  const { document } = project;
  const owner = props.owners[0];
  if (!document || !row.value || !owner || owner.kind === 'event' || owner.kind === 'mapping') return '';
  const byHand = mappingsOn(document, owner, props.param).map(
    ({ device, source }) => `${movedWords(source)} of ${device}`,
  );
  const moves = row.value.movedBy > 0 && owner.kind !== 'song';
  const movers = [...(moves ? movedByOf(document, owner, props.param) : []), ...byHand];
  return movers.length === 0 ? '' : `moved by ${movers.join(', ')}`;
});

/** What a dial or a lane may move has a menu of that: of many sounds, all those of their part. */
function ask(event: MouseEvent): void {
  const none = { lane: null, dial: null };
  const targets = (row.value?.movedBy && askedTargets(project.document!, props.owners)) || none;
  if (props.owners[0]?.kind === 'event' || props.owners[0]?.kind === 'mapping') return;
  event.preventDefault();
  const { clientX: x, clientY: y } = event;
  settingMenu.asked = { ...targets, owners: props.owners, paramId: props.param, words: words.value, x, y };
}

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
    @contextmenu="ask"
    @begin="begin"
    @put="putNumber"
    @commit="end('commit')"
    @cancel="end('cancel')"
  />
</template>
