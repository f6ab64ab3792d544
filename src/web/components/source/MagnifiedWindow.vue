<script setup lang="ts">
/** A piece of the source so close that its true curve can be seen, with its zero line; markers are dragged here, too. */
import { computed, ref } from 'vue';
import { sliceAtFrame } from '#core/queries/slices.ts';
import { engine } from '../../audio/services.ts';
import { MONO_FONT, strokeCurve, verticalLine } from '../../canvas/draw.ts';
import { rulerTicks } from '../../canvas/ruler.ts';
import { useBandCanvas, type Stage } from '../../canvas/use-band-canvas.ts';
import { localPoint } from '../../canvas/use-drag.ts';
import { frameToX, xToFrame, type ViewWindow } from '../../canvas/view-window.ts';
import { useMarkers } from '../../stores/source/markers.ts';
import { useSession } from '../../stores/document/session.ts';
import { useTransport } from '../../stores/sound/transport.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import NumberField from '../fields/NumberField.vue';
import { useMarkerDrag } from './use-marker-drag.ts';

const props = defineProps<{
  /** What is in its middle. */
  frame: number;
}>();
const session = useSession();
const transport = useTransport();
const markers = useMarkers();
const picture = ref<HTMLCanvasElement | null>(null);
const overlay = ref<HTMLCanvasElement | null>(null);
const spanMs = ref(60);
const RULER_PX = 18;
/** The pointer over the window itself holds it still. */
const held = ref<number | null>(null);
type Follow = 'pointer' | 'playhead';
const follows = ref<Follow>('pointer');
const ways: { value: Follow; words: string }[] = [
  { value: 'pointer', words: 'the pointer' },
  { value: 'playhead', words: 'the playhead' },
];
const heardFrame = ref(0);

const rate = computed(() => session.source?.sampleRate ?? 44100);
const middle = computed(() => held.value ?? (follows.value === 'playhead' ? heardFrame.value : props.frame));
const viewed = computed<ViewWindow>(() => {
  const half = (spanMs.value / 2000) * rate.value;
  return { startFrame: middle.value - half, endFrame: middle.value + half };
});
const { markerNear, dragMarker } = useMarkerDrag(viewed, overlay);

function paint({ context, width, height, inks }: Stage): void {
  const { loaded, cut } = session;
  if (!loaded || !cut) return;
  const window = viewed.value;
  const tall = height - RULER_PX;
  context.font = MONO_FONT;
  context.textBaseline = 'middle';
  const { rulerUnit, linesABeat } = session;
  for (const { frame, label } of rulerTicks(window, width, rulerUnit, rate.value, cut.loop, linesABeat)) {
    const x = frameToX(window, frame, width);
    context.strokeStyle = inks.rule;
    verticalLine(context, x, label === null ? RULER_PX - 4 : 0, label === null ? RULER_PX : height);
    context.fillStyle = inks.quiet;
    if (label !== null) context.fillText(label, x + 4, RULER_PX / 2);
  }
  context.strokeStyle = inks.quiet;
  context.beginPath();
  context.moveTo(0, Math.round(RULER_PX + tall / 2) + 0.5);
  context.lineTo(width, Math.round(RULER_PX + tall / 2) + 0.5);
  context.stroke();
  const box = { x: 0, y: height, width, height: tall };
  context.lineWidth = 1.5;
  context.strokeStyle = inks.ink;
  const audio = { sampleRate: loaded.sampleRate, channels: loaded.channels };
  for (const at of session.placed) {
    const from = Math.max(at.startFrame, window.startFrame);
    const to = Math.min(session.placed[at.index + 1]?.startFrame ?? at.endFrame, window.endFrame);
    if (to <= from) continue;
    const x = frameToX(window, from, width);
    context.strokeStyle = session.colours[at.index] ?? inks.ink;
    strokeCurve(context, audio, from, to, { ...box, x, width: frameToX(window, to, width) - x }, session.heightZoom);
  }
  for (const at of session.placed) {
    if (at.startFrame < window.startFrame || at.startFrame > window.endFrame) continue;
    const x = frameToX(window, at.startFrame, width);
    const isChosen = session.sliceIds.includes(at.slice.id);
    context.strokeStyle = isChosen ? inks.sea : inks.ink;
    context.lineWidth = isChosen ? 2 : 1;
    verticalLine(context, x, RULER_PX, height);
    context.fillStyle = isChosen ? inks.sea : inks.ink;
    context.fillText(`${at.index + 1}`, x + 4, height - 9);
  }
  context.lineWidth = 1;
}

function paintPlayhead({ context, width, height, inks }: Stage): void {
  const latest = engine.status.sounding.findLast(([, zoneId]) => session.sliceByZone.has(zoneId));
  if (!latest) return;
  if (follows.value === 'playhead') heardFrame.value = latest[2];
  context.strokeStyle = inks.signal;
  context.lineWidth = 2;
  verticalLine(context, frameToX(viewed.value, latest[2], width), RULER_PX, height);
}

useBandCanvas(picture, overlay, paint, paintPlayhead);

function onPointerDown(event: PointerEvent): void {
  if (event.button !== 0 || !overlay.value) return;
  const { x } = localPoint(event, overlay.value);
  if (markerNear(x, overlay.value.clientWidth)) {
    dragMarker(event, ({ slice }) => hear(slice.id));
    return;
  }
  const at = sliceAtFrame(session.placed, xToFrame(viewed.value, x, overlay.value.clientWidth));
  if (!at) return;
  session.selectSlices([at.slice.id]);
  hear(at.slice.id);
}

function hear(sliceId: string): void {
  const zone = session.zoneBySlice.get(sliceId)?.zone;
  if (zone) transport.playZone(zone.id);
}

function onDoubleClick(event: MouseEvent): void {
  const canvas = overlay.value!;
  const { x } = localPoint(event, canvas);
  if (!markerNear(x, canvas.clientWidth)) void markers.add(xToFrame(viewed.value, x, canvas.clientWidth), event.altKey);
}

function onWheel(event: WheelEvent): void {
  event.preventDefault();
  if (event.altKey) session.stretchHeight(Math.exp(-event.deltaY * 0.002));
  else spanMs.value = Math.max(1, Math.min(2000, spanMs.value * Math.exp(event.deltaY * 0.002)));
}
</script>

<template>
  <div class="magnified">
    <div class="head">
      <span class="quiet">close by, at</span>
      <span class="mono" data-testid="close-frame">{{ (middle / rate).toFixed(4) }} s</span>
      <NumberField
        class="span"
        label="shows"
        :model-value="spanMs"
        :min="1"
        :max="2000"
        :digits="1"
        :reset="60"
        unit="ms"
        logarithmic
        @update:model-value="spanMs = $event"
      />
      <ChoiceField label="follows" spread :model-value="follows" :choices="ways" @put="follows = $event" />
    </div>
    <div class="stage layers">
      <canvas ref="picture" />
      <canvas
        ref="overlay"
        role="application"
        aria-label="Magnified source: drag a marker, double-click to add one, the wheel goes closer, with Alt taller"
        data-testid="magnified-canvas"
        @pointerenter="held = middle"
        @pointerleave="held = null"
        @pointerdown="onPointerDown"
        @dblclick="onDoubleClick"
        @wheel="onWheel"
      />
    </div>
  </div>
</template>

<style scoped>
.magnified {
  display: flex;
  flex-direction: column;
  gap: 4px;
  border-top: 1px solid var(--rule);
  padding-top: 6px;
}
.head {
  display: flex;
  align-items: center;
  gap: 10px;
  font-size: 13px;
}
.span {
  width: 150px;
}
.stage {
  flex: 1;
  min-height: 0;
}
canvas {
  cursor: crosshair;
}
</style>
