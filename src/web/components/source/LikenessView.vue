<script setup lang="ts">
/** Slices laid out by how they sound: dark to bright from left to right, short to long from below. */
import { computed, ref } from 'vue';
import { extent } from 'd3-array';
import { scaleLog } from 'd3-scale';
import { MONO_FONT, SANS_FONT } from '../../canvas/draw.ts';
import { useBandCanvas, type Stage } from '../../canvas/use-band-canvas.ts';
import { localPoint } from '../../canvas/use-drag.ts';
import { engine } from '../../audio/services.ts';
import { useSession } from '../../stores/session.ts';
import { useTransport } from '../../stores/transport.ts';

const session = useSession();
const transport = useTransport();
const picture = ref<HTMLCanvasElement | null>(null);
const overlay = ref<HTMLCanvasElement | null>(null);
const MARGIN = { left: 24, right: 24, top: 20, bottom: 26 };
const DOT_PX = 9;
const REACH_PX = 16;
const LABEL_WIDTH_PX = 22;
const LABEL_HEIGHT_PX = 13;

const rate = computed(() => session.loaded?.sampleRate ?? 44100);

function dots(width: number, height: number): { x: number; y: number }[] {
  const bright = session.placed.map((at) => Math.max(20, at.slice.brightnessHz));
  const long = session.placed.map((at) => Math.max(1, ((at.endFrame - at.startFrame) / rate.value) * 1000));
  const scale = (values: number[], from: number, to: number) => {
    const [low = 1, high = 2] = extent(values);
    return scaleLog([low * 0.97, Math.max(low * 1.05, high * 1.03)], [from, to]);
  };
  const x = scale(bright, MARGIN.left, width - MARGIN.right);
  const y = scale(long, height - MARGIN.bottom, MARGIN.top);
  return session.placed.map((_, index) => ({ x: x(bright[index]!), y: y(long[index]!) }));
}

function paint({ context, width, height, inks }: Stage): void {
  context.strokeStyle = inks.rule;
  context.strokeRect(0.5, 0.5, width - 1, height - 1);
  context.font = SANS_FONT;
  context.fillStyle = inks.quiet;
  context.textBaseline = 'alphabetic';
  context.fillText('dark', 6, height - 7);
  context.textAlign = 'right';
  context.fillText('bright', width - 6, height - 7);
  context.textAlign = 'left';
  context.fillText('long', 6, 16);
  context.fillText('short', 6, height - 24);
  context.font = MONO_FONT;
  context.textBaseline = 'middle';
  const labels: { x: number; y: number }[] = [];
  dots(width, height).forEach(({ x, y }, index) => {
    const at = session.placed[index]!;
    const picked = session.sliceIds.includes(at.slice.id);
    context.fillStyle = session.colours[index]!;
    context.beginPath();
    context.arc(x, y, picked ? DOT_PX + 2 : DOT_PX, 0, 2 * Math.PI);
    context.fill();
    if (picked) {
      context.strokeStyle = inks.sea;
      context.lineWidth = 3;
      context.stroke();
      context.lineWidth = 1;
    }
    // Numbers of dots that lie on each other stand under each other.
    let labelY = y;
    while (
      labels.some((label) => Math.abs(label.x - x) < LABEL_WIDTH_PX && Math.abs(label.y - labelY) < LABEL_HEIGHT_PX)
    ) {
      labelY += LABEL_HEIGHT_PX;
    }
    labels.push({ x, y: labelY });
    context.fillStyle = inks.ink;
    context.fillText(`${index + 1}`, x + DOT_PX + 3, labelY);
  });
}

function paintSounding({ context, width, height, inks }: Stage): void {
  const spots = dots(width, height);
  context.strokeStyle = inks.signal;
  context.lineWidth = 3;
  for (const [, zoneId] of engine.status.sounding) {
    const spot = spots[session.sliceByZone.get(zoneId)?.index ?? -1];
    if (!spot) continue;
    context.beginPath();
    context.arc(spot.x, spot.y, DOT_PX + 5, 0, 2 * Math.PI);
    context.stroke();
  }
}

useBandCanvas(picture, overlay, paint, paintSounding);

function pick(event: PointerEvent): void {
  const canvas = overlay.value!;
  const { x, y } = localPoint(event, canvas);
  let best = -1;
  let distance = REACH_PX;
  dots(canvas.clientWidth, canvas.clientHeight).forEach((dot, index) => {
    const away = Math.hypot(dot.x - x, dot.y - y);
    if (away < distance) {
      best = index;
      distance = away;
    }
  });
  const at = session.placed[best];
  if (!at) return;
  session.selectSlices([at.slice.id], event.shiftKey || event.ctrlKey || event.metaKey);
  const zone = session.zoneBySlice.get(at.slice.id)?.zone;
  if (zone) transport.playZone(zone.id);
}
</script>

<template>
  <div class="likeness layers">
    <canvas ref="picture" />
    <canvas
      ref="overlay"
      role="application"
      aria-label="Slices by likeness: dark to bright from left to right, short to long upwards; click one to hear it"
      data-testid="likeness-canvas"
      @pointerdown="pick"
    />
  </div>
</template>

<style scoped>
.likeness {
  height: 100%;
}
canvas {
  cursor: pointer;
}
</style>
