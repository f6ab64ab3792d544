<script setup lang="ts">
/**
 * A setting of each strip as a stem under it, the velocity at first: drag across to set them, several in one sweep.
 */
import { computed, ref } from 'vue';
import { EVENT_ROWS } from '#core/params/tables.ts';
import { setValue } from '#core/project/commands/values.ts';
import type { PatternEvent } from '#core/document/schema.ts';
import { eventValues } from '#core/queries/values.ts';
import { MONO_FONT } from '../../canvas/draw.ts';
import { rowsX, type RowsTime } from '../../canvas/rows-layout.ts';
import { useBandCanvas, type Stage } from '../../canvas/use-band-canvas.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { useEditing } from '../../stores/document/editing.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import ChoiceField from '../fields/ChoiceField.vue';

const { headWidth, time, events, colourById } = defineProps<{
  headWidth: number;
  /** What is shown of it. */
  time: Omit<RowsTime, 'width'>;
  events: readonly PatternEvent[];
  colourById: ReadonlyMap<string, string>;
}>();
const project = useProject();
const session = useSession();
const editing = useEditing();
const picture = ref<HTMLCanvasElement | null>(null);
const overlay = ref<HTMLCanvasElement | null>(null);
const TOP = 10;
const REACH_PX = 7;
const MOST_ROUND_HEADS = 1000;

/** What can be set per strip, and from where to where the lane goes. */
const LANES = {
  velocity: { low: 0, high: 1 },
  gainDb: { low: -24, high: 12 },
  tuneCents: { low: -1200, high: 1200 },
  pan: { low: -1, high: 1 },
  chancePercent: { low: 0, high: 100 },
  repeats: { low: 1, high: 16 },
} as const;
type LaneId = keyof typeof LANES;
/** 0 would be no stroke at all. */
const MIN_VELOCITY = 1 / 127;
const laneId = ref<LaneId>('velocity');
/** Those in which anything is set are marked. */
const lanes = computed(() =>
  (Object.keys(LANES) as LaneId[]).map((value) => ({
    value,
    words: EVENT_ROWS[value].label,
    marked: events.some(({ values }) => values[value] !== undefined),
  })),
);
const row = computed(() => EVENT_ROWS[laneId.value]);
const span = computed(() => LANES[laneId.value]);
/** Stems stand on it: on nothing changed where a setting goes both ways. */
const groundValue = computed(() => (span.value.low < 0 ? row.value.default : span.value.low));

const shareOf = (value: number, { low, high } = span.value) => Math.max(0, Math.min(1, (value - low) / (high - low)));
const yOf = (value: number, height: number) => height - 4 - shareOf(value) * (height - 4 - TOP);

/** The value at a height, to the step that the setting is nudged by; velocities to the numbers that MIDI has. */
function valueAt(y: number, height: number): number {
  const share = Math.max(0, Math.min(1, (height - 4 - y) / (height - 4 - TOP)));
  const { low, high } = span.value;
  const step = (laneId.value === 'velocity' ? 1 : row.value.step) / row.value.scale;
  const least = laneId.value === 'velocity' ? MIN_VELOCITY : low;
  return Math.max(least, Math.min(high, Math.round((low + share * (high - low)) / step) * step));
}

function paint({ context, width, height, inks }: Stage): void {
  context.font = MONO_FONT;
  context.textBaseline = 'middle';
  context.textAlign = 'right';
  context.fillStyle = inks.quiet;
  const { low, high } = span.value;
  for (const value of [high, low < 0 ? row.value.default : (low + high) / 2, low]) {
    const y = Math.round(yOf(value, height)) + 0.5;
    context.fillText(`${Math.round(value * row.value.scale)}`, headWidth - 8, Math.min(y, height - 8));
    context.strokeStyle = inks.rule;
    context.beginPath();
    context.moveTo(headWidth, y);
    context.lineTo(width, y);
    context.stroke();
  }
  context.textAlign = 'left';
  const layout = { width, ...time };
  const chosen = new Set(session.eventIds);
  const id = laneId.value;
  const ground = yOf(groundValue.value, height);
  const shown = events;
  const colours = colourById;
  // Of thousands in one view a head is no more than a dot, and what would lie on the same dots is not drawn.
  const isDense = shown.length > MOST_ROUND_HEADS;
  const drawn = new Set<string>();
  for (const event of shown) {
    const x = rowsX(layout, event.positionTicks) + 1;
    if (x < headWidth || x > width) continue;
    const y = yOf(eventValues(event)[id], height);
    const isChosen = chosen.has(event.id);
    if (isDense) {
      const spot = `${Math.round(x)} ${Math.round(y)} ${isChosen}`;
      if (drawn.has(spot)) continue;
      drawn.add(spot);
    }
    context.fillStyle = isChosen ? inks.sea : (colours.get(event.zoneId) ?? inks.ink);
    context.fillRect(x - 1, Math.min(y, ground), 2, Math.abs(ground - y));
    if (isDense) context.fillRect(x - 2, y - 2, 4, 4);
    else {
      context.beginPath();
      context.arc(x, y, 4, 0, 2 * Math.PI);
      context.fill();
    }
  }
}
useBandCanvas(picture, overlay, paint, () => {});

/** Places in the list of the strips near a stretch sideways; a copied home pattern keeps their order. */
function placesBetween(fromX: number, toX: number): number[] {
  const layout = { width: overlay.value!.clientWidth, ...time };
  const low = Math.min(fromX, toX) - REACH_PX;
  const high = Math.max(fromX, toX) + REACH_PX;
  const shown = new Set(events.map(({ id }) => id));
  return session.events.flatMap((event, place) => {
    if (!shown.has(event.id)) return [];
    const x = rowsX(layout, event.positionTicks);
    return x >= low && x <= high ? [place] : [];
  });
}

function onPointerDown(event: PointerEvent): void {
  if (event.button !== 0) return;
  const canvas = overlay.value!;
  let last = localPoint(event, canvas);
  const param = laneId.value;
  const { label } = row.value;
  const gesture = project.begin(label);
  const put = (at: { x: number; y: number }) => {
    if (!gesture?.isOpen) return;
    const to = valueAt(at.y, canvas.clientHeight);
    const places = placesBetween(last.x, at.x);
    last = at;
    if (places.length === 0) return;
    editing.editPattern(label, (patternId) => {
      const owners = places.map((place) => ({ kind: 'event' as const, patternId, id: session.events[place]!.id }));
      project.run('', setValue, { owners, param, change: { to } });
    });
  };
  put(last);
  followPointer(event, {
    move: (moved) => put(localPoint(moved, canvas)),
    end: () => gesture?.commit(),
    cancel: () => gesture?.cancel(),
  });
}
</script>

<template>
  <div class="layers">
    <ChoiceField
      class="which"
      label="What the lane shows"
      hint="Drag across the stems to set them; a mark tells where something is set"
      spread
      :show-label="false"
      test-id="lane"
      :model-value="laneId"
      :choices="lanes"
      @put="laneId = $event"
    />
    <canvas ref="picture" />
    <canvas
      ref="overlay"
      role="application"
      :aria-label="`${row.label} of each strip: drag across the stems to set them; one is set at the right, too`"
      data-testid="strip-lane"
      @pointerdown="onPointerDown"
    />
  </div>
</template>

<style scoped>
.which {
  position: absolute;
  left: 0;
  top: 6px;
  width: 130px;
  z-index: 2;
}
.which :deep(.spread) {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  height: auto;
}
.which :deep(.v-btn) {
  height: 26px;
  padding: 0 4px;
}
canvas {
  cursor: ns-resize;
}
</style>
