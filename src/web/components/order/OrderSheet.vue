<script setup lang="ts">
/** The running order: sections over bars, the tempo under them, a row a part, and where the song is. */
import { useElementSize, useScroll } from '@vueuse/core';
import { computed, useTemplateRef } from 'vue';
import { usePictures } from '../../canvas/pictures.ts';
import { engine } from '../../audio/services.ts';
import { localPoint } from '../../canvas/use-drag.ts';
import { useOrder } from '../../stores/order/order.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { useTransport } from '../../stores/sound/transport.ts';
import { countWords } from '../shelf/shelf-words.ts';
import InTurn from '../shared/InTurn.vue';
import OrderBus from './OrderBus.vue';
import OrderHead from './OrderHead.vue';
import OrderLane from './OrderLane.vue';
import SectionHead from './SectionHead.vue';
import { useBuses } from '../../stores/sound/buses.ts';

const order = useOrder();
const project = useProject();
const session = useSession();
const transport = useTransport();
const buses = useBuses();
const parts = computed(() => project.document!.partOrder.map((id) => project.document!.parts[id]!));
const view = useTemplateRef<HTMLElement>('view');
const head = useTemplateRef<HTMLElement>('head');
const line = useTemplateRef<HTMLElement>('line');
const { width: viewWidth } = useElementSize(view);
const { x: scrolled } = useScroll(view);
const HEADS_PX = 206;
/** Sections that are in view, or nearly. */
const inView = computed(() => {
  const from = scrolled.value - 200;
  const to = scrolled.value + viewWidth.value + 200;
  return order.shown.filter(({ x, width }) => x + width >= from && x <= to);
});
/** Bars that are counted over the rows: fewer where they are narrow. */
const barWords = computed(() => {
  const { sections, bars } = transport.layout!;
  const written = sections.reduce((sum, { lengthBars }) => sum + lengthBars, 0);
  return bars === written ? countWords(bars, 'bar') : `${countWords(written, 'bar')}, ${bars} with repeats`;
});
const counted = computed(() => {
  const step = [1, 2, 4, 8, 16, 32].find((each) => each * order.barWidth >= 34) ?? 64;
  return inView.value.flatMap(({ section, x, barsBefore, lengthBars }) =>
    Array.from({ length: Math.ceil(lengthBars / step) }, (_, n) => ({
      key: `${section.id} ${n}`,
      x: x + n * step * order.barWidth,
      bar: barsBefore + n * step + 1,
    })),
  );
});
const tempi = computed(() => {
  const all = order.shown.flatMap(({ tempoBpm, tempoBefore }) => [tempoBpm, tempoBefore]);
  const [low, high] = [Math.min(...all), Math.max(...all)];
  const y = (bpm: number) => (high === low ? 12 : 4 + (16 * (high - bpm)) / (high - low));
  return inView.value.map(({ section, x, width, tempoBpm, tempoBefore, arriveTicks, roundTicks, repeats }) => {
    const arrived = x + width * Math.min(1, arriveTicks / (roundTicks * repeats));
    const from = arriveTicks > 0 ? `${x},${y(tempoBefore)} ${arrived},${y(tempoBpm)}` : `${x},${y(tempoBpm)}`;
    const isOther = tempoBpm !== tempoBefore || x === 0;
    return {
      id: section.id,
      points: `${from} ${x + width},${y(tempoBpm)}`,
      x,
      y: y(tempoBpm),
      words: isOther ? tempoBpm.toFixed(2) : '',
    };
  });
});

usePictures(() => {
  if (!line.value) return;
  const ticks = transport.followsOrder && engine.status.playing ? engine.positionTicksNow() : -1;
  const x = order.xOf(ticks);
  line.value.style.display = x === null ? 'none' : '';
  if (x !== null) line.value.style.marginLeft = `${x}px`;
});

function playAt(event: MouseEvent): void {
  const found = order.placeAt(localPoint(event, head.value!).x);
  if (found) order.playFrom(found.one.startTicks + found.ticks);
}
</script>

<template>
  <div ref="view" class="view sheet" data-testid="order-sheet">
    <div class="grid" :style="{ '--heads': `${HEADS_PX}px`, width: `${HEADS_PX + Math.max(order.width, 1)}px` }">
      <div class="corner head">
        <span class="quiet">{{ barWords }}</span>
      </div>
      <div class="sections">
        <SectionHead v-for="one in inView" :key="one.section.id" :shown="one" />
      </div>
      <div class="corner ruled"><span class="quiet">bars</span></div>
      <div ref="head" class="ruler" data-tip="A click plays from here" data-testid="order-ruler" @click="playAt">
        <span v-for="one in counted" :key="one.key" class="bar mono" :style="{ left: `${one.x}px` }">{{
          one.bar
        }}</span>
      </div>
      <div class="corner ruled"><span class="quiet">tempo</span></div>
      <svg class="tempo" aria-hidden="true">
        <g v-for="one in tempi" :key="one.id">
          <polyline :points="one.points" />
          <circle v-if="one.words" :cx="one.x + 1" :cy="one.y" r="3" />
          <text v-if="one.words" :x="one.x + 7" :y="one.y > 12 ? one.y - 4 : one.y + 12">{{ one.words }}</text>
        </g>
      </svg>
      <template v-for="part in parts" :key="part.id">
        <OrderHead
          :part="part"
          class="stuck"
          :class="{ on: part.id === session.partId }"
          @click="session.choosePart(part.id)"
        />
        <InTurn><OrderLane :part="part" :sections="inView" /></InTurn>
      </template>
      <div ref="line" class="line" />
    </div>
    <OrderBus v-for="bus in buses.buses" :key="bus.id" :bus="bus" class="bus" />
  </div>
</template>

<style scoped>
.view {
  flex: 1;
  min-height: 0;
  overflow: auto;
  scrollbar-width: thin;
}
.grid {
  position: relative;
  display: grid;
  grid-template-columns: var(--heads) minmax(0, 1fr);
  min-width: 100%;
}
.corner,
.stuck {
  position: sticky;
  left: 0;
  z-index: 5;
  background: var(--sheet);
  border-right: 1px solid var(--rule);
}
.corner {
  padding: 2px 12px;
  font-size: 12px;
  display: flex;
  align-items: center;
  justify-content: flex-end;
}
.corner.head {
  justify-content: flex-start;
}
.stuck {
  padding: 4px 10px 4px 12px;
  height: 88px;
  overflow: hidden;
  border-bottom: 1px solid var(--rule);
}
.stuck.on {
  box-shadow: inset 4px 0 0 var(--sea);
}
.sections {
  position: relative;
  height: 36px;
}
.ruler {
  position: relative;
  height: 18px;
  cursor: pointer;
}
.bar {
  position: absolute;
  font-size: 11px;
  color: var(--ink-quiet);
  padding-left: 3px;
  border-left: 1px solid var(--rule);
  height: 100%;
}
.tempo {
  height: 26px;
  width: 100%;
  border-bottom: 1px solid var(--rule);
}
.tempo polyline {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
}
.tempo circle {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.5;
}
/* The line runs behind the figures. */
.tempo text {
  font: 11px var(--mono);
  fill: var(--ink);
  stroke: var(--sheet);
  stroke-width: 4px;
  paint-order: stroke;
}
.line {
  position: absolute;
  left: var(--heads);
  top: 36px;
  bottom: 0;
  width: 2px;
  background: var(--signal);
  pointer-events: none;
  z-index: 4;
}
.bus {
  position: sticky;
  left: 0;
}
</style>
