<script setup lang="ts">
/** Where the pattern puts treatments of its part on: laid with a click, dragged, chosen anew, taken off. */
import { computed, ref, shallowRef, useTemplateRef } from 'vue';
import type { Part, TreatmentChange } from '#core/document/schema.ts';
import {
  changesOver,
  layTreatmentChange,
  moveTreatmentChange,
  removeTreatmentChange,
} from '#core/project/commands/treatment-changes.ts';
import { treatmentOf } from '#core/project/commands/treatments.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { useProject } from '../../stores/document/project.ts';

const { part, patternId, overTicks, gridTicks } = defineProps<{
  part: Part;
  patternId: string;
  /** Length of the pattern. */
  overTicks: number;
  gridTicks: number;
}>();
const project = useProject();
const box = useTemplateRef<HTMLElement>('box');
/** Where the menu stands, and what it is asked for. */
const asked = shallowRef<{ at: number; isThere: boolean; point: [number, number] } | null>(null);
/** The change that is dragged, as it would be. */
const dragged = ref<{ at: number; to: number } | null>(null);

const ITSELF = 'by itself';
const changes = computed(() => changesOver(part, patternId).filter(({ at }) => at < overTicks));
const shown = computed(() => {
  const moved = changes.value.map((one) => ({
    one,
    from: dragged.value?.at === one.at ? dragged.value.to : one.at,
    name: nameOf(one),
  }));
  moved.sort((a, b) => a.from - b.from);
  return moved.map((each, place) => ({
    ...each,
    left: (100 * each.from) / overTicks,
    width: (100 * ((moved[place + 1]?.from ?? overTicks) - each.from)) / overTicks,
  }));
});

const words = computed(() => {
  const { length } = changes.value;
  if (length === 0) return 'the same all through';
  return length === 1 ? 'changes once' : `changes ${length} times`;
});

function nameOf({ treatmentId }: TreatmentChange): string {
  return treatmentId === undefined ? ITSELF : (treatmentOf(part, treatmentId)?.name ?? '');
}

/** On the line of the grid at or before a place of the pointer. */
function gridAt(event: MouseEvent): number {
  const ticks = (localPoint(event, box.value!).x / box.value!.clientWidth) * overTicks;
  return Math.max(0, Math.min(Math.ceil(overTicks / gridTicks) - 1, Math.floor(ticks / gridTicks))) * gridTicks;
}

function ask(at: number, isThere: boolean, event: MouseEvent): void {
  asked.value = { at, isThere, point: [event.clientX, event.clientY] };
}

/** By the keyboard: on the next line of the grid where nothing changes yet. */
function askByKey(): void {
  const taken = new Set(changes.value.map(({ at }) => at));
  let at = 0;
  while (taken.has(at) && at + gridTicks < overTicks) at += gridTicks;
  const { left, bottom } = box.value!.getBoundingClientRect();
  asked.value = { at, isThere: taken.has(at), point: [left, bottom] };
}

function lay(treatmentId: string | null): void {
  const { at } = asked.value!;
  asked.value = null;
  project.run('another treatment from here on', layTreatmentChange, { patternId, at, treatmentId });
}

function takeOff(at: number): void {
  asked.value = null;
  project.run('no change of treatment', removeTreatmentChange, { patternId, at });
}

function move(at: number, to: number): void {
  if (at !== to && to >= 0 && to < overTicks)
    project.run('move a change of treatment', moveTreatmentChange, { patternId, at, to });
}

function grab(event: PointerEvent, { at }: TreatmentChange): void {
  if (event.button !== 0) return;
  const grabbed = gridAt(event);
  followPointer(event, {
    move: (moved) => {
      const to = at + gridAt(moved) - grabbed;
      dragged.value = { at, to: Math.max(0, Math.min(overTicks - gridTicks, to)) };
    },
    end: (hasMoved) => {
      const to = dragged.value?.to ?? at;
      dragged.value = null;
      if (hasMoved) move(at, to);
      else ask(at, true, event);
    },
    cancel: () => (dragged.value = null),
  });
}

function onKey(event: KeyboardEvent, { at }: TreatmentChange): void {
  const along = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
  const isGone = event.key === 'Delete' || event.key === 'Backspace';
  if (along !== undefined) move(at, at + along * gridTicks);
  else if (isGone) takeOff(at);
  else if (event.key === 'Enter') {
    const { left, bottom } = (event.currentTarget as HTMLElement).getBoundingClientRect();
    asked.value = { at, isThere: true, point: [left, bottom] };
  } else return;
  event.preventDefault();
  event.stopPropagation();
}
</script>

<template>
  <section class="band" aria-label="Treatments over the loop">
    <div class="about">
      <b>treatment</b>
      <span class="quiet small one-line">{{ words }}</span>
    </div>
    <div
      ref="box"
      class="field"
      role="group"
      tabindex="0"
      aria-label="Treatments over the loop: Enter puts one on"
      data-tip="A click puts a treatment on from there"
      data-testid="treatment-field"
      @click.self="ask(gridAt($event), false, $event)"
      @keydown.enter.self.prevent="askByKey"
    >
      <span
        v-for="{ one, left, width } in shown"
        :key="`from ${one.at}`"
        class="reach"
        :class="{ itself: one.treatmentId === undefined }"
        :style="{ left: `${left}%`, width: `${width}%` }"
      />
      <v-btn
        v-for="{ one, name, left, width } in shown"
        :key="one.at"
        class="change"
        :style="{ left: `${left}%`, maxWidth: `min(${width}%, 96px)` }"
        :aria-label="`${name} from here on`"
        data-tip="Drag moves it, a click chooses another"
        data-testid="treatment-change"
        @pointerdown="grab($event, one)"
        @keydown="onKey($event, one)"
        ><span class="one-line">{{ name }}</span></v-btn
      >
    </div>
    <!-- A choice closes it here: left to itself it closes once more 40 ms later, and with it what was opened meanwhile. -->
    <v-menu
      :model-value="asked !== null"
      :target="asked?.point"
      :close-on-content-click="false"
      @update:model-value="asked = null"
    >
      <v-list density="compact" aria-label="Treatments">
        <v-list-item v-for="one in part.treatments" :key="one.id" :title="one.name" @click="lay(one.id)" />
        <v-list-item title="as it does by itself" @click="lay(null)" />
        <v-list-item v-if="asked?.isThere" title="take off" @click="takeOff(asked.at)" />
      </v-list>
    </v-menu>
  </section>
</template>

<style scoped>
.band {
  display: grid;
  grid-template-columns: var(--lane-words) minmax(0, 1fr);
  border-top: 1px solid var(--rule);
}
.about {
  display: grid;
  align-content: center;
  padding: 2px 4px 2px 10px;
  font-size: 13px;
}
.field {
  position: relative;
  height: 40px;
  cursor: crosshair;
  overflow: hidden;
}
.change.v-btn.v-btn--density-default {
  position: absolute;
  top: 6px;
  height: 28px;
  min-width: 0;
  padding: 0 6px;
  border-radius: 3px;
  background: var(--sheet);
  font-size: 13px;
  touch-action: none;
}
/** How far it goes: a click there puts another one on. */
.reach {
  position: absolute;
  top: 6px;
  height: 28px;
  border-left: 3px solid var(--sea);
  background: var(--sea-wash);
  pointer-events: none;
}
.reach.itself {
  border-left-color: var(--ink-quiet);
  background: none;
}
.change :deep(.v-btn__content) {
  min-width: 0;
  justify-content: flex-start;
}
</style>
