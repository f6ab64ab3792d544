<script setup lang="ts">
/** What a part plays along the running order: dragged, stretched at its ends, copied with Alt; patterns are dropped here. */
import { computed, ref, shallowRef, useTemplateRef } from 'vue';
import type { Part, Placing } from '#core/document/schema.ts';
import { treatmentOf } from '#core/project/commands/treatments.ts';
import { eventsOf, nameOfPattern, patternLengthTicks } from '#core/queries/patterns.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { useOrder, type ShownSection } from '../../stores/order/order.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { useZoneColours } from '../shared/use-zone-colours.ts';
import PlacedPattern from './PlacedPattern.vue';
import { PATTERN_DRAG } from './pattern-drag.ts';

const { part, sections } = defineProps<{ part: Part; sections: readonly ShownSection[] }>();
const order = useOrder();
const project = useProject();
const session = useSession();
const lane = useTemplateRef<HTMLElement>('lane');
const colourById = useZoneColours(() => part);
/** Where a dragged pattern would be put. */
const ghost = shallowRef<{ x: number; width: number } | null>(null);
/** The placing that is dragged, as it would be. */
const dragged = ref<{ id: string; startTicks: number; lengthTicks: number; sectionId: string } | null>(null);
const EDGE_PX = 7;

const placed = computed(() =>
  sections.flatMap((one) => {
    const scale = one.width / one.roundTicks;
    return one.section.placings
      .filter(({ partId, startTicks }) => partId === part.id && startTicks < one.roundTicks)
      .map((placing) => {
        const now = dragged.value?.id === placing.id ? dragged.value : placing;
        const at = dragged.value?.id === placing.id ? (sectionOf(dragged.value.sectionId) ?? one) : one;
        const length = Math.min(now.lengthTicks, at.roundTicks - now.startTicks);
        return {
          placing,
          one,
          x: at.x + (now.startTicks / at.roundTicks) * at.width,
          width: length * scale,
          lengthTicks: length,
        };
      });
  }),
);
const sectionOf = (id: string) => order.shown.find(({ section }) => section.id === id);
const events = (patternId: string) => eventsOf(project.document!, patternId);
const roundOf = (patternId: string) => patternLengthTicks(project.document!, patternId);

function grab(event: PointerEvent, one: ShownSection, placing: Placing): void {
  if (event.button !== 0) return;
  session.choosePart(part.id);
  order.choose(one.section.id, placing.id);
  const target = event.currentTarget as HTMLElement;
  const box = target.getBoundingClientRect();
  const [left, right] = [event.clientX - box.left, box.right - event.clientX];
  const what = right < EDGE_PX ? 'end' : left < EDGE_PX ? 'start' : 'whole';
  const grabbedX = localPoint(event, lane.value!).x;
  let copies = false;
  followPointer(event, {
    move: (moved) => {
      copies = moved.altKey;
      const { x } = localPoint(moved, lane.value!);
      const step = snapTicks(one);
      const by = Math.round((((x - grabbedX) / one.width) * one.roundTicks) / step) * step;
      const endTicks = placing.startTicks + placing.lengthTicks;
      const same = { id: placing.id, sectionId: one.section.id };
      if (what === 'end') {
        const lengthTicks = Math.max(step, Math.min(one.roundTicks - placing.startTicks, placing.lengthTicks + by));
        dragged.value = { ...same, startTicks: placing.startTicks, lengthTicks };
      } else if (what === 'start') {
        const startTicks = Math.max(0, Math.min(endTicks - step, placing.startTicks + by));
        dragged.value = { ...same, startTicks, lengthTicks: endTicks - startTicks };
      } else {
        const from = one.x + (placing.startTicks / one.roundTicks) * one.width;
        const found = order.placeAt(from + x - grabbedX + 0.5 * (one.width / one.roundTicks) * step);
        if (found)
          dragged.value = {
            id: placing.id,
            sectionId: found.one.section.id,
            startTicks: Math.max(0, found.ticks),
            lengthTicks: placing.lengthTicks,
          };
      }
    },
    end: (hasMoved) => {
      const { value: to } = dragged;
      dragged.value = null;
      if (!hasMoved || !to) return;
      const isSame = to.sectionId === one.section.id && to.startTicks === placing.startTicks;
      if (isSame && to.lengthTicks === placing.lengthTicks) return;
      if (what === 'whole') order.movePlacing(one.section.id, placing, to.sectionId, to.startTicks, copies);
      else order.stretch(one.section.id, placing, to.startTicks, to.lengthTicks);
      order.choose(to.sectionId, copies ? null : placing.id);
    },
    cancel: () => (dragged.value = null),
  });
}

const snapTicks = (one: ShownSection) => Math.max(1, Math.round(order.snap * one.barTicks));

function byKey(event: KeyboardEvent, one: ShownSection, placing: Placing): void {
  const step = snapTicks(one);
  const way = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
  if (event.key === 'Delete' || event.key === 'Backspace') order.removePlacing(placing);
  else if (way !== 0 && event.shiftKey) {
    const lengthTicks = placing.lengthTicks + way * step;
    if (lengthTicks >= step) order.stretch(one.section.id, placing, placing.startTicks, lengthTicks);
  } else if (way !== 0) order.movePlacing(one.section.id, placing, one.section.id, placing.startTicks + way * step);
  else return;
  event.preventDefault();
  event.stopPropagation();
}

function patternOf(event: DragEvent): string | null {
  const data = event.dataTransfer?.types.find((type) => type.startsWith(PATTERN_DRAG));
  const id = data?.slice(PATTERN_DRAG.length) ?? null;
  // Names of kinds are told in small letters, and what is dragged only when it is dropped.
  return id === part.id.toLowerCase() ? id : null;
}

function over(event: DragEvent): void {
  const found = patternOf(event) === null ? null : order.placeAt(localPoint(event, lane.value!).x);
  if (!found) return;
  event.preventDefault();
  const { one, ticks } = found;
  ghost.value = { x: one.x + (ticks / one.roundTicks) * one.width, width: (one.barTicks / one.roundTicks) * one.width };
}

function drop(event: DragEvent): void {
  ghost.value = null;
  const patternId = event.dataTransfer?.getData('text/plain') ?? '';
  const found = order.placeAt(localPoint(event, lane.value!).x);
  if (!found || patternOf(event) === null) return;
  event.preventDefault();
  order.place(found.one.section.id, patternId, found.ticks);
}
</script>

<template>
  <div
    ref="lane"
    class="lane"
    :class="{ on: part.id === session.partId }"
    :aria-label="`${part.name} along the running order`"
    role="group"
    data-testid="order-lane"
    @dragover="over"
    @dragleave="ghost = null"
    @drop="drop"
  >
    <span
      v-for="one in sections"
      :key="one.section.id"
      class="under"
      :class="{ on: one.section.id === order.sectionId }"
      :style="{ left: `${one.x}px`, width: `${one.width}px` }"
    />
    <PlacedPattern
      v-for="{ placing, one, x, width, lengthTicks } in placed"
      :key="placing.id"
      :placing="placing"
      :name="nameOfPattern(project.document!, placing.patternId)"
      :treatment="treatmentOf(part, placing.treatmentId ?? '')?.name ?? ''"
      :events="events(placing.patternId)"
      :round-ticks="roundOf(placing.patternId)"
      :length-ticks="lengthTicks"
      :colour-by-id="colourById"
      :chosen="placing.id === order.placingId"
      :style="{ left: `${x}px`, width: `${Math.max(6, width - 2)}px` }"
      @pointerdown="grab($event, one, placing)"
      @click="order.choose(one.section.id, placing.id)"
      @keydown="byKey($event, one, placing)"
    />
    <span v-if="ghost" class="ghost" :style="{ left: `${ghost.x}px`, width: `${ghost.width}px` }" />
  </div>
</template>

<style scoped>
.lane {
  position: relative;
  height: 88px;
  border-bottom: 1px solid var(--rule);
}
.under {
  position: absolute;
  inset-block: 0;
  border-left: 1px solid var(--rule);
}
.under.on {
  background: var(--sea-wash);
}
.ghost {
  position: absolute;
  inset-block: 6px;
  border: 2px dashed var(--sea);
  border-radius: 4px;
  pointer-events: none;
}
</style>
