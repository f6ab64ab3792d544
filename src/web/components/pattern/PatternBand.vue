<script setup lang="ts">
/** The pattern as a ribbon of strips on musical time, with threads up to where each slice lies in the source. */
import { computed, ref, shallowRef } from 'vue';
import { gridLineBefore, snapToGrid } from '#core/patterns/grid.ts';
import { partTempoBpm, sourceFramesPerTick } from '#core/engine/plan/renderings.ts';
import { isPlainTiming, timedTicks } from '#core/engine/sequence/timing.ts';
import { isHome } from '#core/project/schema.ts';
import { ownTempoBpm } from '#core/queries/loops.ts';
import { sliceAtFrame } from '#core/queries/slices.ts';
import { partValues, songValues } from '#core/queries/values.ts';
import { engine } from '../../audio/services.ts';
import { verticalLine } from '../../canvas/draw.ts';
import {
  layoutPattern,
  patternSpotAt,
  ticksToX,
  xToTicks,
  type PatternLayout,
  type PatternSpot,
} from '../../canvas/pattern-layout.ts';
import { useBandCanvas, type Stage } from '../../canvas/use-band-canvas.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { useEditing } from '../../stores/editing.ts';
import { useProject } from '../../stores/project.ts';
import { useSession } from '../../stores/session.ts';
import { useTransport } from '../../stores/transport.ts';
import BandFrame from '../shared/BandFrame.vue';
import DealRow from './DealRow.vue';
import PatternTabs from './PatternTabs.vue';
import PatternTools from './PatternTools.vue';
import { drawPattern } from './pattern-picture.ts';

const project = useProject();
const session = useSession();
const transport = useTransport();
const editing = useEditing();
const picture = ref<HTMLCanvasElement | null>(null);
const overlay = ref<HTMLCanvasElement | null>(null);
const cursor = ref('default');
/** While strips are dragged: by how many ticks, or to which length. Nothing is changed before they are let go. */
const drag = shallowRef<{ moveTicks: number } | { lengthTicks: number } | null>(null);
const dropTicks = ref<number | null>(null);

const part = computed(() => session.part);
const shownEvents = computed(() => {
  const dragged = drag.value;
  if (!dragged) return session.events;
  return session.events.map((event) => {
    if (!session.eventIds.includes(event.id)) return event;
    if ('lengthTicks' in dragged) return { ...event, lengthTicks: dragged.lengthTicks };
    return { ...event, positionTicks: Math.max(0, event.positionTicks + dragged.moveTicks) };
  });
});

/** What the picture shows of the whole project, number by number: it is drawn anew when one is another, not at every edit. */
const swingPercent = computed(() => {
  const { document } = project;
  return document && part.value && ownTempoBpm(document, part.value) === null ? songValues(document).swingPercent : 50;
});
const beatsPerBar = computed(() => (project.document ? songValues(project.document).beatsPerBar : 4));
const framesPerTick = computed(() =>
  project.document && session.cut ? sourceFramesPerTick(project.document, session.cut) : 1,
);

/** Where the events are heard, the part's start offset aside: the playhead leaves that out, too. */
const heardTicks = computed(() => {
  if (!part.value) return null;
  const { feelPercent, groovePercent } = partValues(part.value);
  const timing = { feelPercent, groove: part.value.groove, groovePercent, swingPercent: swingPercent.value };
  if (isPlainTiming(timing)) return null;
  const length = session.lengthTicks;
  return new Map(
    shownEvents.value.map(({ id, positionTicks }) => {
      const ticks = timedTicks(positionTicks, timing, length);
      return [id, ((ticks % length) + length) % length];
    }),
  );
});

/** The last layout: the playhead and the pointer ask for the same one again and again. */
let laid: { events: readonly unknown[]; lengthTicks: number; layout: PatternLayout } | null = null;
function layoutFor(width: number, height: number): PatternLayout {
  const { lengthTicks } = session;
  const events = shownEvents.value;
  const isSame = laid?.events === events && laid.lengthTicks === lengthTicks;
  if (laid && isSame && laid.layout.width === width && laid.layout.height === height) return laid.layout;
  const layout = layoutPattern(events, lengthTicks, width, height);
  laid = { events, lengthTicks, layout };
  return layout;
}

function paint(stage: Stage): void {
  if (!part.value || !session.cut) return;
  drawPattern(stage, {
    layout: layoutFor(stage.width, stage.height),
    placed: session.placed,
    zones: session.zones,
    colours: session.colours,
    peaks: session.loaded?.peaks ?? null,
    loop: session.cut.loop,
    beatsPerBar: beatsPerBar.value,
    gridStepTicks: session.gridStepTicks,
    sourceFramesPerTick: framesPerTick.value,
    selected: new Set(session.eventIds),
    heardTicks: heardTicks.value,
    dropTicks: dropTicks.value,
  });
}

function paintPlayhead({ context, width, height, inks }: Stage): void {
  if (!engine.status.playing || session.lengthTicks === 0) return;
  const { document } = project;
  if (!document || !part.value) return;
  const { startOffsetTicks } = partValues(part.value);
  const at = engine.partTicksNow(part.value.id, partTempoBpm(document, part.value));
  if (at < 0) return;
  const length = session.lengthTicks;
  const ticks = (((at - startOffsetTicks) % length) + length) % length;
  const x = ticksToX(ticks, session.lengthTicks, width);
  const { ribbonTop } = layoutFor(width, height);
  context.strokeStyle = inks.signal;
  context.fillStyle = inks.signal;
  context.lineWidth = 2;
  verticalLine(context, x, ribbonTop, height - 4);
  context.beginPath();
  context.moveTo(x - 5, ribbonTop - 7);
  context.lineTo(x + 6, ribbonTop - 7);
  context.lineTo(x + 0.5, ribbonTop);
  context.fill();
}

useBandCanvas(picture, overlay, paint, paintPlayhead);

function spotOf(event: PointerEvent | MouseEvent): PatternSpot {
  const canvas = overlay.value!;
  const { x, y } = localPoint(event, canvas);
  return patternSpotAt(layoutFor(canvas.clientWidth, canvas.clientHeight), x, y);
}

function ticksUnder(event: PointerEvent | MouseEvent): number {
  const canvas = overlay.value!;
  return xToTicks(localPoint(event, canvas).x, session.lengthTicks, canvas.clientWidth);
}

function gridOf(event: PointerEvent | MouseEvent): number | null {
  return event.altKey ? null : session.gridStepTicks;
}

function onHover(event: PointerEvent): void {
  if (event.buttons) return;
  const cursors = { source: 'grab', strip: 'grab', edge: 'ew-resize', empty: 'copy', outside: 'default' };
  cursor.value = cursors[spotOf(event).zone];
}

function onPointerDown(event: PointerEvent): void {
  if (event.button !== 0 || !part.value) return;
  const spot = spotOf(event);
  if (spot.zone === 'strip' || spot.zone === 'edge') dragStrip(event, spot.strip.event.id, spot.zone);
  else if (spot.zone === 'source') dragFromSource(event);
  else if (!event.shiftKey) session.selectEvents([]);
}

function dragStrip(event: PointerEvent, eventId: string, zone: 'strip' | 'edge'): void {
  const wasSelected = session.eventIds.includes(eventId);
  const adding = event.shiftKey || event.ctrlKey || event.metaKey;
  if (adding) session.selectEvents([eventId], true);
  else if (!wasSelected) session.selectEvents([eventId]);
  const grabbed = session.events.find((one) => one.id === eventId)!;
  const startTicks = ticksUnder(event);
  followPointer(event, {
    move: (moved) => {
      const at = ticksUnder(moved);
      const grid = gridOf(moved);
      if (zone === 'strip') {
        drag.value = { moveTicks: snapToGrid(grabbed.positionTicks + at - startTicks, grid) - grabbed.positionTicks };
      } else {
        const end = snapToGrid(grabbed.positionTicks + grabbed.lengthTicks + at - startTicks, grid);
        drag.value = { lengthTicks: Math.max(grid ?? 30, end - grabbed.positionTicks) };
      }
    },
    end: (moved) => {
      const dragged = drag.value;
      drag.value = null;
      if (moved && dragged && 'moveTicks' in dragged) {
        if (dragged.moveTicks !== 0) editing.move(dragged.moveTicks);
      } else if (moved && dragged && 'lengthTicks' in dragged) editing.resize(dragged.lengthTicks);
      else if (!adding) {
        session.selectEvents([eventId]);
        hearZone(grabbed.zoneId);
      }
    },
    cancel: () => (drag.value = null),
  });
}

/** A slice is picked up in the row above and put down on the ribbon. */
function dragFromSource(event: PointerEvent): void {
  const canvas = overlay.value!;
  const { frames } = session.source!;
  const loop = session.cut!.loop ?? { startFrame: 0, endFrame: frames };
  const share = localPoint(event, canvas).x / canvas.clientWidth;
  const at = sliceAtFrame(session.placed, loop.startFrame + share * (loop.endFrame - loop.startFrame));
  if (!at) return;
  session.selectSlices([at.slice.id]);
  followPointer(event, {
    move: (moved) => {
      const inside = localPoint(moved, canvas).y > layoutFor(canvas.clientWidth, canvas.clientHeight).ribbonTop;
      const ticks = gridLineBefore(ticksUnder(moved), gridOf(moved));
      dropTicks.value = inside && ticks >= 0 && ticks < session.lengthTicks ? ticks : null;
    },
    end: (moved) => {
      const ticks = dropTicks.value;
      dropTicks.value = null;
      if (moved && ticks !== null) placeAt(at.slice.id, ticks);
      else hear(at.slice.id);
    },
    cancel: () => (dropTicks.value = null),
  });
}

function hear(sliceId: string): void {
  const zone = session.zoneBySlice.get(sliceId)?.zone;
  if (zone) hearZone(zone.id);
}

function hearZone(zoneId: string): void {
  if (!transport.playing) transport.playZone(zoneId);
}

/** Puts a slice down for as long as it sounds, to the grid, one step at least. */
function placeAt(sliceId: string, positionTicks: number): void {
  const at = session.placed.find((one) => one.slice.id === sliceId);
  if (!at) return;
  const sounding = (at.endFrame - at.startFrame) / framesPerTick.value;
  const grid = session.gridStepTicks;
  editing.place(sliceId, positionTicks, grid === null ? sounding : Math.max(grid, snapToGrid(sounding, grid)));
}

function onDoubleClick(event: MouseEvent): void {
  const spot = spotOf(event);
  if (spot.zone !== 'empty' && spot.zone !== 'outside') return;
  const sliceId = session.sliceIds[0] ?? session.placed[0]?.slice.id;
  const ticks = gridLineBefore(ticksUnder(event), gridOf(event));
  if (sliceId && ticks >= 0 && ticks < session.lengthTicks) placeAt(sliceId, ticks);
}
</script>

<template>
  <BandFrame band="pattern" title="Pattern">
    <template #facts><PatternTabs v-if="part" /></template>
    <template v-if="part" #tools><PatternTools /></template>
    <div class="stage-and-deal">
      <div class="stage layers">
        <canvas ref="picture" />
        <canvas
          ref="overlay"
          :style="{ cursor }"
          role="application"
          aria-label="Pattern: drag strips to move them, their right edge to lengthen them, slices from above to place them; double-click places the selected slice"
          data-testid="pattern-canvas"
          @pointerdown="onPointerDown"
          @pointermove="onHover"
          @dblclick="onDoubleClick"
        />
        <p v-if="part && session.events.length === 0" class="empty quiet">
          Drag a slice down from the row above, or double-click to place the selected one.
        </p>
      </div>
      <DealRow v-if="part" :is-home="isHome(session.patternId)" />
    </div>
  </BandFrame>
</template>

<style scoped>
.stage-and-deal {
  display: flex;
  flex-direction: column;
  height: 100%;
}
.stage {
  flex: 1;
  min-height: 0;
}
.empty {
  position: absolute;
  left: 0;
  right: 0;
  bottom: 38%;
  text-align: center;
  pointer-events: none;
}
</style>
