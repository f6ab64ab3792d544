<script setup lang="ts">
/** A modulator's course, with where it is while it sounds; the values of a row of steps, and a curve's points, are dragged. */
import { useElementSize } from '@vueuse/core';
import { computed, ref, shallowRef, useTemplateRef } from 'vue';
import { drawModulator } from '#core/project/commands/modulators.ts';
import type { Modulator } from '#core/document/schema.ts';
import { songValues } from '#core/queries/values.ts';
import { usePictures } from '../../canvas/pictures.ts';
import { engine } from '../../audio/services.ts';
import { courseOf, courseSeconds, hasCourse } from '../../canvas/modulator-shape.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { useProject } from '../../stores/document/project.ts';
import { useRecentPresses } from '../../stores/keys/recent-presses.ts';

const { modulator, height = 54 } = defineProps<{ modulator: Modulator; height?: number }>();
const project = useProject();
const presses = useRecentPresses();
const box = useTemplateRef<HTMLElement>('box');
const { width: measured } = useElementSize(box);
const width = computed(() => Math.max(60, measured.value));
const MARGIN = 5;
const COUNT = 96;
/** A point is taken hold of so near to it. */
const REACH_PX = 9;
const MOST_POINTS = 64;

const tempoBpm = computed(() => songValues(project.document!).tempoBpm);
const seconds = computed(() => courseSeconds(modulator, tempoBpm.value));
/** While it is dragged: nothing is changed before it is let go. */
const draft = shallowRef<Pick<Modulator, 'steps' | 'points'> | null>(null);
const shown = computed<Modulator>(() => ({ ...modulator, ...draft.value }));
const isPositive = computed(() => modulator.kind === 'envelope');
const y = (value: number) => {
  const share = isPositive.value ? value : (value + 1) / 2;
  return height - MARGIN - share * (height - 2 * MARGIN);
};
const valueAt = (at: number) => Math.max(-1, Math.min(1, ((height - MARGIN - at) / (height - 2 * MARGIN)) * 2 - 1));
const line = computed(() =>
  courseOf(shown.value, tempoBpm.value, COUNT)
    .map((value, i) => `${((i / COUNT) * width.value).toFixed(1)},${y(value).toFixed(1)}`)
    .join(' '),
);

/** Where it is, 0..1; null while nothing sounds. */
const place = ref<number | null>(null);
usePictures(() => {
  const { sounding, positionTicks, playing } = engine.status;
  if (sounding.length === 0 && !playing) {
    place.value = null;
    return;
  }
  const isFree = modulator.values.restarts === false;
  const song = playing ? (engine.positionTicksNow() / 960) * (60 / tempoBpm.value) : positionTicks;
  const at = (isFree ? song : (performance.now() - presses.lastPressAt()) / 1000) / seconds.value;
  place.value = modulator.kind === 'envelope' || modulator.values.isOnce === true ? Math.min(1, at) : at % 1;
});

function put(drawn: Pick<Modulator, 'steps' | 'points'>): void {
  project.run(modulator.kind === 'steps' ? 'draw steps' : 'draw the curve', drawModulator, {
    modulatorId: modulator.id,
    ...drawn,
  });
}

function onPointerDown(event: PointerEvent): void {
  if (event.button !== 0) return;
  if (modulator.kind === 'steps') dragSteps(event);
  else if (modulator.kind === 'curve') dragPoint(event);
}

function dragSteps(event: PointerEvent): void {
  const draw = (at: PointerEvent) => {
    const { x, y: down } = localPoint(at, box.value!);
    const steps = [...(draft.value?.steps ?? modulator.steps!)];
    const index = Math.max(0, Math.min(steps.length - 1, Math.floor((x / width.value) * steps.length)));
    steps[index] = Math.round(valueAt(down) * 100) / 100;
    draft.value = { steps };
  };
  draw(event);
  follow(event, draw);
}

function dragPoint(event: PointerEvent): void {
  const points = modulator.points!;
  const { x, y: down } = localPoint(event, box.value!);
  const index = points.findIndex((one) => Math.hypot(one.at * width.value - x, y(one.value) - down) < REACH_PX);
  if (index < 0) return;
  follow(event, (at) => {
    const to = localPoint(at, box.value!);
    const low = points[index - 1]?.at ?? 0;
    const high = points[index + 1]?.at ?? 1;
    const moved = { at: Math.max(low, Math.min(high, to.x / width.value)), value: valueAt(to.y) };
    draft.value = { points: points.map((one, i) => (i === index ? moved : one)) };
  });
}

function follow(event: PointerEvent, move: (at: PointerEvent) => void): void {
  followPointer(event, {
    move,
    end: () => {
      const drawn = draft.value;
      draft.value = null;
      if (drawn) put(drawn);
    },
    cancel: () => (draft.value = null),
  });
}

/** A double click puts a point down, or takes one away. */
function onDoubleClick(event: MouseEvent): void {
  if (modulator.kind !== 'curve') return;
  const points = modulator.points!;
  const { x, y: down } = localPoint(event, box.value!);
  const near = points.findIndex((one) => Math.hypot(one.at * width.value - x, y(one.value) - down) < REACH_PX);
  if (near >= 0) {
    if (points.length > 2) put({ points: points.filter((_, i) => i !== near) });
  } else if (points.length < MOST_POINTS) {
    put({ points: [...points, { at: x / width.value, value: valueAt(down) }] });
  }
}
</script>

<template>
  <div
    v-if="hasCourse(modulator.kind)"
    ref="box"
    class="picture"
    :class="{ drawn: modulator.kind === 'steps' || modulator.kind === 'curve' }"
    :style="{ height: `${height}px` }"
    :data-tip="
      modulator.kind === 'steps'
        ? 'Draw the steps'
        : modulator.kind === 'curve'
          ? 'Drag points; a double click sets one, or takes it away'
          : undefined
    "
    data-testid="modulator-picture"
    @pointerdown="onPointerDown"
    @dblclick="onDoubleClick"
  >
    <svg :viewBox="`0 0 ${width} ${height}`" aria-hidden="true">
      <line v-if="!isPositive" :x1="0" :x2="width" :y1="y(0)" :y2="y(0)" class="zero" />
      <polyline :points="line" class="line" />
      <template v-if="modulator.kind === 'curve'">
        <circle
          v-for="(point, i) in shown.points"
          :key="i"
          :cx="point.at * width"
          :cy="y(point.value)"
          r="4.5"
          class="handle"
        />
      </template>
      <line v-if="place !== null" :x1="place * width" :x2="place * width" :y1="0" :y2="height" class="now" />
    </svg>
  </div>
</template>

<style scoped src="../fields/curve.css"></style>
<style scoped>
.drawn {
  cursor: crosshair;
}
.zero {
  stroke: var(--rule);
}
.now {
  stroke: var(--signal);
  stroke-width: 1.5;
}
</style>
