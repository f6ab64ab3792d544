<script setup lang="ts">
/**
 * The level envelope of one or several zones as a curve with points to drag, over the sound as it comes out; its four
 * numbers stand beneath.
 */
import { scaleLinear } from 'd3-scale';
import { useElementSize } from '@vueuse/core';
import { computed, ref, useTemplateRef } from 'vue';
import { ZONE_ROWS } from '#core/params/tables.ts';
import { fitValue } from '#core/params/row.ts';
import { setValue, valueOf, type Owner } from '#core/project/commands/values.ts';
import { envelopePoints, levelAt, type EnvelopeValues } from '../../canvas/envelope-shape.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { useProject } from '../../stores/project.ts';
import ParamField from './ParamField.vue';

const props = withDefaults(
  defineProps<{
    owners: readonly Owner[];
    /** How long the first of them sounds. */
    lengthMs: number;
    /** Its peaks, evenly over its length, 0..1. */
    levels?: readonly number[];
    colour?: string;
    height?: number;
  }>(),
  { levels: () => [], colour: 'var(--sea)', height: 84 },
);
const project = useProject();
const box = useTemplateRef<HTMLElement>('box');
const { width } = useElementSize(box);
const MARGIN = 8;
/** Handles by the point that they move. */
const HANDLES = [
  { point: 1, words: 'attack' },
  { point: 2, words: 'decay and sustain' },
  { point: 4, words: 'release' },
] as const;
type Handle = (typeof HANDLES)[number]['point'];

const PARAMS = ['attackMs', 'decayMs', 'sustain', 'releaseMs'] as const;
const values = computed<EnvelopeValues>(() => {
  const read = (param: (typeof PARAMS)[number]) => valueOf(project.document!, props.owners[0]!, param) as number;
  return {
    attackMs: read('attackMs'),
    decayMs: read('decayMs'),
    sustain: read('sustain'),
    releaseMs: read('releaseMs'),
  };
});
const points = computed(() => envelopePoints(values.value, props.lengthMs));
/** The time that is shown stays while a point is dragged, and grows when it is dragged out. */
const heldMs = ref<number | null>(null);
const shownMs = computed(() => Math.max(heldMs.value ?? 0, points.value[4].timeMs, 20));
const x = computed(() => scaleLinear([0, shownMs.value], [MARGIN, Math.max(60, width.value) - MARGIN]));
const y = computed(() => scaleLinear([0, 1], [props.height - MARGIN, MARGIN]));
const line = computed(() => points.value.map(({ timeMs, level }) => `${x.value(timeMs)},${y.value(level)}`).join(' '));
const area = computed(
  () => `${x.value(0)},${y.value(0)} ${line.value} ${x.value(points.value[4].timeMs)},${y.value(0)}`,
);
/** The sound itself under its envelope. */
const sound = computed(() => {
  const { levels, lengthMs } = props;
  const loudest = Math.max(0.02, ...levels);
  return levels.map((level, i) => {
    const timeMs = ((i + 0.5) / levels.length) * lengthMs;
    const tall = (level / loudest) ** 0.7 * levelAt(points.value, timeMs);
    return {
      x: x.value((i / levels.length) * lengthMs),
      width: (x.value(lengthMs) - x.value(0)) / levels.length,
      y: y.value(tall),
    };
  });
});

function put(change: Partial<EnvelopeValues>): void {
  for (const [param, to] of Object.entries(change)) {
    const fitted = fitValue(ZONE_ROWS[param as keyof EnvelopeValues], to);
    const { scale, digits } = ZONE_ROWS[param as keyof EnvelopeValues];
    const rounded = Number((fitted * scale).toFixed(digits)) / scale;
    project.run('', setValue, { owners: props.owners, param, change: { to: rounded } });
  }
}

function drag(event: PointerEvent, point: Handle): void {
  const svg = box.value!;
  const gesture = project.begin('shape of the level');
  heldMs.value = shownMs.value;
  followPointer(event, {
    move: (moved) => {
      if (gesture && !gesture.isOpen) return;
      const at = localPoint(moved, svg);
      const timeMs = x.value.invert(at.x);
      const level = Math.max(0, Math.min(1, y.value.invert(at.y)));
      if (point === 1) put({ attackMs: timeMs });
      else if (point === 2) put({ decayMs: timeMs - values.value.attackMs, sustain: level });
      else put({ releaseMs: timeMs - points.value[3].timeMs });
    },
    end: () => {
      heldMs.value = null;
      gesture?.commit();
    },
    cancel: () => {
      heldMs.value = null;
      gesture?.cancel();
    },
  });
}

/** One step is a hundredth of what is shown. */
function onKey(event: KeyboardEvent, point: Handle): void {
  const stepMs = shownMs.value / 100;
  const byX = { ArrowLeft: -stepMs, ArrowRight: stepMs }[event.key];
  const byY = { ArrowUp: 0.02, ArrowDown: -0.02 }[event.key];
  if (byX === undefined && byY === undefined) return;
  event.preventDefault();
  event.stopPropagation();
  const { attackMs, decayMs, sustain, releaseMs } = values.value;
  project.step('shape of the level', () => {
    if (byX !== undefined && point === 1) put({ attackMs: attackMs + byX });
    else if (byX !== undefined && point === 2) put({ decayMs: decayMs + byX });
    else if (byX !== undefined) put({ releaseMs: releaseMs + byX });
    else if (point === 2) put({ sustain: sustain + byY! });
  });
}
</script>

<template>
  <div class="envelope">
    <div ref="box" class="picture" :style="{ height: `${height}px` }" data-testid="envelope">
      <svg :viewBox="`0 0 ${Math.max(60, width)} ${height}`" aria-hidden="false">
        <rect
          v-for="(bar, i) in sound"
          :key="i"
          :x="bar.x"
          :y="bar.y"
          :width="bar.width + 0.3"
          :height="height - MARGIN - bar.y"
          :fill="colour"
          opacity="0.75"
        />
        <polygon :points="area" class="under" />
        <polyline :points="line" class="line" />
        <line
          :x1="0"
          :x2="Math.max(60, width)"
          :y1="height - MARGIN + 0.5"
          :y2="height - MARGIN + 0.5"
          class="ground"
        />
        <circle
          v-for="{ point, words } in HANDLES"
          :key="point"
          :cx="x(points[point].timeMs)"
          :cy="y(points[point].level)"
          r="6"
          class="handle"
          role="slider"
          tabindex="0"
          :aria-label="words"
          :aria-valuenow="Math.round(points[point].timeMs)"
          :aria-valuetext="`${Math.round(points[point].timeMs)} ms, ${Math.round(points[point].level * 100)} %`"
          :data-tip="`${words}: drag, or arrow keys`"
          @pointerdown="drag($event, point)"
          @keydown="onKey($event, point)"
        />
      </svg>
    </div>
    <div class="numbers">
      <ParamField v-for="param in PARAMS" :key="param" :owners="owners" :param="param" stacked />
    </div>
  </div>
</template>

<style scoped src="./curve.css"></style>
<style scoped>
.under {
  fill: var(--ink);
  opacity: 0.09;
}
.ground {
  stroke: var(--ink);
}
</style>
