<script setup lang="ts">
/** How far, how long and along which bend an effect gives way, with points to drag. */
import { useElementSize } from '@vueuse/core';
import { scaleLinear } from 'd3-scale';
import { computed, ref, useTemplateRef } from 'vue';
import { bent } from '#core/dsp/bend.ts';
import { EFFECT_ROWS } from '#core/params/effects.ts';
import { fitValue, fullValues, type NumberRow } from '#core/params/row.ts';
import { setValue } from '#core/project/commands/values.ts';
import type { Effect } from '#core/document/schema.ts';
import { dragPoint } from '../../canvas/drag-point.ts';
import { useProject } from '../../stores/document/project.ts';
import CurvePoint from '../fields/CurvePoint.vue';

const { effect } = defineProps<{ effect: Effect }>();
const project = useProject();
const box = useTemplateRef<HTMLElement>('box');
const { width: boxWidth } = useElementSize(box);
const HEIGHT = 96;
const MARGIN = 8;
const DEEPEST_DB = -36;
const ROWS = EFFECT_ROWS.ducking;
type Param = 'depthDb' | 'downMs' | 'holdMs' | 'returnMs' | 'bend';

const values = computed(() => fullValues(ROWS, effect.values));
const width = computed(() => Math.max(60, boxWidth.value));
/** What is shown stays while a point is dragged, and grows when it is dragged out. */
const heldMs = ref<number | null>(null);
const wholeMs = computed(() => values.value.downMs + values.value.holdMs + values.value.returnMs);
const shownMs = computed(() => Math.max(heldMs.value ?? 0, wholeMs.value * 1.15, 40));
const x = computed(() => scaleLinear([0, shownMs.value], [MARGIN, width.value - MARGIN]));
const y = computed(() => scaleLinear([0, DEEPEST_DB], [MARGIN, HEIGHT - MARGIN]).clamp(true));
const line = computed(() => {
  const { downMs, holdMs, returnMs, depthDb, bend } = values.value;
  const back = Array.from({ length: 25 }, (_, i) => {
    const share = i / 24;
    return [downMs + holdMs + share * returnMs, depthDb * (1 - bent(share, bend))] as const;
  });
  const all = [[0, 0], [downMs, depthDb], ...back, [shownMs.value, 0]] as const;
  return all.map(([ms, dB]) => `${x.value(ms!).toFixed(1)},${y.value(dB!).toFixed(1)}`).join(' ');
});

interface Handle {
  words: string;
  says: string;
  ms: number;
  dB: number;
  /** What a step of the arrow keys changes: sideways, and upwards. */
  across: Param;
  up: Param | null;
  put(ms: number, dB: number): void;
}
const handles = computed<Handle[]>(() => {
  const { downMs, holdMs, returnMs, depthDb, bend } = values.value;
  const heldUntil = downMs + holdMs;
  return [
    {
      words: 'depth and down in',
      says: `${depthDb.toFixed(1)} dB in ${downMs.toFixed(1)} ms`,
      ms: downMs,
      dB: depthDb,
      across: 'downMs',
      up: 'depthDb',
      put: (ms, dB) => put({ downMs: ms, depthDb: dB }),
    },
    {
      words: 'hold',
      says: `${holdMs.toFixed(1)} ms`,
      ms: heldUntil,
      dB: depthDb,
      across: 'holdMs',
      up: null,
      put: (ms) => put({ holdMs: ms - downMs }),
    },
    {
      words: 'bend',
      says: `${Math.round(bend * 100)} %`,
      ms: heldUntil + returnMs / 2,
      dB: depthDb * (1 - bent(0.5, bend)),
      across: 'bend',
      up: 'bend',
      // Half way back at half of the time is straight.
      put: (_, dB) => put({ bend: bendThrough(1 - dB / Math.min(-0.1, depthDb)) }),
    },
    {
      words: 'return',
      says: `${returnMs.toFixed(1)} ms`,
      ms: heldUntil + returnMs,
      dB: 0,
      across: 'returnMs',
      up: null,
      put: (ms) => put({ returnMs: ms - heldUntil }),
    },
  ];
});

/** The bend with which so much of the way back is gone at half of its time: of `bent(0.5, b)` with 8 time constants. */
function bendThrough(share: number): number {
  const inside = Math.max(0.02, Math.min(0.98, share));
  return Math.log(inside / (1 - inside)) / 4;
}

function put(changes: Partial<Record<Param, number>>): void {
  for (const [param, wanted] of Object.entries(changes) as [Param, number][]) {
    const row: NumberRow = ROWS[param];
    const to = Number(fitValue(row, wanted).toFixed(row.scale === 100 ? 2 : 1));
    if (to === values.value[param]) continue;
    const owners = [{ kind: 'effect' as const, id: effect.id }];
    project.run('', setValue, { owners, param, change: { to: fitValue(row, to) } });
  }
}

function drag(event: PointerEvent, place: number): void {
  heldMs.value = shownMs.value;
  dragPoint(event, {
    box: box.value!,
    gesture: project.begin('how it gives way'),
    move: (at) => handles.value[place]!.put(x.value.invert(at.x), y.value.invert(at.y)),
    done: () => (heldMs.value = null),
  });
}

function onKey(event: KeyboardEvent, { across, up }: Handle): void {
  const byX = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
  const byY = { ArrowUp: 1, ArrowDown: -1 }[event.key];
  const param = byX === undefined ? up : across;
  if ((byX === undefined && byY === undefined) || !param) return;
  event.preventDefault();
  event.stopPropagation();
  const row: NumberRow = ROWS[param];
  const by = ((byX ?? byY)! * row.step) / row.scale;
  project.step('how it gives way', () => put({ [param]: values.value[param] + by }));
}
</script>

<template>
  <div ref="box" class="picture" :style="{ height: `${HEIGHT}px` }" data-testid="ducking-curve">
    <svg :viewBox="`0 0 ${width} ${HEIGHT}`">
      <polygon :points="`${x(0)},${HEIGHT} ${line} ${x(shownMs)},${HEIGHT}`" class="under" />
      <polyline :points="line" class="line" />
      <CurvePoint
        v-for="(one, place) in handles"
        :key="one.words"
        :x="x(one.ms)"
        :y="y(one.dB)"
        :size="one.words === 'bend' ? 4.5 : 6"
        :words="one.words"
        :now="one.ms"
        :says="one.says"
        @pointerdown="drag($event, place)"
        @keydown="onKey($event, one)"
      />
    </svg>
  </div>
</template>

<style scoped src="../fields/curve.css"></style>
<style scoped>
.under {
  fill: var(--sea);
  opacity: 0.16;
}
</style>
