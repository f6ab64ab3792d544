<script setup lang="ts">
/** The pattern as rows by sound, or by the notes of one of them, with a setting of each strip beneath; whole or bar by bar. */
import { useElementSize } from '@vueuse/core';
import { computed, onBeforeUnmount, ref, useTemplateRef } from 'vue';
import { gridLineBefore } from '#core/patterns/grid.ts';
import { ROLES } from '#core/analysis/role-names.ts';
import { songValues } from '#core/queries/values.ts';
import { padsOf, type PlacedZone } from '#core/queries/zones.ts';
import { TICKS_PER_BEAT } from '#core/units/time.ts';
import { engine } from '../../audio/services.ts';
import { verticalLine } from '../../canvas/draw.ts';
import { keyName } from '../../canvas/key-names.ts';
import {
  beatsOf,
  layoutRows,
  ROW_HEAD_WIDTH,
  ROWS_TOP,
  rowsSpotAt,
  rowsTicks,
  rowsX,
  shiftedRows,
  type RowsLayout,
  type RowsSpot,
} from '../../canvas/rows-layout.ts';
import { isSounding, useBandCanvas, type Stage } from '../../canvas/use-band-canvas.ts';
import { localPoint } from '../../canvas/use-drag.ts';
import { useProject } from '../../stores/document/project.ts';
import { usePartSounds } from '../../stores/sound/part-sounds.ts';
import { useEditing, type RowShift } from '../../stores/document/editing.ts';
import { useHomeDistance } from '../../stores/pattern/home-distance.ts';
import { useSession } from '../../stores/document/session.ts';
import { useStripEdits } from '../../stores/pattern/strip-edits.ts';
import { drawRows, type RowHead } from './rows-picture.ts';
import { useMelody } from './use-melody.ts';
import { usePlayheadTicks } from '../../stores/sound/playhead-ticks.ts';
import { useStripBox } from './use-strip-box.ts';
import { useStripWriting } from './use-strip-writing.ts';
import { useStrips } from './use-strips.ts';
import RowsBar, { type RowOrder } from './RowsBar.vue';
import StripLane from './StripLane.vue';

const project = useProject();
const session = useSession();
const sounds = usePartSounds();
const home = useHomeDistance();
const strips = useStripEdits();
const editing = useEditing();
const scroller = useTemplateRef<HTMLElement>('scroller');
const { height: room } = useElementSize(scroller);
const picture = ref<HTMLCanvasElement | null>(null);
const overlay = ref<HTMLCanvasElement | null>(null);
const cursor = ref('default');
const order = ref<RowOrder>('role');
const isByNote = computed(() => order.value === 'note');
/** The sound whose notes are shown. */
const melody = useMelody();
/** The bar that is shown; null: all of them. */
const shownBar = ref<number | null>(null);
const NONE: ReadonlySet<string> = new Set();

const width = ref(800);
const { shownEvents, framesPerTick, gridOf, dragStrip, hearZone, placeAt } = useStrips(
  overlay,
  (x) => rowsTicks({ width: overlay.value!.clientWidth, ...time.value }, x),
  (fromY, toY) => shiftBy(Math.round((toY - fromY) / layout.value.rowHeight)),
);
const { isDrawing, drawBox, paintBox } = useStripBox(overlay, () => layout.value.strips);
const { write } = useStripWriting(overlay, () => layout.value, putInRow, hearRow);
const playheadTicks = usePlayheadTicks();

/** A pad has one row, whatever lies on it: that of its first sound. */
const pads = computed(() => padsOf(session.zones));
const padIdOf = (zoneId: string) => pads.value.get(zoneId)?.[0]!.zone.id ?? zoneId;
const isLayered = (zoneId: string) => (pads.value.get(zoneId)?.length ?? 1) > 1;

const allRows = computed(() =>
  session.zones.filter(({ zone }) => zone.plays.kind === 'slice' && padIdOf(zone.id) === zone.id),
);
/** What lies on no key and plays nothing here is left out, where others lie on keys. */
const showsAll = ref(false);
const played = computed(() => new Set(session.events.map(({ zoneId }) => padIdOf(zoneId))));
const hasKeys = computed(() => allRows.value.some(({ keys }) => keys !== null));
const isShown = ({ zone, keys }: PlacedZone) => keys !== null || played.value.has(zone.id) || !hasKeys.value;
const hiddenCount = computed(() => allRows.value.filter((placed) => !isShown(placed)).length);

/** The lowest is at the bottom, as on a staff: kicks below, hats above. */
const rowIds = computed(() => {
  if (isByNote.value) return melody.rowIds.value;
  const rank = ({ at, keys }: (typeof session.zones)[number]): [number, number] => {
    if (order.value === 'role') return [ROLES.indexOf(at.slice.role), at.index];
    if (order.value === 'key') return [keys?.root ?? 128, at.index];
    return [at.index, 0];
  };
  return allRows.value
    .filter((placed) => showsAll.value || isShown(placed))
    .map((placed) => ({ id: placed.zone.id, rank: rank(placed) }))
    .sort((a, b) => b.rank[0] - a.rank[0] || b.rank[1] - a.rank[1])
    .map(({ id }) => id);
});
const layout = computed<RowsLayout>(() =>
  layoutRows(
    shownEvents.value,
    rowIds.value,
    isByNote.value ? melody.rowOf : ({ zoneId }) => padIdOf(zoneId),
    { width: width.value, ...time.value },
    room.value,
  ),
);
/** Where the loop plays what the pattern does not play there. */
const missed = computed(() => (home.isShown && !isByNote.value ? (home.distance?.missed ?? []) : []));
const ghosts = computed(
  () =>
    layoutRows(
      missed.value,
      rowIds.value,
      ({ zoneId }) => padIdOf(zoneId),
      { width: width.value, ...time.value },
      room.value,
    ).strips,
);
const zoneById = computed(() => new Map(session.zones.map((placed) => [placed.zone.id, placed])));
const selectedRows = computed(() => new Set(session.selectedZones.map(({ zone }) => padIdOf(zone.id))));
const beatsPerBar = computed(() => (project.document ? songValues(project.document).beatsPerBar : 4));
const barTicks = computed(() => beatsPerBar.value * TICKS_PER_BEAT);
const bars = computed(() => Math.max(1, Math.ceil(session.lengthTicks / barTicks.value - 1e-6)));
const time = computed(() => {
  if (shownBar.value === null) return { fromTicks: 0, spanTicks: session.lengthTicks };
  return { fromTicks: Math.min(shownBar.value, bars.value - 1) * barTicks.value, spanTicks: barTicks.value };
});
const beats = computed(() => beatsOf({ width: width.value, ...time.value }, beatsPerBar.value));
/** What moving the chosen strips so many rows down does to them. */
function shiftBy(rows: number): RowShift {
  if (isByNote.value) return { byCents: -rows * 100, zoneIds: new Map() };
  const moved = session.selectedEvents.map(({ zoneId }) => zoneId);
  const shifted = shiftedRows(rowIds.value, moved.map(padIdOf), rows);
  return {
    byCents: 0,
    zoneIds: new Map(moved.flatMap((id) => [[id, shifted.get(padIdOf(id))!] as const]).filter(([, to]) => to)),
  };
}
strips.shiftByRows = shiftBy;
onBeforeUnmount(() => (strips.shiftByRows = null));

/** The lane is of what the rows show. */
const laneEvents = computed(() =>
  isByNote.value ? shownEvents.value.filter((event) => melody.rowOf(event) !== null) : shownEvents.value,
);
const rowChoices = computed(() => (isByNote.value ? melody.selectedRows.value : selectedRows.value));

function headOf(rowId: string): RowHead | null {
  if (isByNote.value) return melody.headOf(rowId);
  const placed = zoneById.value.get(rowId);
  if (!placed) return null;
  const { at, keys } = placed;
  const layers = pads.value.get(rowId)?.length ?? 1;
  const words = `${at.index + 1} ${at.label}${layers > 1 ? ` +${layers - 1}` : ''}`;
  return { words, key: keys ? keyName(keys.root) : '', placed, isBlack: false };
}

function paint(stage: Stage): void {
  if (!session.part) return;
  width.value = stage.width;
  drawRows(stage, {
    layout: layout.value,
    ghosts: ghosts.value,
    movedIds: home.distance?.movedIds ?? NONE,
    headOf,
    zoneById: zoneById.value,
    colourById: sounds.colourById,
    sounds: sounds.byCut,
    beatsPerBar: beatsPerBar.value,
    gridStepTicks: session.gridStepTicks,
    sourceFramesPerTick: framesPerTick.value,
    selected: new Set(session.eventIds),
    unheard: session.unheard,
    selectedRows: rowChoices.value,
  });
}

/** What moves is drawn over the strips: they are not drawn anew at each step of a hand. */
function paintMoving(stage: Stage): void {
  paintBox(stage);
  paintPlayhead(stage);
}

function paintPlayhead({ context, height, inks }: Stage): void {
  const ticks = playheadTicks();
  const sounding = new Set(engine.status.sounding.map(([, zoneId]) => zoneId));
  context.fillStyle = inks.signal;
  layout.value.rowIds.forEach((id, row) => {
    if (!isByNote.value && pads.value.get(id)?.some(({ zone }) => sounding.has(zone.id)))
      context.fillRect(0, ROWS_TOP + row * layout.value.rowHeight + 3, 3, layout.value.rowHeight - 6);
  });
  const { fromTicks, spanTicks } = time.value;
  if (ticks === null || ticks < fromTicks || ticks >= fromTicks + spanTicks) return;
  context.strokeStyle = inks.signal;
  context.lineWidth = 2;
  verticalLine(context, rowsX(layout.value, ticks), 0, height);
}

useBandCanvas(picture, overlay, paint, paintMoving, () => isDrawing() || isSounding());

function spotOf(event: MouseEvent): RowsSpot {
  const { x, y } = localPoint(event, overlay.value!);
  return rowsSpotAt(layout.value, x, y);
}

function onHover(event: PointerEvent): void {
  if (event.buttons) return;
  const cursors = { head: 'pointer', strip: 'grab', edge: 'ew-resize', empty: 'crosshair', outside: 'default' };
  const { zone } = spotOf(event);
  cursor.value = strips.isWriting && zone !== 'head' && zone !== 'outside' ? 'cell' : cursors[zone];
}

function onPointerDown(event: PointerEvent): void {
  if (event.button !== 0) return;
  const spot = spotOf(event);
  if (strips.isWriting && (spot.zone === 'empty' || spot.zone === 'strip' || spot.zone === 'edge')) write(event);
  else if (spot.zone === 'strip' || spot.zone === 'edge') dragStrip(event, spot.strip.event.id, spot.zone);
  else if (spot.zone === 'head') pickRow(spot.rowId, event);
  else drawBox(event);
}

function pickRow(rowId: string, event: PointerEvent): void {
  if (isByNote.value) {
    melody.hear(rowId);
    return;
  }
  const ids = pads.value.get(rowId)?.map(({ zone }) => zone.id) ?? [rowId];
  session.selectZones(ids, event.shiftKey || event.ctrlKey || event.metaKey);
  hearZone(rowId);
}

function putInRow(rowId: string, positionTicks: number, lengthTicks: number): void {
  const zoneId = isByNote.value ? melody.placed.value?.zone.id : rowId;
  if (zoneId === undefined) return;
  const cents = isByNote.value ? melody.semitonesOf(rowId) * 100 : 0;
  const values = cents === 0 ? {} : { tuneCents: cents };
  editing.place(zoneId, positionTicks, lengthTicks, isLayered(zoneId) ? { ...values, onKey: true } : values);
}

function hearRow(rowId: string): void {
  if (isByNote.value) melody.hear(rowId);
  else hearZone(rowId);
}

/** A double click in a row puts its sound there; at its head it chooses what is in the row. */
function onDoubleClick(event: MouseEvent): void {
  const spot = spotOf(event);
  if (strips.isWriting && spot.zone !== 'head') return;
  if (spot.zone === 'head') {
    const inRow = layout.value.strips.filter(({ rowId }) => rowId === spot.rowId);
    session.selectEvents(
      inRow.map(({ event: { id } }) => id),
      event.shiftKey,
    );
  }
  if (spot.zone !== 'empty') return;
  const placed = isByNote.value ? melody.placed.value : zoneById.value.get(spot.rowId);
  if (!placed) return;
  const ticks = rowsTicks(layout.value, localPoint(event, overlay.value!).x);
  const semitones = isByNote.value ? melody.semitonesOf(spot.rowId) : null;
  placeAt(placed, gridLineBefore(ticks, gridOf(event)), semitones === null ? null : semitones * 100);
  if (isByNote.value) melody.hear(spot.rowId);
}
</script>

<template>
  <div class="rows">
    <RowsBar
      v-model:order="order"
      v-model:shown-bar="shownBar"
      v-model:shows-all="showsAll"
      :bars="bars"
      :melody="melody"
      :hidden-count="hiddenCount"
    />
    <div ref="scroller" class="scroller">
      <div class="ruler mono" aria-hidden="true" data-testid="rows-ruler">
        <span v-for="{ x, label } in beats" :key="x" :style="{ left: `${x + 4}px` }">{{ label }}</span>
      </div>
      <div class="layers" :style="{ height: `${Math.max(layout.height, room)}px` }">
        <canvas ref="picture" />
        <canvas
          ref="overlay"
          :style="{ cursor }"
          role="application"
          aria-label="Pattern in rows, one a sound: drag strips to move them, their right edge to lengthen them; double-click in a row puts its sound there, at its head selects all in it, drawing a box selects"
          data-testid="rows-canvas"
          @pointerdown="onPointerDown"
          @pointermove="onHover"
          @dblclick="onDoubleClick"
        />
      </div>
    </div>
    <StripLane
      class="lane"
      :head-width="ROW_HEAD_WIDTH"
      :time="time"
      :events="laneEvents"
      :colour-by-id="sounds.colourById"
    />
  </div>
</template>

<style scoped>
.rows {
  display: flex;
  flex-direction: column;
}
.scroller {
  flex: 1;
  min-height: 0;
  overflow: hidden auto;
  scrollbar-width: thin;
}
/* Stays above the rows, however many there are. */
.ruler {
  position: sticky;
  top: 0;
  z-index: 1;
  height: 20px;
  margin-bottom: -20px;
  background: color-mix(in srgb, var(--sheet) 88%, transparent);
  pointer-events: none;
  font-size: 12px;
  line-height: 20px;
  color: var(--ink-quiet);
}
.ruler span {
  position: absolute;
}
.lane {
  height: 96px;
  flex: none;
}
</style>
