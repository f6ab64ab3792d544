<script setup lang="ts">
/** How hard each strip is struck, as a stem under it: drag across to set them, several in one sweep. */
import { ref } from 'vue';
import { setValue } from '#core/project/commands/values.ts';
import type { PatternEvent } from '#core/project/schema.ts';
import { eventValues } from '#core/queries/values.ts';
import { MONO_FONT, SANS_FONT } from '../../canvas/draw.ts';
import { rowsX } from '../../canvas/rows-layout.ts';
import { useBandCanvas, type Stage } from '../../canvas/use-band-canvas.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { useEditing } from '../../stores/editing.ts';
import { useProject } from '../../stores/project.ts';
import { useSession } from '../../stores/session.ts';

const { headWidth, events, colourById } = defineProps<{
  headWidth: number;
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
const MIN_VELOCITY = 1 / 127;

const yOf = (velocity: number, height: number) => height - 4 - velocity * (height - 4 - TOP);

function paint({ context, width, height, inks }: Stage): void {
  context.font = MONO_FONT;
  context.textBaseline = 'middle';
  context.textAlign = 'right';
  context.fillStyle = inks.quiet;
  for (const value of [127, 64, 1]) {
    const y = Math.round(yOf(value / 127, height)) + 0.5;
    context.fillText(`${value}`, headWidth - 8, Math.min(y, height - 8));
    context.strokeStyle = inks.rule;
    context.beginPath();
    context.moveTo(headWidth, y);
    context.lineTo(width, y);
    context.stroke();
  }
  context.textAlign = 'left';
  context.font = `600 ${SANS_FONT}`;
  context.fillStyle = inks.ink;
  context.fillText('velocity', 2, height / 2 - 8);
  context.font = SANS_FONT;
  context.fillStyle = inks.quiet;
  context.fillText('drag across', 2, height / 2 + 10);
  const layout = { width, lengthTicks: session.lengthTicks };
  for (const event of events) {
    const x = rowsX(layout, event.positionTicks) + 1;
    const y = yOf(eventValues(event).velocity, height);
    const isChosen = session.eventIds.includes(event.id);
    context.strokeStyle = context.fillStyle = isChosen ? inks.sea : (colourById.get(event.zoneId) ?? inks.ink);
    context.lineWidth = 2;
    context.beginPath();
    context.moveTo(x, height - 3);
    context.lineTo(x, y);
    context.stroke();
    context.beginPath();
    context.arc(x, y, 4, 0, 2 * Math.PI);
    context.fill();
  }
  context.lineWidth = 1;
}
useBandCanvas(picture, overlay, paint, () => {});

/** Places in the list of the strips near a stretch sideways; a copied home pattern keeps their order. */
function placesBetween(fromX: number, toX: number): number[] {
  const layout = { width: overlay.value!.clientWidth, lengthTicks: session.lengthTicks };
  const low = Math.min(fromX, toX) - REACH_PX;
  const high = Math.max(fromX, toX) + REACH_PX;
  return session.events.flatMap((event, place) => {
    const x = rowsX(layout, event.positionTicks);
    return x >= low && x <= high ? [place] : [];
  });
}

function onPointerDown(event: PointerEvent): void {
  if (event.button !== 0) return;
  const canvas = overlay.value!;
  let last = localPoint(event, canvas);
  const gesture = project.begin('velocity');
  const put = (at: { x: number; y: number }) => {
    if (!gesture?.isOpen) return;
    const { clientHeight: height } = canvas;
    const share = (height - 4 - at.y) / (height - 4 - TOP);
    const to = Math.round(Math.max(MIN_VELOCITY, Math.min(1, share)) * 127) / 127;
    const places = placesBetween(last.x, at.x);
    last = at;
    if (places.length === 0) return;
    editing.editPattern('velocity', (patternId) => {
      const owners = places.map((place) => ({ kind: 'event' as const, patternId, id: session.events[place]!.id }));
      project.run('', setValue, { owners, param: 'velocity', change: { to } });
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
    <canvas ref="picture" />
    <canvas
      ref="overlay"
      role="application"
      aria-label="Velocities: drag across the stems to set them; one is set at the right, too"
      data-testid="velocity-lane"
      @pointerdown="onPointerDown"
    />
  </div>
</template>

<style scoped>
canvas {
  cursor: ns-resize;
}
</style>
