<script setup lang="ts">
/**
 * Slices laid out by how they sound: dark to bright from left to right, short to long upwards. Click one to hear it, hold
 * Alt to hear what the pointer passes over, draw round several to select them; a line leads to the nearest sound.
 */
import { polygonContains } from 'd3-polygon';
import { useElementSize, useRafFn } from '@vueuse/core';
import { computed, ref, shallowRef, useTemplateRef, watch } from 'vue';
import type { PlacedSlice } from '#core/queries/slices.ts';
import { engine, library } from '../../audio/services.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { useSession } from '../../stores/document/session.ts';
import { useTransport } from '../../stores/sound/transport.ts';
import { LIKENESS_MARGIN, likenessSteps, roundTicks, type LikenessLayout } from './likeness-layout.ts';

const session = useSession();
const transport = useTransport();
const box = useTemplateRef<HTMLElement>('box');
const { width, height } = useElementSize(box);
/** A number stands inside a dot that has room for it. */
const NUMBERED_FROM_PX = 9;
const MOST_MS_A_FRAME = 8;

const rate = computed(() => session.loaded?.sampleRate ?? 44100);
const points = computed(() =>
  session.placed.map(({ slice, startFrame, endFrame }) => ({
    brightnessHz: slice.brightnessHz,
    lengthMs: ((endFrame - startFrame) / rate.value) * 1000,
  })),
);
/** Where the dots are so far: they settle within a few frames of the screen, a few milliseconds in each. */
const layout = shallowRef<LikenessLayout>(likenessSteps([], 120, 80).next().value);
let settling: ReturnType<typeof likenessSteps> | null = null;
watch(
  [points, width, height],
  () => (settling = likenessSteps(points.value, Math.max(120, width.value), Math.max(80, height.value))),
  { immediate: true },
);
useRafFn(() => {
  if (!settling) return;
  const until = performance.now() + MOST_MS_A_FRAME;
  let step = settling.next();
  while (!step.done && performance.now() < until) step = settling.next();
  layout.value = step.value;
  if (step.done) settling = null;
});
const xTicks = computed(() =>
  roundTicks(layout.value.x.domain() as [number, number]).map((hz) => ({
    at: layout.value.x(hz),
    words: hz >= 1000 ? `${hz / 1000} kHz` : `${hz} Hz`,
  })),
);
const yTicks = computed(() =>
  roundTicks(layout.value.y.domain() as [number, number]).map((ms) => ({
    at: layout.value.y(ms),
    words: ms >= 1000 ? `${ms / 1000} s` : `${ms} ms`,
  })),
);
const dots = computed(() =>
  session.placed.map((at, index) => ({
    at,
    // A slice that has just come has no place yet.
    ...(layout.value.dots[index] ?? { x: -99, y: -99 }),
    colour: session.colours[index] ?? 'var(--sea)',
    isChosen: session.sliceIds.includes(at.slice.id),
  })),
);

/** How far every slice is from every other, once it has been compared. */
const distances = shallowRef<number[][]>([]);
watch(
  () => [session.cut?.sourceId, session.placed] as const,
  async ([sourceId, placed]) => {
    distances.value = [];
    if (!sourceId || placed.length < 2) return;
    const ranges = placed.map(({ startFrame, endFrame }) => ({ startFrame, endFrame }));
    const rows = await library.likeness(sourceId, ranges).catch(() => []);
    if (session.placed === placed) distances.value = rows;
  },
  { immediate: true },
);
const nearest = computed(() => {
  const from = session.selectedSlices[0]?.index;
  const row = from === undefined ? undefined : distances.value[from];
  if (from === undefined || !row) return null;
  let best = -1;
  row.forEach((distance, index) => {
    if (index !== from && (best < 0 || distance < row[best]!)) best = index;
  });
  return best < 0 ? null : { from: dots.value[from]!, to: dots.value[best]! };
});

function hear(at: PlacedSlice): void {
  const zone = session.zoneBySlice.get(at.slice.id)?.zone;
  if (zone) transport.playZone(zone.id);
}

let lastHeard = '';
function onHover(event: PointerEvent, at: PlacedSlice): void {
  if (!event.altKey || lastHeard === at.slice.id) return;
  lastHeard = at.slice.id;
  void engine.resume().then(() => hear(at));
}

function pick(event: MouseEvent | KeyboardEvent, at: PlacedSlice): void {
  session.selectSlices([at.slice.id], event.shiftKey || event.ctrlKey || event.metaKey);
  hear(at);
}

const lasso = ref<[number, number][]>([]);
function drawLasso(event: PointerEvent): void {
  if (event.button !== 0) return;
  const element = box.value!;
  const point = (at: PointerEvent): [number, number] => {
    const { x, y } = localPoint(at, element);
    return [x, y];
  };
  lasso.value = [point(event)];
  followPointer(event, {
    move: (moved) => (lasso.value = [...lasso.value, point(moved)]),
    end: (moved) => {
      const line = lasso.value;
      lasso.value = [];
      const inside = moved ? dots.value.filter(({ x, y }) => polygonContains(line, [x, y])) : [];
      session.selectSlices(
        inside.map(({ at }) => at.slice.id),
        event.shiftKey,
      );
    },
    cancel: () => (lasso.value = []),
  });
}
</script>

<template>
  <div ref="box" class="likeness">
    <svg
      role="group"
      aria-label="Slices by likeness: dark to bright from left to right, short to long upwards; click one to hear it, draw round several to select them"
      data-testid="likeness-chart"
      :viewBox="`0 0 ${Math.max(120, width)} ${Math.max(80, height)}`"
      @pointerdown="drawLasso"
    >
      <g class="axis" aria-hidden="true">
        <g v-for="{ at, words } in xTicks" :key="words">
          <line
            :x1="at"
            :x2="at"
            :y1="LIKENESS_MARGIN.top - 8"
            :y2="Math.max(80, height) - LIKENESS_MARGIN.bottom + 8"
          />
          <text :x="at" :y="Math.max(80, height) - 8" text-anchor="middle">{{ words }}</text>
        </g>
        <g v-for="{ at, words } in yTicks" :key="words">
          <line :x1="LIKENESS_MARGIN.left - 6" :x2="Math.max(120, width)" :y1="at" :y2="at" />
          <text :x="LIKENESS_MARGIN.left - 8" :y="at + 4" text-anchor="end">{{ words }}</text>
        </g>
        <text class="end" :x="LIKENESS_MARGIN.left" y="12">length</text>
        <text
          class="end"
          :x="Math.max(120, width) - 4"
          :y="Math.max(80, height) - LIKENESS_MARGIN.bottom + 2"
          text-anchor="end"
        >
          brightness
        </text>
      </g>
      <line
        v-if="nearest"
        class="nearest"
        data-testid="nearest"
        :x1="nearest.from.x"
        :y1="nearest.from.y"
        :x2="nearest.to.x"
        :y2="nearest.to.y"
      />
      <g
        v-for="dot in dots"
        :key="dot.at.slice.id"
        class="dot"
        :class="{ chosen: dot.isChosen }"
        role="button"
        tabindex="0"
        :aria-label="`Slice ${dot.at.index + 1}, ${dot.at.label}`"
        :aria-pressed="dot.isChosen"
        :data-tip="`${dot.at.index + 1} ${dot.at.label}`"
        @pointerdown.stop
        @pointermove="onHover($event, dot.at)"
        @click="pick($event, dot.at)"
        @keydown.enter.stop.prevent="pick($event, dot.at)"
      >
        <circle :cx="dot.x" :cy="dot.y" :r="layout.radius" :fill="dot.colour" />
        <text v-if="layout.radius >= NUMBERED_FROM_PX" :x="dot.x" :y="dot.y + 4.5" text-anchor="middle">
          {{ dot.at.index + 1 }}
        </text>
      </g>
      <polygon v-if="lasso.length > 2" class="lasso" :points="lasso.map((point) => point.join(',')).join(' ')" />
    </svg>
  </div>
</template>

<style scoped>
.likeness {
  min-height: 0;
}
svg {
  display: block;
  width: 100%;
  height: 100%;
  touch-action: none;
  cursor: crosshair;
}
.axis line {
  stroke: var(--rule);
  opacity: 0.7;
}
.axis text {
  font: 13px var(--mono);
  fill: var(--ink-quiet);
}
.axis .end {
  font-family: var(--sans);
  font-weight: 600;
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--sheet);
  stroke-width: 4px;
}
.dot {
  cursor: pointer;
  outline: none;
}
.dot text {
  font: 500 13px var(--mono);
  fill: #fff;
  paint-order: stroke;
  stroke: rgb(0 0 0 / 55%);
  stroke-width: 2.5px;
  pointer-events: none;
}
.dot:focus-visible circle,
.dot.chosen circle {
  stroke: var(--ink);
  stroke-width: 3;
}
.nearest {
  stroke: var(--ink);
  stroke-width: 1.5;
  stroke-dasharray: 4 3;
}
.lasso {
  fill: var(--sea-wash);
  stroke: var(--sea);
}
</style>
