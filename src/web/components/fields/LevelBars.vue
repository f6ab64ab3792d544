<script setup lang="ts">
/** A row of levels 0..1, drawn with the pointer or changed one by one with the arrow keys. A drag is one gesture. */
import { useTemplateRef } from 'vue';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';

const {
  levels,
  now = -1,
  testId = undefined,
} = defineProps<{
  levels: readonly number[];
  label: string;
  testId?: string;
  /** The one that is heard now; -1 for none. */
  now?: number;
}>();
const emit = defineEmits<{ begin: []; put: [place: number, level: number]; commit: []; cancel: [] }>();
const box = useTemplateRef<HTMLElement>('box');
const STEP = 0.1;
/** Every twentieth can be drawn. */
const FINENESS = 20;

function put(place: number, to: number): void {
  const level = Math.round(Math.max(0, Math.min(1, to)) * FINENESS) / FINENESS;
  if (level !== levels[place]) emit('put', place, level);
}

function draw(event: PointerEvent): void {
  emit('begin');
  const paint = (moved: PointerEvent) => {
    const { x, y } = localPoint(moved, box.value!);
    const { clientWidth, clientHeight } = box.value!;
    const place = Math.max(0, Math.min(levels.length - 1, Math.floor((x / clientWidth) * levels.length)));
    put(place, 1 - y / clientHeight);
  };
  paint(event);
  followPointer(event, { move: paint, end: () => emit('commit'), cancel: () => emit('cancel') });
}

function onKey(event: KeyboardEvent, place: number): void {
  const by = { ArrowUp: STEP, ArrowDown: -STEP }[event.key];
  const to = { ArrowLeft: place - 1, ArrowRight: place + 1 }[event.key];
  if (by === undefined && to === undefined) return;
  event.preventDefault();
  event.stopPropagation();
  if (by !== undefined) put(place, levels[place]! + by);
  else box.value!.querySelectorAll<HTMLElement>('[role=slider]')[to!]?.focus();
}
</script>

<template>
  <div
    ref="box"
    class="bars"
    role="group"
    :aria-label="label"
    :data-testid="testId"
    :style="{ gridTemplateColumns: `repeat(${levels.length}, minmax(0, 1fr))` }"
    @pointerdown="draw"
  >
    <div
      v-for="(level, place) in levels"
      :key="place"
      class="bar"
      :class="{ beat: place % 4 === 0, now: place === now }"
      role="slider"
      :tabindex="place === 0 ? 0 : -1"
      :aria-label="`step ${place + 1}`"
      aria-valuemin="0"
      aria-valuemax="100"
      :aria-valuenow="Math.round(level * 100)"
      @keydown="onKey($event, place)"
    >
      <div class="level" :style="{ height: `${level * 100}%` }" />
    </div>
  </div>
</template>

<style scoped>
.bars {
  display: grid;
  gap: 2px;
  height: 84px;
  background: var(--paper);
  touch-action: none;
  cursor: crosshair;
}
.bar {
  display: flex;
  align-items: flex-end;
  height: 100%;
}
.bar.beat {
  background: var(--sea-wash);
}
.level {
  width: 100%;
  min-height: 2px;
  background: var(--ink);
}
.bar.now .level {
  background: var(--signal);
}
</style>
