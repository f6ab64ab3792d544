<script setup lang="ts">
/** Where in a slice which layer is, over time and pitch, with the border between them, which can be moved by hand. */
import { computed, ref, useTemplateRef, watchEffect } from 'vue';
import { useElementSize } from '@vueuse/core';
import { HANDLE_PLACES, pullAt } from '#core/unmix/border.ts';
import { HIGHEST_HZ, LOWEST_HZ, PICTURE_BANDS, type ApartPicture } from '#core/unmix/picture.ts';
import { dragPoint } from '../../canvas/drag-point.ts';
import CurvePoint from '../fields/CurvePoint.vue';
import { layerColour } from './layer-looks.ts';
import '../fields/curve.css';

const { picture, pulls, seconds } = defineProps<{ picture: ApartPicture; pulls: readonly number[]; seconds: number }>();
const emit = defineEmits<{ pull: [pulls: number[]] }>();
const MOST_OCTAVES = 4;
const NUDGE_OCTAVES = 1 / 12;
const SCALE_HZ = [100, 1000, 10_000];
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');
const frame = useTemplateRef<HTMLDivElement>('frame');
const { width, height } = useElementSize(frame);
const moving = ref<number[] | null>(null);
const shown = computed(() => moving.value ?? pulls);

const octaves = Math.log2(HIGHEST_HZ / LOWEST_HZ);
const yOf = (hz: number) => height.value * (1 - Math.log2(Math.max(LOWEST_HZ, hz) / LOWEST_HZ) / octaves);
const xOf = (at: number) => (width.value * at) / seconds;

/** The found border at a moment. */
function foundHz(at: number): number {
  const { borderHz, firstSeconds, rowSeconds } = picture;
  const row = Math.round((at - firstSeconds) / rowSeconds);
  return borderHz?.[Math.max(0, Math.min(borderHz.length - 1, row))] ?? LOWEST_HZ;
}
const borderHz = (at: number) =>
  Math.max(LOWEST_HZ, Math.min(HIGHEST_HZ, foundHz(at) * 2 ** pullAt(shown.value, at / seconds)));

const line = computed(() => {
  if (!picture.borderHz) return '';
  const steps: string[] = [];
  const { rows, firstSeconds, rowSeconds } = picture;
  for (let row = 0; row < rows; row++) {
    const from = Math.max(0, firstSeconds + (row - 0.5) * rowSeconds);
    const to = Math.min(seconds, firstSeconds + (row + 0.5) * rowSeconds);
    if (to <= from) continue;
    const y = yOf(borderHz(firstSeconds + row * rowSeconds)).toFixed(1);
    steps.push(`${steps.length === 0 ? 'M' : 'L'}${xOf(from).toFixed(1)} ${y}H${xOf(to).toFixed(1)}`);
  }
  return steps.join('');
});
const handles = computed(() =>
  HANDLE_PLACES.map((place, i) => {
    const at = place * seconds;
    const hz = borderHz(at);
    const pull = shown.value[i] ?? 0;
    const says = `${Math.round(hz)} Hz at ${Math.round(1000 * at)} ms`;
    return { i, x: Math.max(7, xOf(at)), y: Math.max(7, Math.min(height.value - 7, yOf(hz))), pull, says };
  }),
);

/** One number a colour: red, green and blue of `rgb(…)` or `#…`. */
function parts(colour: string): [number, number, number] {
  const numbers = colour.startsWith('#')
    ? [1, 3, 5].map((at) => parseInt(colour.slice(at, at + 2), 16))
    : (colour.match(/\d+/g) ?? []).map(Number);
  return [numbers[0] ?? 0, numbers[1] ?? 0, numbers[2] ?? 0];
}

watchEffect(() => {
  const to = canvas.value;
  const context = to?.getContext('2d');
  if (!to || !context) return;
  const { rows, levels, upper } = picture;
  to.width = rows;
  to.height = PICTURE_BANDS;
  const paper = parts(getComputedStyle(to).getPropertyValue('--paper').trim());
  const [dark, bright] = [parts(layerColour(false)), parts(layerColour(true))];
  const image = context.createImageData(rows, PICTURE_BANDS);
  for (let row = 0; row < rows; row++) {
    for (let band = 0; band < PICTURE_BANDS; band++) {
      const share = upper?.[row * PICTURE_BANDS + band] ?? 0;
      const level = levels[row * PICTURE_BANDS + band]!;
      const at = 4 * ((PICTURE_BANDS - 1 - band) * rows + row);
      for (let c = 0; c < 3; c++) {
        const ink = dark[c]! + (bright[c]! - dark[c]!) * share;
        image.data[at + c] = paper[c]! + (ink - paper[c]!) * level;
      }
      image.data[at + 3] = 255;
    }
  }
  context.putImageData(image, 0, 0);
});

function pullBy(place: number, octavesBy: number): number[] {
  const from = shown.value[place] ?? 0;
  return shown.value.map((pull, i) =>
    i === place ? Math.max(-MOST_OCTAVES, Math.min(MOST_OCTAVES, from + octavesBy)) : pull,
  );
}

function grab(event: PointerEvent, place: number): void {
  const start = [...shown.value];
  dragPoint(event, {
    box: frame.value!,
    gesture: null,
    move: (to, from) => {
      const by = ((from.y - to.y) / Math.max(1, height.value)) * octaves;
      const next = Math.max(-MOST_OCTAVES, Math.min(MOST_OCTAVES, (start[place] ?? 0) + by));
      moving.value = start.map((pull, i) => (i === place ? next : pull));
    },
    done: () => {
      if (moving.value) emit('pull', moving.value);
      moving.value = null;
    },
  });
}

function nudge(event: KeyboardEvent, place: number): void {
  const by = { ArrowUp: NUDGE_OCTAVES, ArrowDown: -NUDGE_OCTAVES }[event.key];
  if (by === undefined) return;
  event.preventDefault();
  event.stopPropagation();
  emit('pull', pullBy(place, event.shiftKey ? 12 * by : by));
}

const ticks = computed(() => {
  const step = [10, 20, 50, 100, 200, 500, 1000].find((ms) => (1000 * seconds) / ms <= 6) ?? 2000;
  return Array.from({ length: Math.floor((1000 * seconds) / step) + 1 }, (_, i) => i * step);
});
</script>

<template>
  <div class="whole">
    <div class="scale mono small quiet" aria-hidden="true">
      <span v-for="hz in SCALE_HZ" :key="hz" :style="{ top: `${yOf(hz)}px` }">{{
        hz < 1000 ? hz : `${hz / 1000}k`
      }}</span>
    </div>
    <div ref="frame" class="frame" data-testid="apart-picture">
      <canvas ref="canvas" aria-hidden="true" />
      <svg v-if="picture.borderHz" :width="width" :height="height" class="curve">
        <path class="halo" :d="line" />
        <path class="border" :d="line" />
        <CurvePoint
          v-for="handle in handles"
          :key="handle.i"
          :x="handle.x"
          :y="handle.y"
          :words="`Border, place ${handle.i + 1}`"
          :now="handle.pull * 12"
          :says="handle.says"
          @pointerdown.stop="grab($event, handle.i)"
          @keydown="nudge($event, handle.i)"
          @dblclick="emit('pull', pullBy(handle.i, -handle.pull))"
        />
      </svg>
    </div>
    <div class="times mono small quiet" aria-hidden="true">
      <span v-for="(ms, i) in ticks" :key="ms" :style="{ left: `${(100 * ms) / (1000 * seconds)}%` }"
        >{{ ms }}{{ i === 0 ? ' ms' : '' }}</span
      >
    </div>
  </div>
</template>

<style scoped>
.whole {
  display: grid;
  grid-template-columns: 34px minmax(0, 1fr);
  grid-template-rows: minmax(0, 1fr) 18px;
  min-height: 0;
}
.scale {
  position: relative;
}
.scale span {
  position: absolute;
  right: 6px;
  transform: translateY(-50%);
}
.frame {
  position: relative;
  min-height: 0;
  overflow: hidden;
}
canvas {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  image-rendering: pixelated;
}
svg {
  position: absolute;
  inset: 0;
}
path {
  fill: none;
}
.border {
  stroke: var(--ink);
  stroke-width: 2;
}
.halo {
  stroke: var(--sheet);
  stroke-width: 5;
  opacity: 0.8;
}
.times {
  position: relative;
  grid-column: 2;
}
.times span {
  position: absolute;
  top: 2px;
}
</style>
