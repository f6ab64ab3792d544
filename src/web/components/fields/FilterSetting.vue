<script setup lang="ts">
/** The filter of one or several zones as the curve of what it lets through, with one point for cutoff and resonance. */
import { scaleLinear, scaleLog } from 'd3-scale';
import { useElementSize } from '@vueuse/core';
import { computed, useTemplateRef } from 'vue';
import { responseDb } from '#core/engine/voice/svf.ts';
import { fitValue } from '#core/params/row.ts';
import { ZONE_ROWS } from '#core/params/tables.ts';
import { setValue, valueOf, type Owner } from '#core/project/commands/values.ts';
import { ENGINE_SAMPLE_RATE } from '../../audio/engine-host.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import CurvePoint from './CurvePoint.vue';
import ParamField from './ParamField.vue';

const props = withDefaults(defineProps<{ owners: readonly Owner[]; height?: number }>(), { height: 84 });
const project = useProject();
const session = useSession();
const box = useTemplateRef<HTMLElement>('box');
const { width } = useElementSize(box);
const TOP_DB = 28;
const BOTTOM_DB = -42;
const POINTS = 120;
const TICKS_HZ = [100, 1000, 10000];
/** So far upwards a hand goes without meaning it. */
const LEAST_UP_PX = 3;

const read = (param: string) => valueOf(project.document!, props.owners[0]!, param);
const shape = computed(() => ZONE_ROWS.filter.choices.findIndex(({ value }) => value === read('filter')));
const isOn = computed(() => shape.value > 0);
const cutoffHz = computed(() => read('cutoffHz') as number);
const resonance = computed(() => read('resonance') as number);
const x = computed(() => scaleLog([20, 20000], [0, Math.max(60, width.value)]));
const y = computed(() => scaleLinear([BOTTOM_DB, TOP_DB], [props.height, 0]).clamp(true));
const gainAt = (hz: number) =>
  responseDb(
    {
      shape: shape.value,
      cutoffHz: cutoffHz.value,
      resonance: resonance.value,
      isSteep: read('slope') === 24,
    },
    hz,
    ENGINE_SAMPLE_RATE,
  );
const line = computed(() =>
  Array.from({ length: POINTS + 1 }, (_, i) => {
    const hz = 20 * 1000 ** (i / POINTS);
    return `${x.value(hz).toFixed(1)},${y.value(gainAt(hz)).toFixed(1)}`;
  }).join(' '),
);
const handle = computed(() => ({ x: x.value(cutoffHz.value), y: y.value(resonance.value * TOP_DB * 0.8) }));

const fittedHz = (hz: number) => Math.round(fitValue(ZONE_ROWS.cutoffHz, hz));
const fittedShare = (share: number) => Math.round(fitValue(ZONE_ROWS.resonance, share) * 100) / 100;

/** Several at once: each by as many octaves and as much ringing, or all the same; what does not move stays. */
function put(from: { cutoffHz: number; resonance: number }, cutoff: number, to: number): void {
  const { owners } = props;
  const isEach = owners.length > 1 && session.together === 'each';
  const change = (owner: readonly Owner[], param: string, value: number) =>
    project.run('', setValue, { owners: owner, param, change: { to: value } });
  if (fittedHz(cutoff) !== fittedHz(from.cutoffHz)) {
    if (!isEach) change(owners, 'cutoffHz', fittedHz(cutoff));
    else for (const owner of owners) change([owner], 'cutoffHz', fittedHz(ownHz(owner) * (cutoff / from.cutoffHz)));
  }
  if (fittedShare(to) !== fittedShare(from.resonance)) {
    if (!isEach) change(owners, 'resonance', fittedShare(to));
    else project.run('', setValue, { owners, param: 'resonance', change: { by: fittedShare(to) - from.resonance } });
  }
}

const ownHz = (owner: Owner) => valueOf(project.document!, owner, 'cutoffHz') as number;

function drag(event: PointerEvent): void {
  if (!isOn.value) return;
  const gesture = project.begin('filter');
  const from = { cutoffHz: cutoffHz.value, resonance: resonance.value };
  const start = localPoint(event, box.value!);
  const hz = x.value;
  followPointer(event, {
    move: (moved) => {
      if (gesture && !gesture.isOpen) return;
      const at = localPoint(moved, box.value!);
      gesture?.rewind();
      // By how far the hand went, not by where it took hold: a way sideways leaves the ringing alone.
      const wantedHz = hz.invert(hz(from.cutoffHz) + at.x - start.x);
      const isUp = Math.abs(at.y - start.y) >= LEAST_UP_PX;
      put(
        from,
        wantedHz,
        isUp ? from.resonance + (start.y - at.y) / (y.value(0) - y.value(TOP_DB * 0.8)) : from.resonance,
      );
    },
    end: () => gesture?.commit(),
    cancel: () => gesture?.cancel(),
  });
}

function onKey(event: KeyboardEvent): void {
  const octaves = { ArrowLeft: -1 / 12, ArrowRight: 1 / 12 }[event.key];
  const more = { ArrowUp: 0.02, ArrowDown: -0.02 }[event.key];
  if (octaves === undefined && more === undefined) return;
  event.preventDefault();
  event.stopPropagation();
  const from = { cutoffHz: cutoffHz.value, resonance: resonance.value };
  project.step('filter', () => put(from, from.cutoffHz * 2 ** (octaves ?? 0), from.resonance + (more ?? 0)));
}
</script>

<template>
  <div class="filter">
    <div ref="box" class="picture" :style="{ height: `${height}px` }" data-testid="filter-curve">
      <svg :viewBox="`0 0 ${Math.max(60, width)} ${height}`">
        <g v-for="hz in TICKS_HZ" :key="hz">
          <line :x1="x(hz)" :x2="x(hz)" :y1="0" :y2="height" class="tick" />
          <text :x="x(hz) + 3" :y="height - 4" class="words">{{ hz >= 1000 ? `${hz / 1000}k` : hz }}</text>
        </g>
        <line :x1="0" :x2="Math.max(60, width)" :y1="y(0)" :y2="y(0)" class="tick" />
        <polygon
          :points="`0,${height} ${line} ${Math.max(60, width)},${height}`"
          class="under"
          :class="{ off: !isOn }"
        />
        <polyline :points="line" class="line" :class="{ off: !isOn }" />
        <CurvePoint
          v-if="isOn"
          :x="handle.x"
          :y="handle.y"
          words="cutoff and resonance"
          :now="cutoffHz"
          :says="`${Math.round(cutoffHz)} Hz, resonance ${Math.round(resonance * 100)} %`"
          @pointerdown="drag"
          @keydown="onKey"
        />
      </svg>
    </div>
    <div class="numbers">
      <ParamField :owners="owners" param="filter" :show-label="false" class="kind" />
      <ParamField v-if="isOn" :owners="owners" param="cutoffHz" stacked />
      <ParamField v-if="isOn" :owners="owners" param="resonance" stacked />
      <ParamField v-if="isOn" :owners="owners" param="slope" :show-label="false" />
      <ParamField :owners="owners" param="driveDb" stacked />
      <ParamField v-if="isOn" :owners="owners" param="cutoffKeyShare" stacked />
    </div>
  </div>
</template>

<style scoped src="./curve.css"></style>
<style scoped>
.tick {
  stroke: var(--rule);
}
.words {
  font: 13px var(--mono);
  fill: var(--ink-quiet);
}
.under {
  fill: var(--sea);
  opacity: 0.16;
}
.off {
  opacity: 0.25;
}
.kind {
  grid-column: 1 / -1;
}
</style>
