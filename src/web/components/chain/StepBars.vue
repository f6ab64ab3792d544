<script setup lang="ts">
/** How far a gate is open in each of its steps: drawn with the pointer, or step by step with the arrow keys. */
import { useTemplateRef } from 'vue';
import { GATE_STEPS } from '#core/params/effect-rows/gate.ts';
import { EFFECT_ROWS } from '#core/params/effects.ts';
import { fullValues } from '#core/params/row.ts';
import { setValue } from '#core/project/commands/values.ts';
import type { Effect } from '#core/document/schema.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { useProject } from '../../stores/document/project.ts';

const { effect } = defineProps<{ effect: Effect }>();
const project = useProject();
const box = useTemplateRef<HTMLElement>('box');
const STEP = 0.1;

const stepAt = (index: number) =>
  (fullValues(EFFECT_ROWS.gate, effect.values) as Record<string, unknown>)[`step${index + 1}`] as number;

function put(index: number, to: number): void {
  const value = Math.round(Math.max(0, Math.min(1, to)) * 20) / 20;
  if (value === stepAt(index)) return;
  const owners = [{ kind: 'effect' as const, id: effect.id }];
  project.run('draw steps', setValue, { owners, param: `step${index + 1}`, change: { to: value } });
}

function draw(event: PointerEvent): void {
  const gesture = project.begin('draw steps');
  const paint = (moved: PointerEvent) => {
    if (gesture && !gesture.isOpen) return;
    const { x, y } = localPoint(moved, box.value!);
    const { clientWidth, clientHeight } = box.value!;
    const index = Math.max(0, Math.min(GATE_STEPS - 1, Math.floor((x / clientWidth) * GATE_STEPS)));
    put(index, 1 - y / clientHeight);
  };
  paint(event);
  followPointer(event, { move: paint, end: () => gesture?.commit(), cancel: () => gesture?.cancel() });
}

function onKey(event: KeyboardEvent, index: number): void {
  const by = { ArrowUp: STEP, ArrowDown: -STEP }[event.key];
  const to = { ArrowLeft: index - 1, ArrowRight: index + 1 }[event.key];
  if (by === undefined && to === undefined) return;
  event.preventDefault();
  event.stopPropagation();
  if (by !== undefined) put(index, stepAt(index) + by);
  else box.value!.querySelectorAll<HTMLElement>('[role=slider]')[to!]?.focus();
}
</script>

<template>
  <div ref="box" class="steps" role="group" aria-label="Steps" data-testid="gate-steps" @pointerdown="draw">
    <div
      v-for="index in GATE_STEPS"
      :key="index"
      class="step"
      :class="{ beat: (index - 1) % 4 === 0 }"
      role="slider"
      :tabindex="index === 1 ? 0 : -1"
      :aria-label="`step ${index}`"
      aria-valuemin="0"
      aria-valuemax="100"
      :aria-valuenow="Math.round(stepAt(index - 1) * 100)"
      @keydown="onKey($event, index - 1)"
    >
      <div class="level" :style="{ height: `${stepAt(index - 1) * 100}%` }" />
    </div>
  </div>
</template>

<style scoped>
.steps {
  display: grid;
  grid-template-columns: repeat(16, minmax(0, 1fr));
  gap: 2px;
  height: 84px;
  background: var(--paper);
  touch-action: none;
  cursor: crosshair;
}
.step {
  display: flex;
  align-items: flex-end;
  height: 100%;
}
.step.beat {
  background: var(--sea-wash);
}
.level {
  width: 100%;
  min-height: 2px;
  background: var(--ink);
}
</style>
