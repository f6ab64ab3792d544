<script setup lang="ts">
/** The pattern as a ribbon of strips on musical time, with threads up to where each slice lies in the source. */
import { computed, ref } from 'vue';
import { gridLineBefore } from '#core/patterns/grid.ts';
import { isPlainTiming, timedTicks } from '#core/strips/timing.ts';
import { partTiming } from '#core/queries/loops.ts';
import { sliceAtFrame } from '#core/queries/slices.ts';
import { loopFrameAt } from '#core/units/loop-time.ts';
import { loopLengthTicks } from '#core/units/time.ts';
import { songValues } from '#core/queries/values.ts';
import { verticalLine } from '../../canvas/draw.ts';
import {
  layoutPattern,
  patternSpotAt,
  ticksToX,
  xToTicks,
  type PatternLayout,
  type PatternSpot,
} from '../../canvas/pattern-layout.ts';
import { isSounding, useBandCanvas, type Stage } from '../../canvas/use-band-canvas.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { useProject } from '../../stores/document/project.ts';
import { usePartSounds } from '../../stores/sound/part-sounds.ts';
import { useSession } from '../../stores/document/session.ts';
import { drawPattern } from './pattern-picture.ts';
import { usePlayheadTicks } from '../../stores/sound/playhead-ticks.ts';
import { useStripBox } from './use-strip-box.ts';
import { useStrips } from './use-strips.ts';

const project = useProject();
const session = useSession();
const sounds = usePartSounds();
const picture = ref<HTMLCanvasElement | null>(null);
const overlay = ref<HTMLCanvasElement | null>(null);
const cursor = ref('default');
const dropTicks = ref<number | null>(null);
const part = computed(() => session.part);
const { shownEvents, framesPerTick, ticksUnder, gridOf, dragStrip, hearSlice, placeAt } = useStrips(overlay, (x) =>
  xToTicks(x, session.lengthTicks, overlay.value!.clientWidth),
);
const playheadTicks = usePlayheadTicks();

/** What the picture shows of the whole project, number by number: it is drawn anew when one is another, not at every edit. */
const beatsPerBar = computed(() => (project.document ? songValues(project.document).beatsPerBar : 4));
/** Where the events are heard, the part's start offset aside: the playhead leaves that out, too. */
const heardTicks = computed(() => {
  if (!part.value || !project.document) return null;
  const timing = partTiming(project.document, part.value);
  if (isPlainTiming(timing)) return null;
  const length = session.lengthTicks;
  return new Map(
    shownEvents.value.map(({ id, positionTicks }) => {
      const ticks = timedTicks(positionTicks, timing, length);
      return [id, ((ticks % length) + length) % length];
    }),
  );
});

const { isDrawing, drawBox, paintBox } = useStripBox(overlay, () => {
  const { clientWidth, clientHeight } = overlay.value!;
  return layoutFor(clientWidth, clientHeight).strips;
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
    sounds: sounds.byCut,
    cutId: session.cut.id,
    loop: session.cut.loop,
    beatsPerBar: beatsPerBar.value,
    gridStepTicks: session.gridStepTicks,
    sourceFramesPerTick: framesPerTick.value,
    selected: new Set(session.eventIds),
    heardTicks: heardTicks.value,
    unheard: session.unheard,
    dropTicks: dropTicks.value,
  });
}

function paintPlayhead({ context, width, height, inks }: Stage): void {
  const ticks = playheadTicks();
  if (ticks === null) return;
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

function paintMoving(stage: Stage): void {
  paintBox(stage);
  paintPlayhead(stage);
}

useBandCanvas(picture, overlay, paint, paintMoving, () => isDrawing() || isSounding());

function spotOf(event: PointerEvent | MouseEvent): PatternSpot {
  const canvas = overlay.value!;
  const { x, y } = localPoint(event, canvas);
  return patternSpotAt(layoutFor(canvas.clientWidth, canvas.clientHeight), x, y);
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
  else drawBox(event);
}

/** A slice is picked up in the row above and put down on the ribbon. */
function dragFromSource(event: PointerEvent): void {
  const canvas = overlay.value!;
  const { loop } = session.cut!;
  const share = localPoint(event, canvas).x / canvas.clientWidth;
  const frame = loop ? loopFrameAt(loop, share * loopLengthTicks(loop)) : share * session.source!.frames;
  const at = sliceAtFrame(session.placed, frame);
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
      const zone = session.zoneBySlice.get(at.slice.id);
      if (moved && ticks !== null && zone) placeAt(zone, ticks);
      else hearSlice(at.slice.id);
    },
    cancel: () => (dropTicks.value = null),
  });
}

function onDoubleClick(event: MouseEvent): void {
  const spot = spotOf(event);
  if (spot.zone !== 'empty' && spot.zone !== 'outside') return;
  const chosen = session.selectedZones.find(({ zone }) => zone.plays.kind === 'slice') ?? session.zones[0];
  const ticks = gridLineBefore(ticksUnder(event), gridOf(event));
  if (chosen) placeAt(chosen, ticks);
}
</script>

<template>
  <div class="layers">
    <canvas ref="picture" />
    <canvas
      ref="overlay"
      :style="{ cursor }"
      role="application"
      aria-label="Pattern: drag strips to move them, their right edge to lengthen them, slices from above to place them; double-click places the selected slice, drawing a box selects"
      data-testid="pattern-canvas"
      @pointerdown="onPointerDown"
      @pointermove="onHover"
      @dblclick="onDoubleClick"
    />
    <p v-if="part && session.events.length === 0" class="empty quiet">
      Drag a slice down from the row above, or double-click to place the selected one.
    </p>
  </div>
</template>

<style scoped>
.empty {
  position: absolute;
  left: 0;
  right: 0;
  bottom: 38%;
  text-align: center;
  pointer-events: none;
}
</style>
