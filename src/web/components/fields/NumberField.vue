<script setup lang="ts">
/**
 * A flat number with its unit, on the toolkit's text field: type into it, drag along it, nudge it with the arrow keys,
 * double-click to reset it. A drag is one gesture: `begin`, many `update:modelValue`, `commit` (or `cancel` on Escape).
 */
import { computed, nextTick, onMounted, ref, useTemplateRef } from 'vue';
import { followPointer } from '../../canvas/use-drag.ts';
import { useNotices } from '../../stores/frame/notices.ts';
import { readNumber } from './read-number.ts';

const props = withDefaults(
  defineProps<{
    modelValue: number;
    label: string;
    min: number;
    max: number;
    step?: number;
    digits?: number;
    unit?: string;
    reset?: number;
    /** Shown instead of the number when several chosen things differ. */
    mixed?: boolean;
    showLabel?: boolean;
    /** The name above the field instead of beside it, and the unit with it: all of the field is for the number. */
    stacked?: boolean;
    disabled?: boolean;
    hint?: string;
    /** Dragging goes by equal factors instead of equal steps. */
    logarithmic?: boolean;
    /** A bar along its foot shows how much it is: for amounts that are weighed against each other. */
    bar?: boolean;
  }>(),
  {
    step: 1,
    digits: 0,
    unit: '',
    reset: undefined,
    mixed: false,
    showLabel: true,
    stacked: false,
    disabled: false,
    hint: '',
    logarithmic: false,
    bar: false,
  },
);
const emit = defineEmits<{
  'update:modelValue': [value: number];
  /** The same, and whether it is told from where the value was (dragged, nudged) or outright (typed, reset). */
  put: [value: number, isRelative: boolean];
  begin: [];
  commit: [];
  cancel: [];
}>();

const PIXELS_A_STEP = 4;
/** A logarithmic field doubles over so many pixels. */
const PIXELS_AN_OCTAVE = 40;
const notices = useNotices();
const editing = ref(false);
const draft = ref('');
const field = useTemplateRef<{ $el: HTMLElement }>('field');
const input = () => field.value?.$el.querySelector('input') ?? null;

const isUnitAbove = computed(() => props.stacked && props.showLabel && props.unit !== '');
const shown = computed(() => (props.mixed ? 'mixed' : props.modelValue.toFixed(props.digits)));

/** From nothing to the value, as shares of the field; nothing is 0, or the low end. */
const barStyle = computed(() => {
  if (!props.bar || props.mixed) return undefined;
  const shareOf = (value: number) => (value - props.min) / (props.max - props.min);
  const ends = [shareOf(props.modelValue), shareOf(Math.max(props.min, Math.min(props.max, 0)))];
  return { '--bar-from': `${100 * Math.min(...ends)}%`, '--bar-to': `${100 * Math.max(...ends)}%` };
});

function fit(value: number): number {
  const clamped = Math.max(props.min, Math.min(props.max, value));
  return Number(clamped.toFixed(Math.max(props.digits, 0)));
}

function send(value: number, isRelative: boolean): void {
  emit('update:modelValue', fit(value));
  emit('put', fit(value), isRelative);
}

function put(value: number, isRelative = false): void {
  emit('begin');
  send(value, isRelative);
  emit('commit');
}

// Given to the text field, its frame would have the role, too.
onMounted(() => input()?.setAttribute('role', 'spinbutton'));

async function edit(): Promise<void> {
  if (props.disabled) return;
  draft.value = props.mixed ? '' : props.modelValue.toFixed(props.digits);
  editing.value = true;
  await nextTick();
  input()?.focus();
  input()?.select();
}

async function finish(keep: boolean, stay = true): Promise<void> {
  if (!editing.value) return;
  editing.value = false;
  if (keep) {
    const { value, problem } = readNumber(draft.value, props);
    if (value !== null) put(value);
    if (problem) notices.info(problem);
  }
  await nextTick();
  if (stay) input()?.focus();
}

function moved(from: number, steps: number): number {
  return props.logarithmic ? from * 2 ** ((steps * PIXELS_A_STEP) / PIXELS_AN_OCTAVE) : from + steps * props.step;
}

/** By so many steps, and by what is shown of it at least: of a small value an equal factor is less than its last digit. */
function nudged(steps: number): number {
  const to = moved(props.modelValue, steps);
  if (fit(to) !== fit(props.modelValue)) return to;
  return props.modelValue + Math.sign(steps) * 10 ** -Math.max(props.digits, 0);
}

function onKey(event: KeyboardEvent): void {
  if (props.disabled) return;
  if (editing.value) {
    event.stopPropagation();
    // After that keys are those of the bench again.
    if (event.key === 'Enter') void finish(true).then(() => input()?.blur());
    else if (event.key === 'Escape') void finish(false).then(() => input()?.blur());
    return;
  }
  const by = { ArrowUp: 1, ArrowDown: -1, PageUp: 10, PageDown: -10 }[event.key];
  if (by !== undefined) {
    event.preventDefault();
    event.stopPropagation();
    put(nudged(by * (event.shiftKey ? 10 : 1)), true);
  } else if (event.key === 'Enter' || (/^[\d.-]$/.test(event.key) && !event.ctrlKey && !event.altKey)) {
    event.preventDefault();
    event.stopPropagation();
    void edit().then(() => {
      if (event.key !== 'Enter') draft.value = event.key;
    });
  }
}

function onPointerDown(event: PointerEvent): void {
  if (props.disabled || editing.value || event.button !== 0) return;
  const startValue = props.modelValue;
  let isDragging = false;
  followPointer(event, {
    move: (at) => {
      if (!isDragging) emit('begin');
      isDragging = true;
      const distance = at.clientX - event.clientX - (at.clientY - event.clientY);
      const fine = at.shiftKey ? 0.1 : 1;
      send(moved(startValue, Math.round(distance / PIXELS_A_STEP) * fine), true);
    },
    end: () => {
      if (isDragging) emit('commit');
    },
    cancel: () => {
      if (isDragging) emit('cancel');
    },
  });
}

function onDoubleClick(): void {
  if (editing.value || props.disabled) return;
  if (props.reset === undefined) void edit();
  else put(props.reset);
}
</script>

<template>
  <div class="number" :class="{ stacked, disabled }" :data-tip="hint || `${label}: type, drag, arrow keys`">
    <span v-if="showLabel" class="label" aria-hidden="true"
      >{{ label }}<small v-if="isUnitAbove">&nbsp;{{ unit }}</small></span
    >
    <v-text-field
      ref="field"
      class="value mono"
      :class="{ editing, bar }"
      :style="barStyle"
      :model-value="editing ? draft : shown"
      :readonly="!editing"
      :disabled="disabled"
      :suffix="isUnitAbove || (mixed && !editing) ? '' : unit"
      inputmode="decimal"
      autocomplete="off"
      :aria-label="label"
      :aria-valuenow="modelValue"
      :aria-valuemin="min"
      :aria-valuemax="max"
      :aria-valuetext="`${shown} ${unit}`"
      :aria-disabled="disabled"
      @update:model-value="draft = $event"
      @pointerdown="onPointerDown"
      @keydown="onKey"
      @blur="finish(true, false)"
      @dblclick="onDoubleClick"
    />
  </div>
</template>

<style scoped>
.number {
  display: flex;
  align-items: center;
  gap: 6px;
  min-width: 0;
}
.number.stacked {
  display: block;
}
.number.stacked .label {
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
}
.label {
  font-size: 13px;
  color: var(--field-quiet, var(--ink-quiet));
  white-space: nowrap;
}
.value {
  flex: 1 1 0;
  min-width: 48px;
  --v-field-padding-start: 6px;
}
.value :deep(.v-field__input) {
  padding-inline: 6px 2px;
  font-family: var(--mono);
  min-width: 0;
}
.value :deep(input) {
  min-width: 0;
  text-overflow: ellipsis;
}
.value.bar :deep(.v-field) {
  background-image: linear-gradient(
    to right,
    transparent var(--bar-from),
    var(--sea) var(--bar-from) var(--bar-to),
    transparent var(--bar-to)
  );
  background-position: bottom;
  background-size: 100% 4px;
  background-repeat: no-repeat;
}
.value:not(.editing) :deep(input) {
  cursor: ew-resize;
  user-select: none;
  touch-action: none;
}
.value :deep(.v-text-field__suffix) {
  padding-inline: 0 6px;
  font-family: var(--sans);
  pointer-events: none;
}
.disabled {
  opacity: 0.55;
}
.number.moved .label::after {
  content: ' ∿';
  color: var(--sea);
  font-weight: 700;
}
</style>
