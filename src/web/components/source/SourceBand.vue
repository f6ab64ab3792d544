<script setup lang="ts">
/** The whole source: its markers, its skyline, and how likely each hit is; grown, a magnified piece of it beneath. */
import { computed, defineAsyncComponent, ref, watchEffect } from 'vue';
import { CUT_ROWS } from '#core/params/tables.ts';
import { putOnKey } from '#core/project/commands/lay.ts';
import { cutTempoBpm } from '#core/queries/loops.ts';
import { sliceAtFrame, type PlacedSlice } from '#core/queries/slices.ts';
import { cutValues } from '#core/queries/values.ts';
import { keyName } from '../../canvas/key-names.ts';
import { engine } from '../../audio/services.ts';
import { verticalLine } from '../../canvas/draw.ts';
import { useBandCanvas, type Stage } from '../../canvas/use-band-canvas.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { useZoom } from '../../canvas/use-zoom.ts';
import { frameToX, wholeWindow, xToFrame } from '../../canvas/view-window.ts';
import { useSoundDrag } from '../../stores/keys/sound-drag.ts';
import { useCutting } from '../../stores/source/cutting.ts';
import { useLaying } from '../../stores/keys/laying.ts';
import { useMarkers } from '../../stores/source/markers.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { useTransport } from '../../stores/sound/transport.ts';
import { useTrimming } from '../../stores/source/trimming.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import BandFrame from '../shared/BandFrame.vue';
import InTurn from '../shared/InTurn.vue';
import CutPanel from './CutPanel.vue';
import OverviewStrip from './OverviewStrip.vue';
import SourceTools from './SourceTools.vue';
import { sourceBox } from './source-box.ts';
import { drawSource } from './source-picture.ts';
import { useMarkerDrag } from './use-marker-drag.ts';
import { useSpanDrag } from './use-span-drag.ts';

// What is not seen at first is fetched when it is.
const LikenessChart = defineAsyncComponent(() => import('./LikenessChart.vue'));
const ApartSheet = defineAsyncComponent(() => import('../apart/ApartSheet.vue'));
const MagnifiedWindow = defineAsyncComponent(() => import('./MagnifiedWindow.vue'));

/** A marker is taken hold of by its number, and so far below it. */
const GRIP_PX = 30;

const project = useProject();
const session = useSession();
const transport = useTransport();
const cutting = useCutting();
const soundDrag = useSoundDrag();
const laying = useLaying();
const markers = useMarkers();
const trimming = useTrimming();
const picture = ref<HTMLCanvasElement | null>(null);
const overlay = ref<HTMLCanvasElement | null>(null);
const cursor = ref('default');
/** The frame under the pointer. */
const pointerFrame = ref<number | null>(null);

const source = computed(() => session.source);
const cut = computed(() => session.cut);
const values = computed(() => (cut.value ? cutValues(cut.value) : null));
const viewed = computed(() => session.sourceWindow ?? wholeWindow(source.value?.frames ?? 1));
const isGrown = computed(() => session.grownBand === 'source');
const loopWords = computed(() => {
  if (!cut.value || !project.document) return '';
  const { loop } = cut.value;
  if (!loop) return 'no loop';
  const bars = `${loop.bars} ${loop.bars === 1 ? 'bar' : 'bars'}`;
  return `${bars} · ${cutTempoBpm(project.document, cut.value)!.toFixed(1)} bpm`;
});
/** Hits that were picked out of it one by one: nothing was cut. */
const isPicked = computed(
  () =>
    cut.value?.loop === null && session.placed.every(({ slice }) => slice.origin === 'hand' && slice.endFrame !== null),
);
const cutChoices = computed(() =>
  session.cuts.map(({ id, sourceId }) => ({ value: id, words: project.document!.sources[sourceId]!.name })),
);
const keyNames = computed(
  () =>
    new Map(
      [...session.zoneBySlice].flatMap(([sliceId, placed]) =>
        placed?.keys ? [[sliceId, keyName(placed.keys.root)] as const] : [],
      ),
    ),
);
const sensitivity = computed(() => cutting.draft?.sensitivity ?? values.value?.sensitivity ?? 0.5);
const shownCount = computed(() => cutting.preview?.length ?? session.placed.length);
const sliceWords = computed(() => `${shownCount.value} ${shownCount.value === 1 ? 'slice' : 'slices'}`);
const howFound = computed(
  () => CUT_ROWS.method.choices.find(({ value }) => value === (values.value?.method ?? 'hits'))!.words,
);
const { markerNear, dragMarker } = useMarkerDrag(viewed, overlay);
const { spans, endNear, dragSpan } = useSpanDrag(viewed, overlay);

function paint(stage: Stage): void {
  const { loaded } = session;
  if (!loaded || !session.part || !source.value || !cut.value) return;
  markers.framesPerPixel = (viewed.value.endFrame - viewed.value.startFrame) / Math.max(1, stage.width);
  drawSource(stage, {
    window: viewed.value,
    frames: source.value.frames,
    sampleRate: source.value.sampleRate,
    audio: { sampleRate: loaded.sampleRate, channels: loaded.channels },
    peaks: loaded.peaks,
    reading: session.reading,
    placed: session.placed,
    colours: session.colours,
    selected: new Set(session.sliceIds),
    keyNames: keyNames.value,
    loop: cut.value.loop,
    rulerUnit: session.rulerUnit,
    linesABeat: session.linesABeat,
    heightZoom: session.heightZoom,
    sensitivity: sensitivity.value,
    preview: cutting.preview,
    showWater: values.value?.method === 'hits',
    spans: spans.value,
    silence: trimming.levelDb === null ? null : { levelDb: trimming.levelDb, leftOut: trimming.leftOut },
  });
}

function paintPlayhead({ context, width, height, inks }: Stage): void {
  const { numberTop, skylineBottom } = sourceBox(height);
  context.fillStyle = inks.signal;
  context.strokeStyle = inks.signal;
  context.lineWidth = 2;
  for (const [, zoneId, frame] of engine.status.sounding) {
    const at = session.sliceByZone.get(zoneId);
    if (!at) continue;
    const left = frameToX(viewed.value, at.startFrame, width);
    context.globalAlpha = 0.1;
    context.fillRect(left, numberTop, frameToX(viewed.value, at.endFrame, width) - left, skylineBottom - numberTop);
    context.globalAlpha = 1;
    verticalLine(context, frameToX(viewed.value, frame, width), 0, height);
  }
}

useBandCanvas(picture, overlay, paint, paintPlayhead);

function zone(event: PointerEvent): 'water' | 'marker' | 'slice' | 'span' {
  const canvas = overlay.value!;
  if (endNear(event)) return 'span';
  const { x, y } = localPoint(event, canvas);
  const { landscapeTop, skylineTop } = sourceBox(canvas.clientHeight);
  if (y >= landscapeTop - 4) return 'water';
  // With Ctrl and Shift slices are chosen, however near a marker is.
  const isChoosing = event.ctrlKey || event.metaKey || event.shiftKey;
  const marker = isChoosing && y >= skylineTop ? null : markerNear(x, canvas.clientWidth);
  return marker && (y < skylineTop + GRIP_PX || session.sliceIds.includes(marker.slice.id)) ? 'marker' : 'slice';
}

function onHover(event: PointerEvent): void {
  const canvas = overlay.value!;
  pointerFrame.value = xToFrame(viewed.value, localPoint(event, canvas).x, canvas.clientWidth);
  if (event.buttons) return;
  const cursors = { water: 'ns-resize', marker: 'ew-resize', slice: 'pointer', span: 'ew-resize' };
  cursor.value = cursors[zone(event)];
}

function onPointerDown(event: PointerEvent): void {
  if (event.button !== 0 || !overlay.value || !session.part) return;
  const where = zone(event);
  if (where === 'span') dragSpan(event);
  else if (where === 'water') dragWater(event);
  else if (where === 'marker') dragMarker(event, hear);
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
  carryToKey(event, at);
}

/** Dragged down onto the keys a slice is laid there; dragged onto the rail the chosen ones come to another part. */
function carryToKey(event: PointerEvent, at: PlacedSlice): void {
  const zone = session.zoneBySlice.get(at.slice.id)?.zone;
  if (!zone) return;
  const drop = (key: number) => {
    project.run(`lay on ${keyName(key)}`, putOnKey, { zoneId: zone.id, key });
    laying.hearSoon(zone.id);
  };
  const dropOnPart = (partId: string | null) => {
    if (partId === session.part?.id) return;
    const zoneIds = session.selectedZones.map((one) => one.zone.id);
    // Fetched when it is wanted.
    void import('../../stores/keys/picking.ts').then(({ usePicking }) => usePicking().bring(zoneIds, partId));
  };
  followPointer(event, {
    move: (moved) => soundDrag.move({ words: at.label, drop, dropOnPart }, moved),
    end: () => void soundDrag.putDown(),
    cancel: () => soundDrag.giveUp(),
  });
}

function hear(at: PlacedSlice): void {
  const placed = session.zoneBySlice.get(at.slice.id);
  if (placed) transport.playZone(placed.zone.id);
}

function dragWater(event: PointerEvent): void {
  if (values.value?.method !== 'hits') return;
  const canvas = overlay.value!;
  const read = (at: PointerEvent) => {
    const { landscapeTop, landscapeBottom } = sourceBox(canvas.clientHeight);
    const level = (landscapeBottom - localPoint(at, canvas).y) / (landscapeBottom - landscapeTop);
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
  if (!canvas || !session.part || !source.value) return;
  const { x, y } = localPoint(event, canvas);
  if (y >= sourceBox(canvas.clientHeight).landscapeTop || markerNear(x, canvas.clientWidth)) return;
  await markers.add(xToFrame(viewed.value, x, canvas.clientWidth), event.altKey);
}

const { onWheel: onZoomWheel, pinch } = useZoom({
  canvas: overlay,
  viewed,
  frames: () => source.value?.frames ?? 0,
  put: (window) => (session.sourceWindow = window),
});

function onWheel(event: WheelEvent): void {
  if (!event.altKey) {
    onZoomWheel(event);
    return;
  }
  event.preventDefault();
  session.stretchHeight(Math.exp(-event.deltaY * 0.002));
}

/** Without a pointer over the source its selected marker is what is looked at closely. */
const closeFrame = ref(0);
watchEffect(() => {
  const chosen = session.selectedSlices[0];
  if (pointerFrame.value !== null) closeFrame.value = pointerFrame.value;
  else if (chosen) closeFrame.value = chosen.startFrame;
});
</script>

<template>
  <BandFrame band="source" title="Source">
    <template #facts>
      <ChoiceField
        v-if="session.cuts.length > 1"
        class="sounds"
        label="Sound of the part"
        :show-label="false"
        test-id="cut-choice"
        :model-value="cut?.id ?? null"
        :choices="cutChoices"
        @put="session.showCut($event)"
      />
      <span v-if="source" data-testid="source-facts">
        <template v-if="session.cuts.length < 2">{{ source.name }} · </template>{{ loopWords }} · {{ sliceWords }},
        {{ isPicked ? 'picked by hand' : `cut ${howFound}` }}
      </span>
    </template>
    <template #tools
      ><InTurn><SourceTools v-if="session.part" /></InTurn
    ></template>
    <div class="rows">
      <div class="cut-area">
        <InTurn><CutPanel v-if="session.part" /></InTurn>
      </div>
      <LikenessChart v-if="session.byLikeness" class="stage" />
      <div v-show="!session.byLikeness" class="stage layers">
        <canvas ref="picture" />
        <canvas
          ref="overlay"
          :style="{ cursor }"
          role="application"
          aria-label="Source: click a slice to hear it, double-click to add a marker, drag a marker by its number, drag the ends of the loop and its bar lines in the ruler, drag the water line for the sensitivity"
          data-testid="source-canvas"
          @pointerdown="onPointerDown"
          @pointermove="onHover"
          @pointerleave="pointerFrame = null"
          @dblclick="onDoubleClick"
          @wheel="onWheel"
          @touchstart="pinch.start"
          @touchmove="pinch.move"
        />
        <p v-if="!session.loaded" class="loading quiet">loading the sound …</p>
        <span v-else class="count" data-testid="slice-count">{{ sliceWords }}</span>
      </div>
      <OverviewStrip v-if="!session.byLikeness" />
      <ApartSheet v-if="isGrown && session.apartSliceId !== null" class="apart-sheet" />
      <MagnifiedWindow v-else-if="isGrown && !session.byLikeness" class="close-by" :frame="closeFrame" />
    </div>
  </BandFrame>
</template>

<style scoped>
.rows {
  display: flex;
  flex-direction: column;
  height: 100%;
  gap: 4px;
}
.cut-area {
  flex: none;
  min-height: 44px;
}
.stage {
  position: relative;
  flex: 1;
  min-height: 0;
}
.apart-sheet {
  flex: 3;
  min-height: 0;
}
.close-by {
  flex: 0.9;
  min-height: 0;
}
.count {
  position: absolute;
  right: 4px;
  bottom: 14px;
  background: var(--sea);
  color: var(--sheet);
  border-radius: 10px;
  padding: 0 12px;
  font-size: 13px;
  font-weight: 600;
  pointer-events: none;
}
.sounds {
  display: inline-flex;
  width: 190px;
  vertical-align: middle;
  margin-right: 8px;
}
.loading {
  position: absolute;
  inset: 0;
  display: grid;
  place-items: center;
}
</style>
