<script setup lang="ts">
/**
 * A flat number with its unit: type into it, drag along it, nudge it with the arrow keys, double-click to reset it.
 * A drag is one gesture: `begin`, many `update:modelValue`, `commit` (or `cancel` on Escape).
 */
import { computed, nextTick, ref } from 'vue';
import { followPointer } from '../../canvas/use-drag.ts';
import { useNotices } from '../../stores/notices.ts';
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
    disabled?: boolean;
    hint?: string;
  }>(),
  { step: 1, digits: 0, unit: '', reset: undefined, mixed: false, showLabel: true, disabled: false, hint: '' },
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
const notices = useNotices();
const editing = ref(false);
const draft = ref('');
const input = ref<HTMLInputElement | null>(null);
const field = ref<HTMLElement | null>(null);

const shown = computed(() => (props.mixed ? 'mixed' : `${props.modelValue.toFixed(props.digits)}`));

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

async function edit(): Promise<void> {
  if (props.disabled) return;
  draft.value = props.mixed ? '' : props.modelValue.toFixed(props.digits);
  editing.value = true;
  await nextTick();
  input.value?.focus();
  input.value?.select();
}

async function finish(keep: boolean): Promise<void> {
  if (!editing.value) return;
  editing.value = false;
  if (keep) {
    const { value, problem } = readNumber(draft.value, props);
    if (value !== null) put(value);
    if (problem) notices.info(problem);
  }
  await nextTick();
  if (keep) field.value?.focus();
}

function onKey(event: KeyboardEvent): void {
  const steps: Record<string, number> = { ArrowUp: 1, ArrowDown: -1, PageUp: 10, PageDown: -10 };
  const by = steps[event.key];
  if (by !== undefined) {
    event.preventDefault();
    event.stopPropagation();
    put(props.modelValue + by * props.step * (event.shiftKey ? 10 : 1), true);
  } else if (event.key === 'Enter' || /^[\d.-]$/.test(event.key)) {
    event.preventDefault();
    event.stopPropagation();
    void edit().then(() => {
      if (event.key !== 'Enter') draft.value = event.key;
    });
  }
}

function onPointerDown(event: PointerEvent): void {
  if (props.disabled || event.button !== 0) return;
  const startValue = props.modelValue;
  const target = event.currentTarget as HTMLElement;
  let isDragging = false;
  followPointer(event, {
    move: (moved) => {
      if (!isDragging) emit('begin');
      isDragging = true;
      const distance = moved.clientX - event.clientX - (moved.clientY - event.clientY);
      const fine = moved.shiftKey ? 0.1 : 1;
      send(startValue + Math.round(distance / PIXELS_A_STEP) * props.step * fine, true);
    },
    end: (moved) => {
      if (isDragging) emit('commit');
      else if (!moved) target.focus();
    },
    cancel: () => {
      if (isDragging) emit('cancel');
    },
  });
}
</script>

<template>
  <div
    class="number"
    :class="{ disabled }"
    :title="hint || `${label}: type, drag, use the arrow keys; double-click resets`"
  >
    <span v-if="showLabel" class="label">{{ label }}</span>
    <input
      v-if="editing"
      ref="input"
      v-model="draft"
      class="value mono"
      :aria-label="label"
      inputmode="decimal"
      @blur="finish(true)"
      @keydown.enter.prevent.stop="finish(true)"
      @keydown.esc.prevent.stop="finish(false)"
      @keydown.stop
    />
    <span
      v-else
      ref="field"
      class="value mono"
      role="spinbutton"
      tabindex="0"
      :aria-label="label"
      :aria-valuenow="modelValue"
      :aria-valuemin="min"
      :aria-valuemax="max"
      :aria-valuetext="`${shown} ${unit}`"
      :aria-disabled="disabled"
      @pointerdown="onPointerDown"
      @keydown="onKey"
      @dblclick="reset === undefined ? edit() : put(reset)"
      >{{ shown }}<span v-if="unit && !mixed" class="unit">{{ unit }}</span></span
    >
  </div>
</template>

<style scoped>
.number {
  display: flex;
  align-items: baseline;
  gap: 8px;
  min-width: 0;
}
.label {
  font-size: 13px;
  color: var(--field-quiet, var(--ink-quiet));
  white-space: nowrap;
}
.value {
  flex: 1;
  min-width: 0;
  border: 0;
  border-bottom: 1px dotted var(--field-rule, var(--rule));
  background: transparent;
  color: inherit;
  cursor: ew-resize;
  user-select: none;
  touch-action: none;
  white-space: nowrap;
  padding: 1px 2px;
  width: 100%;
}
input.value {
  cursor: text;
  border-bottom: 1px solid var(--sea);
}
.value:hover {
  border-bottom-style: solid;
}
.unit {
  margin-left: 4px;
  font-size: 13px;
  color: var(--field-quiet, var(--ink-quiet));
}
.disabled {
  opacity: 0.5;
}
</style>
