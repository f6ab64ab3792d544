<script setup lang="ts">
/**
 * A setting of the table, for one owner or for several: its words, range, unit, digits and reset come from its row. What
 * differs shows as mixed; dragging then moves each from where it is, typing sets all to the same.
 */
import { computed, onBeforeUnmount } from 'vue';
import { setValue, rowOf, valueOf, type Owner, type SetValueArgs, type Value } from '#core/project/commands/values.ts';
import type { ChoiceRow as Choice, NumberRow } from '#core/params/row.ts';
import type { Gesture } from '../../stores/gesture.ts';
import { useProject } from '../../stores/project.ts';
import ChoiceRow from './ChoiceRow.vue';
import NumberField from './NumberField.vue';

defineOptions({ inheritAttrs: false });
const props = withDefaults(
  defineProps<{
    owners: readonly Owner[];
    param: string;
    /** Other words than the row's, where the place says the rest. */
    label?: string;
    unit?: string;
    testId?: string;
    showLabel?: boolean;
    /** In place of the command, where setting it takes more than that: strips of a home pattern are copied first. */
    put?: (label: string, param: string, change: SetValueArgs['change']) => void;
  }>(),
  // A boolean that is left out would be false.
  { showLabel: true, label: undefined, unit: undefined, testId: undefined, put: undefined },
);
const project = useProject();

const row = computed(() =>
  project.document && props.owners[0] ? rowOf(project.document, props.owners[0], props.param) : null,
);
const values = computed(() => props.owners.map((owner) => valueOf(project.document!, owner, props.param)));
const first = computed(() => values.value[0] ?? null);
const isMixed = computed(() => values.value.some((value) => value !== first.value));
const words = computed(() => props.label ?? row.value?.label ?? props.param);
const asNumber = computed(() => (row.value?.kind === 'number' ? (row.value as NumberRow) : null));
const asChoice = computed(() => (row.value?.kind === 'choice' ? (row.value as Choice) : null));
const onOff = [
  { value: 1, words: 'on' },
  { value: 0, words: 'off' },
];

let gesture: Gesture | null = null;
function begin(): void {
  gesture = project.begin(words.value);
}

function set(change: SetValueArgs['change']): void {
  if (props.put) props.put(words.value, props.param, change);
  else project.run(words.value, setValue, { owners: props.owners, param: props.param, change });
}

/** A number as it is shown; within a drag of mixed values each is moved by as much as the first. */
function putNumber(shown: number, isRelative: boolean): void {
  // Undone, or ended otherwise, while the hand still drags.
  if (gesture && !gesture.isOpen) return;
  const { scale } = asNumber.value!;
  const value = shown / scale;
  if (!isRelative || !isMixed.value) {
    set({ to: value });
    return;
  }
  const change = { by: value - startValue };
  if (props.put) startValue = value;
  if (gesture && !props.put) gesture.replay(setValue, { owners: props.owners, param: props.param, change });
  else set(change);
}

let startValue = 0;
function onBegin(): void {
  startValue = first.value as number;
  begin();
}
function choose(value: Value): void {
  set({ to: value });
}
function end(how: 'commit' | 'cancel'): void {
  gesture?.[how]();
}
onBeforeUnmount(() => end('commit'));
</script>

<template>
  <NumberField
    v-if="asNumber"
    v-bind="$attrs"
    :data-testid="testId"
    :label="words"
    :show-label="showLabel"
    :hint="asNumber.hint"
    :model-value="(first as number) * asNumber.scale"
    :mixed="isMixed"
    :min="asNumber.min * asNumber.scale"
    :max="asNumber.max * asNumber.scale"
    :step="asNumber.step"
    :digits="asNumber.digits"
    :unit="unit ?? asNumber.unit"
    :reset="asNumber.default * asNumber.scale"
    @begin="onBegin"
    @put="putNumber"
    @commit="end('commit')"
    @cancel="end('cancel')"
  />
  <ChoiceRow
    v-else-if="asChoice"
    v-bind="$attrs"
    :test-id="testId"
    :label="words"
    :hint="asChoice.hint"
    :model-value="isMixed ? null : (first as string | number)"
    :choices="asChoice.choices"
    @put="choose($event)"
  />
  <ChoiceRow
    v-else-if="row"
    v-bind="$attrs"
    :test-id="testId"
    :label="words"
    :hint="row.hint"
    :model-value="isMixed ? null : first ? 1 : 0"
    :choices="onOff"
    @put="choose($event === 1)"
  />
</template>
