<script setup lang="ts">
/** One lane: what it moves from where to where, and its course over what it lies over, to be drawn in. */
import { useElementSize } from '@vueuse/core';
import { scaleLinear } from 'd3-scale';
import { computed, useTemplateRef } from 'vue';
import { laneValue } from '#core/lanes/points.ts';
import { setValue } from '#core/project/commands/values.ts';
import type { Lane } from '#core/queries/lanes.ts';
import { nameOfWhole, type Movable } from '#core/queries/targets.ts';
import { TICKS_PER_BEAT } from '#core/units/time.ts';
import { useProject } from '../../stores/document/project.ts';
import { useLanes } from '../../stores/sound/lanes.ts';
import { rangeWords, useMovedRanges } from '../../stores/sound/moved-ranges.ts';
import IconButton from '../shared/IconButton.vue';
import LaneMenu from './LaneMenu.vue';
import RangeFields from './RangeFields.vue';
import { lanePath } from './lane-picture.ts';
import { useLaneDrawing } from './use-lane-drawing.ts';

const { lane, overTicks, gridTicks, tellsWhose } = defineProps<{
  lane: Lane;
  /** Of what it lies over. */
  overTicks: number;
  gridTicks: number;
  /** How long it is by itself, in words. */
  whole: string;
  /** What may have a lane like it. */
  free: readonly Movable[];
  /** It is told which part or bus its setting is of. */
  tellsWhose?: boolean;
}>();
const project = useProject();
const lanes = useLanes();
const { rangeShown } = useMovedRanges();
const box = useTemplateRef<HTMLElement>('box');
const { width: boxWidth } = useElementSize(box);
const HEIGHT = 58;
const MARGIN = 4;
/** More handles than this could not be told apart. */
const MOST_HANDLES = 64;

const isChosen = computed(() => lanes.chosenId === lane.id);
const isOn = computed(() => lane.values.isOn !== false);
const moved = computed(() => lanes.movedOf(lane));
const whose = computed(() => {
  const group = moved.value?.moved.group || 'its sounds';
  const whole = tellsWhose && moved.value ? nameOfWhole(project.document!, moved.value.moved.target) : '';
  return whole ? `${group} of ${whole}` : group;
});
const range = computed(() => (moved.value ? rangeShown(moved.value.route) : null));
const lengthTicks = computed(() => lanes.lengthOf(lane));
/** What the field shows: what it lies over, or the lane where that is longer. */
const shownTicks = computed(() => Math.max(overTicks, lengthTicks.value));
const width = computed(() => Math.max(60, boxWidth.value));
const x = computed(() => scaleLinear([0, shownTicks.value], [0, width.value]));
const y = computed(() => scaleLinear([0, 1], [HEIGHT - MARGIN, MARGIN]));
const path = computed(() => lanePath(lane.points, lengthTicks.value, { x: x.value, y: y.value }));
const area = computed(() => {
  const floor = y.value(0);
  return `${path.value}L${x.value(lengthTicks.value)},${floor}L0,${floor}Z`;
});
/** Of a lane shorter than what it lies over: where it goes round again. */
const rounds = computed(() => {
  const count = Math.ceil(shownTicks.value / lengthTicks.value - 1e-6);
  return Array.from({ length: Math.min(128, count - 1) }, (_, i) => x.value((i + 1) * lengthTicks.value));
});
/** Of one that is longer: where that goes round. */
const overEnds = computed(() => {
  const count = Math.ceil(lengthTicks.value / overTicks - 1e-6);
  return Array.from({ length: Math.min(128, Math.max(0, count - 1)) }, (_, i) => x.value((i + 1) * overTicks));
});
const gridLines = computed(() => {
  const beats = Math.floor(shownTicks.value / TICKS_PER_BEAT);
  return beats > 128 ? [] : Array.from({ length: beats }, (_, i) => x.value((i + 1) * TICKS_PER_BEAT));
});
const handles = computed(() => {
  const inside = lane.points.filter(({ at }) => at <= lengthTicks.value);
  return lanes.pencil === 'lines' && inside.length <= MOST_HANDLES ? inside : [];
});
const bends = computed(() =>
  isChosen.value
    ? handles.value.flatMap((point, place) => {
        const next = handles.value[place + 1];
        const isFlat = !next || point.stays || Math.abs(next.value - point.value) < 0.02;
        if (isFlat || x.value(next.at) - x.value(point.at) < 26) return [];
        const middle = (point.at + next.at) / 2;
        return [{ point, cx: x.value(middle), cy: y.value(laneValue(lane.points, middle)) }];
      })
    : [],
);
function wordsAt(value: number): string {
  const { from = 0, to = 1, digits = 0, unit = '' } = range.value ?? {};
  return `${(from + (to - from) * value).toFixed(digits)} ${unit}`;
}

const drawing = useLaneDrawing({
  box,
  lane: () => lane,
  ticksAt: (at) => x.value.invert(at),
  xAt: (ticks) => x.value(ticks),
  valueAt: (at) => y.value.invert(at),
  lengthTicks: () => lengthTicks.value,
  gridTicks: () => gridTicks,
});

function toggle(): void {
  const owners = [{ kind: 'modulator' as const, id: lane.id }];
  project.run(isOn.value ? 'lane off' : 'lane on', setValue, { owners, param: 'isOn', change: { to: !isOn.value } });
}
</script>

<template>
  <section class="lane" :class="{ chosen: isChosen, off: !isOn }" :aria-label="`Lane: ${moved?.moved.words}`">
    <div class="about">
      <b class="one-line" :data-tip="moved?.moved.words">{{ moved?.moved.row.label }}</b>
      <IconButton
        icon="power"
        :words="isOn ? 'Lane off' : 'Lane on'"
        variant="text"
        :pressed="isOn"
        class="small-button"
        @click="toggle"
      />
      <LaneMenu :lane="lane" :grid-ticks="gridTicks" :whole="whole" :free="free" class="small-button" />
      <span class="quiet small one-line whose">{{ whose }}</span>
      <v-menu v-if="range" :close-on-content-click="false">
        <template #activator="{ props: menu }">
          <v-btn v-bind="menu" variant="text" class="range" data-tip="Bottom and top of the lane">{{
            rangeWords(range)
          }}</v-btn>
        </template>
        <v-sheet class="ends"><RangeFields :range="range" :words="['bottom', 'top']" /></v-sheet>
      </v-menu>
    </div>
    <div
      ref="box"
      class="field"
      data-testid="lane-field"
      role="group"
      tabindex="0"
      :aria-label="`Course of ${moved?.moved.words}: Enter adds a point, arrow keys move it`"
      @pointerdown="drawing.drawIn"
      @keydown.enter.self.prevent="drawing.addByKey"
    >
      <svg :viewBox="`0 0 ${width} ${HEIGHT}`" :height="HEIGHT">
        <line v-for="at in gridLines" :key="at" :x1="at" :x2="at" y1="0" :y2="HEIGHT" class="beat" />
        <g v-for="at in rounds" :key="`round ${at}`" :transform="`translate(${at})`" class="again">
          <path :d="area" class="under" />
          <path :d="path" class="line" />
        </g>
        <line v-for="at in overEnds" :key="`end ${at}`" :x1="at" :x2="at" y1="0" :y2="HEIGHT" class="end" />
        <path :d="area" class="under" />
        <path :d="path" class="line" />
        <rect
          v-for="bend in bends"
          :key="`bend ${bend.point.at}`"
          :x="bend.cx - 4"
          :y="bend.cy - 4"
          width="8"
          height="8"
          class="handle bend"
          data-tip="Drag to bend"
          @pointerdown="drawing.dragBend($event, bend.point)"
        />
        <circle
          v-for="(point, place) in handles"
          :key="`${place}`"
          :cx="x(point.at)"
          :cy="y(point.value)"
          r="5"
          class="handle"
          role="slider"
          tabindex="0"
          :aria-label="`point ${place + 1}`"
          :aria-valuenow="Math.round(point.value * 100)"
          :aria-valuetext="wordsAt(point.value)"
          :data-tip="wordsAt(point.value)"
          @pointerdown="drawing.dragPoint($event, point)"
          @dblclick.stop="drawing.removePoint(point)"
          @keydown="drawing.onKey($event, point)"
        />
      </svg>
    </div>
  </section>
</template>

<style scoped src="../fields/curve.css"></style>
<style scoped>
.lane {
  display: grid;
  grid-template-columns: var(--lane-words) minmax(0, 1fr);
  border-top: 1px solid var(--rule);
}
.about {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto;
  align-content: center;
  align-items: center;
  padding: 2px 4px 2px 10px;
  font-size: 13px;
}
.whose {
  grid-column: 1 / -1;
}
.range {
  grid-column: 1 / -1;
  justify-content: flex-start;
  padding: 0;
  height: 18px;
  min-width: 0;
  font: 13px var(--mono);
}
.small-button {
  width: 22px;
  height: 20px;
}
.chosen .about b {
  color: var(--sea);
}
.field {
  position: relative;
  cursor: crosshair;
  touch-action: none;
  overflow: hidden;
}
.field svg {
  overflow: visible;
}
.beat {
  stroke: var(--rule);
  stroke-width: 1;
}
.end {
  stroke: var(--ink-quiet);
  stroke-dasharray: 3 3;
}
.under {
  fill: var(--sea);
  opacity: 0.16;
}
.chosen .under {
  opacity: 0.28;
}
.again {
  opacity: 0.4;
}
.bend {
  stroke: var(--ink-quiet);
  stroke-width: 1.5;
}
.off .field svg {
  opacity: 0.4;
}
.ends {
  width: 250px;
  padding: 12px;
}
</style>
