<script setup lang="ts">
/** The whole source: its markers, its skyline, and how likely each hit is. */
import { computed, ref } from 'vue';
import { addMarker, moveMarker } from '#core/project/commands/cut.ts';
import { nearestStepFrame } from '#core/patterns/grid.ts';
import { CUT_ROWS } from '#core/params/tables.ts';
import { cutTempoBpm } from '#core/queries/loops.ts';
import { sliceAtFrame, type PlacedSlice } from '#core/queries/slices.ts';
import { cutValues } from '#core/queries/values.ts';
import { engine, library } from '../../audio/services.ts';
import { verticalLine } from '../../canvas/draw.ts';
import { useBandCanvas, type Stage } from '../../canvas/use-band-canvas.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { usePinch } from '../../canvas/use-pinch.ts';
import { frameToX, scrollBy, wholeWindow, xToFrame, zoomAt } from '../../canvas/view-window.ts';
import { tip } from '../../input/shortcuts.ts';
import { useCutting } from '../../stores/cutting.ts';
import type { Gesture } from '../../stores/gesture.ts';
import { useProject } from '../../stores/project.ts';
import { useSession } from '../../stores/session.ts';
import { useTransport } from '../../stores/transport.ts';
import { describeFailure } from '../../api/words.ts';
import { useNotices } from '../../stores/notices.ts';
import BandFrame from '../shared/BandFrame.vue';
import CutPanel from './CutPanel.vue';
import LikenessView from './LikenessView.vue';
import OverviewStrip from './OverviewStrip.vue';
import SelectMenu from './SelectMenu.vue';
import { drawSource, landscapeBox, NUMBER_HEIGHT } from './source-picture.ts';

const MARKER_REACH_PX = 5;

const project = useProject();
const session = useSession();
const transport = useTransport();
const notices = useNotices();
const cutting = useCutting();
const picture = ref<HTMLCanvasElement | null>(null);
const overlay = ref<HTMLCanvasElement | null>(null);
const loaded = computed(() => session.loaded);
const reading = computed(() => session.reading);
const cursor = ref('default');

const part = computed(() => session.part);
const source = computed(() => session.source);
const cut = computed(() => session.cut);
const values = computed(() => (cut.value ? cutValues(cut.value) : null));
const viewed = computed(() => session.sourceWindow ?? wholeWindow(source.value?.frames ?? 1));
const loopWords = computed(() => {
  if (!cut.value || !project.document) return '';
  const { loop } = cut.value;
  if (!loop) return 'no loop';
  const bars = `${loop.bars} ${loop.bars === 1 ? 'bar' : 'bars'}`;
  return `${bars} · ${cutTempoBpm(project.document, cut.value)!.toFixed(1)} bpm`;
});
const sensitivity = computed(() => cutting.draft?.sensitivity ?? values.value?.sensitivity ?? 0.5);
const shownCount = computed(() => cutting.preview?.length ?? session.placed.length);
const sliceWords = computed(() => `${shownCount.value} ${shownCount.value === 1 ? 'slice' : 'slices'}`);
const howFound = computed(
  () => CUT_ROWS.method.choices.find(({ value }) => value === (values.value?.method ?? 'hits'))!.words,
);

function paint(stage: Stage): void {
  if (!loaded.value || !part.value || !source.value || !cut.value) return;
  drawSource(stage, {
    window: viewed.value,
    frames: source.value.frames,
    sampleRate: source.value.sampleRate,
    audio: { sampleRate: loaded.value.sampleRate, channels: loaded.value.channels },
    peaks: loaded.value.peaks,
    reading: reading.value,
    placed: session.placed,
    colours: session.colours,
    selected: new Set(session.sliceIds),
    loopStart: cut.value.loop?.startFrame ?? 0,
    loopEnd: cut.value.loop?.endFrame ?? source.value.frames,
    sensitivity: sensitivity.value,
    preview: cutting.preview,
    showWater: values.value?.method === 'hits',
  });
}

function paintPlayhead({ context, width, height, inks }: Stage): void {
  context.fillStyle = inks.signal;
  context.strokeStyle = inks.signal;
  context.lineWidth = 2;
  for (const [, zoneId, frame] of engine.status.sounding) {
    const at = session.sliceByZone.get(zoneId);
    if (!at) continue;
    const left = frameToX(viewed.value, at.startFrame, width);
    context.globalAlpha = 0.1;
    context.fillRect(left, 0, frameToX(viewed.value, at.endFrame, width) - left, landscapeBox(height).top - 8);
    context.globalAlpha = 1;
    verticalLine(context, frameToX(viewed.value, frame, width), 0, height);
  }
}

useBandCanvas(picture, overlay, paint, paintPlayhead);

function markerNear(x: number, width: number): PlacedSlice | null {
  let best: PlacedSlice | null = null;
  let distance = MARKER_REACH_PX + 1;
  for (const at of session.placed) {
    const away = Math.abs(frameToX(viewed.value, at.startFrame, width) - x);
    if (away < distance) {
      best = at;
      distance = away;
    }
  }
  return best;
}

function zone(event: PointerEvent): 'water' | 'marker' | 'slice' {
  const canvas = overlay.value!;
  const { x, y } = localPoint(event, canvas);
  if (y >= landscapeBox(canvas.clientHeight).top - 6) return 'water';
  const marker = markerNear(x, canvas.clientWidth);
  return marker && (y < NUMBER_HEIGHT + 30 || session.sliceIds.includes(marker.slice.id)) ? 'marker' : 'slice';
}

function onHover(event: PointerEvent): void {
  if (event.buttons) return;
  const cursors = { water: 'ns-resize', marker: 'ew-resize', slice: 'pointer' };
  cursor.value = cursors[zone(event)];
}

function onPointerDown(event: PointerEvent): void {
  if (event.button !== 0 || !overlay.value || !part.value) return;
  const where = zone(event);
  if (where === 'water') dragWater(event);
  else if (where === 'marker') dragMarker(event);
  else pickSlice(event);
}

function pickSlice(event: PointerEvent): void {
  const canvas = overlay.value!;
  const frame = xToFrame(viewed.value, localPoint(event, canvas).x, canvas.clientWidth);
  const at = sliceAtFrame(session.placed, frame);
  if (!at) return;
  if (event.shiftKey) session.selectSliceRange(at.slice.id);
  else session.selectSlices([at.slice.id], event.ctrlKey || event.metaKey);
  hear(at);
}

function hear(at: PlacedSlice): void {
  const zone = session.zoneBySlice.get(at.slice.id)?.zone;
  if (zone) transport.playZone(zone.id);
}

function dragMarker(event: PointerEvent): void {
  const canvas = overlay.value!;
  const { id: cutId } = cut.value!;
  const at = markerNear(localPoint(event, canvas).x, canvas.clientWidth)!;
  const sliceId = at.slice.id;
  session.selectSlices([sliceId]);
  const gesture = project.begin(`move slice ${at.index + 1}`);
  let free = event.altKey;
  followPointer(event, {
    move: (moved) => {
      if (!gesture?.isOpen) return;
      free = moved.altKey;
      const startFrame = xToFrame(viewed.value, localPoint(moved, canvas).x, canvas.clientWidth);
      project.run('', moveMarker, { cutId, sliceId, startFrame });
    },
    end: (moved) => {
      if (moved && !free && gesture) void snapDropped(gesture, cutId, sliceId);
      else gesture?.commit();
      if (!moved) hear(at);
    },
    cancel: () => gesture?.cancel(),
  });
}

/**
 * Where a marker near a frame belongs by the chosen snap.
 * @param reachMs how far an attack may lie; a few pixels when left out
 */
async function snapped(frame: number, reachMs?: number): Promise<number> {
  const { id, sampleRate } = source.value!;
  if (reachMs === undefined && session.snapTo === 'nothing') return frame;
  const { loop } = cut.value!;
  if (reachMs === undefined && session.snapTo === 'grid' && loop) {
    return nearestStepFrame(loop, values.value!.stepTicks, frame);
  }
  const pixels = Math.min(0.012 * sampleRate, framesPerPixel() * 6);
  const reachFrames = Math.round(reachMs === undefined ? pixels : (reachMs / 1000) * sampleRate);
  return library.snap(id, frame, reachFrames, reachMs !== undefined || session.snapTo === 'attack');
}

/** Lets a dropped marker snap to an attack or a zero crossing nearby, within the same undo step. */
async function snapDropped(gesture: Gesture, cutId: string, sliceId: string): Promise<void> {
  try {
    const slice = project.document?.cuts[cutId]?.slices[sliceId];
    if (slice && source.value) {
      const startFrame = await snapped(slice.startFrame);
      // Another drag, or an undo, may have begun meanwhile: this one is over then.
      if (gesture.isOpen) project.run('', moveMarker, { cutId, sliceId, startFrame });
    }
  } catch (error) {
    notices.error(describeFailure('Snapping the marker', error));
  } finally {
    gesture.commit();
  }
}

function framesPerPixel(): number {
  return (viewed.value.endFrame - viewed.value.startFrame) / Math.max(1, overlay.value?.clientWidth ?? 1);
}

function dragWater(event: PointerEvent): void {
  if (values.value?.method !== 'hits') return;
  const canvas = overlay.value!;
  const read = (at: PointerEvent) => {
    const { top, bottom } = landscapeBox(canvas.clientHeight);
    const level = (bottom - localPoint(at, canvas).y) / (bottom - top);
    void cutting.show({ sensitivity: Math.round(Math.max(0.01, Math.min(0.98, 1 - level)) * 100) / 100 });
  };
  read(event);
  followPointer(event, {
    move: read,
    end: () => {
      const value = cutting.draft?.sensitivity;
      if (value !== undefined)
        void cutting.apply(`sensitivity ${Math.round(value * 100)}%`, { sensitivity: value, method: 'hits' });
    },
    cancel: () => cutting.forget(),
  });
}

async function onDoubleClick(event: MouseEvent): Promise<void> {
  const canvas = overlay.value;
  if (!canvas || !part.value || !source.value) return;
  const { x, y } = localPoint(event, canvas);
  if (y >= landscapeBox(canvas.clientHeight).top || markerNear(x, canvas.clientWidth)) return;
  await addMarkerAt(xToFrame(viewed.value, x, canvas.clientWidth), event.altKey);
}

/**
 * Adds a marker near a frame, on the attack or zero crossing there; exactly there when `free`.
 * @param reachMs how far the attack may lie; a few pixels when left out
 */
async function addMarkerAt(frame: number, free = false, reachMs?: number): Promise<void> {
  if (!cut.value || !source.value) return;
  const { id: cutId, sourceId } = cut.value;
  const at = Math.max(0, Math.min(source.value.frames - 1, Math.round(frame)));
  try {
    const startFrame = free ? at : await snapped(at, reachMs);
    const endFrame = session.placed.find((other) => other.startFrame > startFrame)?.startFrame ?? source.value.frames;
    const [facts] = await library.describe(sourceId, [{ startFrame, endFrame }]);
    if (project.run('add marker', addMarker, { cutId, slice: { startFrame, strength: 1, ...facts! } })) {
      const added = session.placed.find((other) => other.startFrame === startFrame);
      if (added) session.selectSlices([added.slice.id]);
    }
  } catch (error) {
    notices.error(describeFailure('Adding a marker', error));
  }
}

function onWheel(event: WheelEvent): void {
  if (!source.value || !overlay.value) return;
  event.preventDefault();
  const width = overlay.value.clientWidth;
  const { frames } = source.value;
  if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
    const by = ((event.deltaX || event.deltaY) / width) * (viewed.value.endFrame - viewed.value.startFrame);
    session.sourceWindow = scrollBy(viewed.value, by, frames);
  } else {
    const factor = Math.exp(-event.deltaY * (event.ctrlKey ? 0.01 : 0.002));
    session.sourceWindow = zoomAt(viewed.value, factor, localPoint(event, overlay.value).x, width, frames);
  }
}

/** Two fingers: apart is closer, together is further, side by side scrolls. */
const pinch = usePinch((factor, x, byPixels) => {
  if (!source.value || !overlay.value) return;
  const width = overlay.value.clientWidth;
  const { frames } = source.value;
  const zoomed = zoomAt(viewed.value, factor, x, width, frames);
  session.sourceWindow = scrollBy(zoomed, (-byPixels / width) * (zoomed.endFrame - zoomed.startFrame), frames);
});

/** Moves the selected marker by a pixel's worth of frames: the closer the view, the finer. */
function nudgeMarker(by: 1 | -1): void {
  const at = session.selectedSlices[0];
  if (!at || !cut.value) return;
  const startFrame = at.startFrame + by * Math.max(1, Math.round(framesPerPixel()));
  project.run(`move slice ${at.index + 1}`, moveMarker, { cutId: cut.value.id, sliceId: at.slice.id, startFrame });
}

defineExpose({ addMarkerAt, nudgeMarker });
</script>

<template>
  <BandFrame band="source" title="Source">
    <template #facts>
      <span v-if="source" class="facts" data-testid="source-facts">
        {{ source.name }} · {{ loopWords }} · {{ sliceWords }}, cut {{ howFound }}
      </span>
    </template>
    <template #tools>
      <SelectMenu v-if="part" />
      <button
        class="push small"
        :aria-pressed="session.byLikeness"
        title="Lay the slices out by how they sound, to find what is alike"
        @click="session.byLikeness = !session.byLikeness"
      >
        likeness
      </button>
      <button class="push small" :title="tip('zoom-all')" @click="session.sourceWindow = null">whole</button>
    </template>
    <div class="rows">
      <CutPanel v-if="part" />
      <OverviewStrip v-if="session.sourceWindow" />
      <LikenessView v-if="session.byLikeness" class="stage" />
      <div v-show="!session.byLikeness" class="stage layers">
        <canvas ref="picture" />
        <canvas
          ref="overlay"
          :style="{ cursor }"
          role="application"
          aria-label="Source: click a slice to hear it, double-click to add a marker, drag a marker by its number, drag the water line for the sensitivity"
          data-testid="source-canvas"
          @pointerdown="onPointerDown"
          @pointermove="onHover"
          @dblclick="onDoubleClick"
          @wheel="onWheel"
          @touchstart="pinch.start"
          @touchmove="pinch.move"
        />
        <p v-if="!loaded" class="loading quiet">loading the sound …</p>
        <span v-else class="count" data-testid="slice-count">{{ sliceWords }}</span>
      </div>
    </div>
  </BandFrame>
</template>

<style scoped>
.rows {
  display: flex;
  flex-direction: column;
  height: 100%;
}
.stage {
  position: relative;
  flex: 1;
  min-height: 0;
}
.count {
  position: absolute;
  right: 4px;
  bottom: 32px;
  background: var(--sea);
  color: var(--sheet);
  border-radius: 10px;
  padding: 0 12px;
  font-size: 13px;
  font-weight: 600;
  pointer-events: none;
}
canvas {
  touch-action: none;
}
.loading {
  position: absolute;
  inset: 0;
  display: grid;
  place-items: center;
}
</style>
