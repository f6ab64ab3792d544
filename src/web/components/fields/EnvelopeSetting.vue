<script setup lang="ts">
/**
 * The level envelope of one or several zones as a curve with points to drag, over the sound as it comes out; its numbers
 * stand beneath, the rarer ones when they are asked for.
 */
import { scaleLinear } from 'd3-scale';
import { useElementSize } from '@vueuse/core';
import { computed, ref, useTemplateRef } from 'vue';
import { ZONE_ROWS } from '#core/params/tables.ts';
import { fitValue } from '#core/params/row.ts';
import { setValue, valueOf, type Owner } from '#core/project/commands/values.ts';
import { drawnPoints, envelopePoints, levelAt, POINT, type EnvelopeValues } from '../../canvas/envelope-shape.ts';
import { dragPoint } from '../../canvas/drag-point.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import CurvePoint from './CurvePoint.vue';
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
const session = useSession();
const box = useTemplateRef<HTMLElement>('box');
const { width } = useElementSize(box);
const MARGIN = 8;
/** Handles by the point that they move. */
const HANDLES = [
  { point: POINT.top, words: 'attack' },
  { point: POINT.held, words: 'hold' },
  { point: POINT.decayed, words: 'decay and sustain' },
  { point: POINT.silent, words: 'release' },
] as const;
type Handle = (typeof HANDLES)[number]['point'];

const PARAMS = ['attackMs', 'decayMs', 'sustain', 'releaseMs'] as const;
const RARER = ['delayMs', 'holdMs', 'attackBend', 'decayBend', 'releaseBend'] as const;
const values = computed(
  () =>
    Object.fromEntries(
      [...PARAMS, ...RARER].map((param) => [param, valueOf(project.document!, props.owners[0]!, param) as number]),
    ) as Required<EnvelopeValues>,
);
/** The rarer numbers: shown when asked for, or when one of them is set. */
const wantsMore = ref(false);
const hasMore = computed(() => wantsMore.value || RARER.some((param) => values.value[param] !== 0));
/** A hold of nothing is no handle: it lies under that of the attack. */
const handles = computed(() => HANDLES.filter(({ point }) => point !== POINT.held || hasMore.value));
const points = computed(() => envelopePoints(values.value, props.lengthMs));
/** The time that is shown stays while a point is dragged, and grows when it is dragged out. */
const heldMs = ref<number | null>(null);
const shownMs = computed(() => Math.max(heldMs.value ?? 0, points.value[POINT.silent].timeMs, 20));
const x = computed(() => scaleLinear([0, shownMs.value], [MARGIN, Math.max(60, width.value) - MARGIN]));
const y = computed(() => scaleLinear([0, 1], [props.height - MARGIN, MARGIN]));
const line = computed(() =>
  drawnPoints(points.value)
    .map(({ timeMs, level }) => `${x.value(timeMs)},${y.value(level)}`)
    .join(' '),
);
const area = computed(
  () =>
    `${x.value(points.value[POINT.start].timeMs)},${y.value(0)} ${line.value} ${x.value(points.value[POINT.silent].timeMs)},${y.value(0)}`,
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

/** Several at once: each by as much as the first, or all the same, as chosen. */
function put(change: Partial<EnvelopeValues>): void {
  const isEach = props.owners.length > 1 && session.together === 'each';
  for (const [param, to] of Object.entries(change)) {
    const fitted = fitValue(ZONE_ROWS[param as keyof EnvelopeValues], to);
    const { scale, digits } = ZONE_ROWS[param as keyof EnvelopeValues];
    const rounded = Number((fitted * scale).toFixed(digits)) / scale;
    const before = values.value[param as keyof EnvelopeValues];
    if (rounded === before) continue;
    const how = isEach ? { by: rounded - before } : { to: rounded };
    project.run('', setValue, { owners: props.owners, param, change: how });
  }
}

function drag(event: PointerEvent, point: Handle): void {
  const gesture = project.begin('shape of the level');
  heldMs.value = shownMs.value;
  dragPoint(event, {
    box: box.value!,
    gesture,
    move: (at) => {
      const timeMs = x.value.invert(at.x);
      const level = Math.max(0, Math.min(1, y.value.invert(at.y)));
      // Each move is told from the start of the drag: what has come to the end of its range comes back from where it was.
      gesture?.rewind();
      const since = (place: number) => timeMs - points.value[place]!.timeMs;
      if (point === POINT.top) put({ attackMs: since(POINT.start) });
      else if (point === POINT.held) put({ holdMs: since(POINT.top) });
      else if (point === POINT.decayed) put({ decayMs: since(POINT.held), sustain: level });
      else put({ releaseMs: since(POINT.letGo) });
    },
    done: () => (heldMs.value = null),
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
  const { attackMs, holdMs, decayMs, sustain, releaseMs } = values.value;
  project.step('shape of the level', () => {
    if (byX === undefined) {
      if (point === POINT.decayed) put({ sustain: sustain + byY! });
    } else if (point === POINT.top) put({ attackMs: attackMs + byX });
    else if (point === POINT.held) put({ holdMs: holdMs + byX });
    else if (point === POINT.decayed) put({ decayMs: decayMs + byX });
    else put({ releaseMs: releaseMs + byX });
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
        <CurvePoint
          v-for="{ point, words } in handles"
          :key="point"
          :x="x(points[point].timeMs)"
          :y="y(points[point].level)"
          :words="words"
          :now="points[point].timeMs"
          :says="`${Math.round(points[point].timeMs)} ms, ${Math.round(points[point].level * 100)} %`"
          @pointerdown="drag($event, point)"
          @keydown="onKey($event, point)"
        />
      </svg>
    </div>
    <div class="numbers">
      <ParamField v-for="param in PARAMS" :key="param" :owners="owners" :param="param" stacked />
    </div>
    <div v-if="hasMore" class="numbers rarer">
      <ParamField v-for="param in RARER" :key="param" :owners="owners" :param="param" stacked />
    </div>
    <v-btn v-else class="more" data-tip="Delay, hold, and the bends of each way" @click="wantsMore = true"
      >delay, hold, bends</v-btn
    >
  </div>
</template>

<style scoped src="./curve.css"></style>
<style scoped>
.rarer {
  grid-template-columns: repeat(auto-fit, minmax(92px, 1fr));
}
.more {
  margin-top: 5px;
}
.under {
  fill: var(--ink);
  opacity: 0.09;
}
.ground {
  stroke: var(--ink);
}
</style>
