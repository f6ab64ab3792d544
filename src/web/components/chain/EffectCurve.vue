<script setup lang="ts">
/** What an equaliser or a filter lets through, with its points to drag: sideways the frequency, upwards level or resonance. */
import { useElementSize } from '@vueuse/core';
import { scaleLinear, scaleLog } from 'd3-scale';
import { computed, useTemplateRef } from 'vue';
import { EFFECT_ROWS } from '#core/params/effects.ts';
import { fitValue, fullValues, type NumberRow, type Rows } from '#core/params/row.ts';
import { setValue } from '#core/project/commands/values.ts';
import type { Effect } from '#core/document/schema.ts';
import { equaliserDb, filterDb, type EqualiserValues, type FilterValues } from '#core/queries/effect-curves.ts';
import { ENGINE_SAMPLE_RATE } from '../../audio/engine-host.ts';
import { dragPoint } from '../../canvas/drag-point.ts';
import { useProject } from '../../stores/document/project.ts';
import CurvePoint from '../fields/CurvePoint.vue';
import { pointsOf, useSpectrum } from './use-spectrum.ts';

const { effect } = defineProps<{ effect: Effect }>();
/** The chosen point, by the beginning of its settings' names. */
const chosen = defineModel<string>('point', { required: true });
const project = useProject();
const box = useTemplateRef<HTMLElement>('box');
const { width: boxWidth } = useElementSize(box);
const HEIGHT = 132;
const POINTS = 140;
const TICKS_HZ = [100, 1000, 10_000];

/** A point: its frequency, and what it is lifted by: in dB, or a share of the height. */
interface Point {
  label: string;
  hz: string;
  level: string;
}
const POINTS_OF: Readonly<Record<'equaliser' | 'filter', readonly Point[]>> = {
  equaliser: [
    { label: 'low shelf', hz: 'lowShelfHz', level: 'lowShelfDb' },
    { label: 'bell 1', hz: 'bell1Hz', level: 'bell1Db' },
    { label: 'bell 2', hz: 'bell2Hz', level: 'bell2Db' },
    { label: 'bell 3', hz: 'bell3Hz', level: 'bell3Db' },
    { label: 'bell 4', hz: 'bell4Hz', level: 'bell4Db' },
    { label: 'high shelf', hz: 'highShelfHz', level: 'highShelfDb' },
  ],
  filter: [{ label: 'cutoff and resonance', hz: 'cutoffHz', level: 'resonance' }],
};

const kind = computed(() => effect.kind as 'equaliser' | 'filter');
const rows = computed(() => EFFECT_ROWS[kind.value] as Rows);
const values = computed(() => fullValues(rows.value, effect.values) as Record<string, number>);
const width = computed(() => Math.max(60, boxWidth.value));
const x = computed(() => scaleLog([20, 20_000], [0, width.value]).clamp(true));
const y = computed(() => scaleLinear([-30, 30], [HEIGHT, 0]).clamp(true));
const levelAt = (hz: number) =>
  kind.value === 'equaliser'
    ? equaliserDb(values.value as unknown as EqualiserValues, hz, ENGINE_SAMPLE_RATE)
    : filterDb(values.value as unknown as FilterValues, hz, ENGINE_SAMPLE_RATE);
const line = computed(() =>
  Array.from({ length: POINTS + 1 }, (_, i) => {
    const hz = 20 * 1000 ** (i / POINTS);
    return `${x.value(hz).toFixed(1)},${y.value(levelAt(hz)).toFixed(1)}`;
  }).join(' '),
);
/** Of a resonance: from the middle up to the top. */
const toHeight = computed(() =>
  kind.value === 'equaliser' ? y.value : scaleLinear([0, 1], [HEIGHT / 2, 8]).clamp(true),
);
const points = computed(() =>
  POINTS_OF[kind.value].map((point, index) => ({
    ...point,
    index,
    cx: x.value(values.value[point.hz]!),
    cy: toHeight.value(values.value[point.level]!),
    words: `${Math.round(values.value[point.hz]!)} Hz, ${
      kind.value === 'equaliser'
        ? `${values.value[point.level]!.toFixed(1)} dB`
        : `resonance ${Math.round(values.value[point.level]! * 100)} %`
    }`,
  })),
);

/** Outside Vue: they move with every report of the engine. */
const beforeLine = useTemplateRef<SVGPolylineElement>('beforeLine');
const afterArea = useTemplateRef<SVGPolygonElement>('afterArea');
useSpectrum(
  () => effect.id,
  ({ before, after }) => {
    beforeLine.value?.setAttribute('points', pointsOf(before, width.value, HEIGHT));
    afterArea.value?.setAttribute(
      'points',
      `0,${HEIGHT} ${pointsOf(after, width.value, HEIGHT)} ${width.value},${HEIGHT}`,
    );
  },
);

const nameOf = ({ hz }: Point) => hz.slice(0, -2);

function put({ hz, level }: Point, toHz: number, toLevel: number): void {
  const set = (param: string, to: number, step: number) => {
    const row = rows.value[param] as NumberRow;
    const value = Number((Math.round(fitValue(row, to) / step) * step).toFixed(2));
    if (value === values.value[param]) return;
    project.run('', setValue, {
      owners: [{ kind: 'effect', id: effect.id }],
      param,
      change: { to: fitValue(row, value) },
    });
  };
  set(hz, toHz, 1);
  set(level, toLevel, kind.value === 'equaliser' ? 0.1 : 0.01);
}

function drag(event: PointerEvent, point: (typeof points.value)[number]): void {
  chosen.value = nameOf(point);
  const { cx, cy } = point;
  dragPoint(event, {
    box: box.value!,
    gesture: project.begin(`${point.label} of the ${kind.value}`),
    move: (at, from) => put(point, x.value.invert(cx + at.x - from.x), toHeight.value.invert(cy + at.y - from.y)),
  });
}

function onKey(event: KeyboardEvent, point: (typeof points.value)[number]): void {
  const octaves = { ArrowLeft: -1 / 12, ArrowRight: 1 / 12 }[event.key];
  const up = { ArrowUp: 1, ArrowDown: -1 }[event.key];
  if (octaves === undefined && up === undefined) return;
  event.preventDefault();
  event.stopPropagation();
  const step = kind.value === 'equaliser' ? 0.5 : 0.02;
  project.step(point.label, () =>
    put(point, values.value[point.hz]! * 2 ** (octaves ?? 0), values.value[point.level]! + (up ?? 0) * step),
  );
}

/** A double click puts a point back on the line. */
function level(point: Point): void {
  const owners = [{ kind: 'effect' as const, id: effect.id }];
  project.run(point.label, setValue, { owners, param: point.level, change: { to: 0 } });
}
</script>

<template>
  <div ref="box" class="picture" :style="{ height: `${HEIGHT}px` }" data-testid="effect-curve">
    <svg :viewBox="`0 0 ${width} ${HEIGHT}`">
      <g v-for="hz in TICKS_HZ" :key="hz">
        <line :x1="x(hz)" :x2="x(hz)" y1="0" :y2="HEIGHT" class="tick" />
        <text
          :x="x(hz) + (hz === TICKS_HZ.at(-1) ? -3 : 3)"
          :text-anchor="hz === TICKS_HZ.at(-1) ? 'end' : 'start'"
          :y="HEIGHT - 4"
          class="words"
        >
          {{ hz >= 1000 ? `${hz / 1000}k` : hz }}
        </text>
      </g>
      <polygon ref="afterArea" class="after" data-testid="spectrum-after" />
      <polyline ref="beforeLine" class="before" />
      <line x1="0" :x2="width" :y1="y(0)" :y2="y(0)" class="tick" />
      <polygon :points="`0,${HEIGHT} ${line} ${width},${HEIGHT}`" class="under" />
      <polyline :points="line" class="line" />
      <CurvePoint
        v-for="point in points"
        :key="point.hz"
        :x="point.cx"
        :y="point.cy"
        :class="{ chosen: points.length > 1 && nameOf(point) === chosen }"
        :words="point.label"
        :now="values[point.hz]!"
        :says="point.words"
        @pointerdown="drag($event, point)"
        @focus="chosen = nameOf(point)"
        @keydown="onKey($event, point)"
        @dblclick="level(point)"
      />
    </svg>
  </div>
</template>

<style scoped src="../fields/curve.css"></style>
<style scoped>
.tick {
  stroke: var(--rule);
}
.words {
  font: 13px var(--mono);
  fill: var(--ink-quiet);
}
.handle.chosen {
  stroke: var(--sea);
  stroke-width: 3;
}
.after {
  fill: var(--ink);
  /* Not `opacity`, which has the browser put the page's layers together again with every frame. */
  fill-opacity: 0.13;
}
.before {
  fill: none;
  stroke: var(--ink-quiet);
  stroke-width: 1;
  stroke-opacity: 0.7;
}
.under {
  fill: var(--sea);
  opacity: 0.16;
}
</style>
