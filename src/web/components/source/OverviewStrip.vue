<script setup lang="ts">
/** The whole source, small, with the visible part framed: drag the frame to scroll, its ends to zoom. */
import { computed, ref } from 'vue';
import { fillSkyline } from '../../canvas/draw.ts';
import { useBandCanvas, type Stage } from '../../canvas/use-band-canvas.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { frameToX, MIN_VISIBLE_FRAMES, scrollBy, wholeWindow, type ViewWindow } from '../../canvas/view-window.ts';
import { useSession } from '../../stores/session.ts';

const session = useSession();
const picture = ref<HTMLCanvasElement | null>(null);
const overlay = ref<HTMLCanvasElement | null>(null);
const END_REACH_PX = 6;

const frames = computed(() => session.loaded?.channels[0]?.length ?? 1);
const whole = computed(() => wholeWindow(frames.value));

function paint({ context, width, height, inks }: Stage): void {
  const window = session.sourceWindow;
  if (!session.loaded || !window) return;
  context.fillStyle = inks.quiet;
  fillSkyline(context, session.loaded.peaks, 0, frames.value, { x: 0, y: height, width, height: height - 2 });
  const left = frameToX(whole.value, window.startFrame, width);
  const right = Math.max(left + 3, frameToX(whole.value, window.endFrame, width));
  context.fillStyle = inks.sea;
  context.globalAlpha = 0.2;
  context.fillRect(left, 0, right - left, height);
  context.globalAlpha = 1;
  context.strokeStyle = inks.sea;
  context.lineWidth = 2;
  context.strokeRect(left + 1, 1, Math.max(1, right - left - 2), height - 2);
}

useBandCanvas(picture, overlay, paint, () => {});

function onPointerDown(event: PointerEvent): void {
  const canvas = overlay.value;
  const start = session.sourceWindow;
  if (!canvas || !start || event.button !== 0) return;
  const width = canvas.clientWidth;
  const { x } = localPoint(event, canvas);
  const perPixel = frames.value / width;
  const left = frameToX(whole.value, start.startFrame, width);
  const right = frameToX(whole.value, start.endFrame, width);
  let from = start;
  const kind = Math.abs(x - left) < END_REACH_PX ? 'start' : Math.abs(x - right) < END_REACH_PX ? 'end' : 'move';
  if (kind === 'move' && (x < left || x > right)) {
    from = scrollBy(start, x * perPixel - (start.startFrame + start.endFrame) / 2, frames.value);
    session.sourceWindow = from;
  }
  followPointer(event, {
    move: (moved) => (session.sourceWindow = dragged(from, kind, (moved.clientX - event.clientX) * perPixel)),
    end: () => {},
    cancel: () => (session.sourceWindow = start),
  });
}

function dragged(from: ViewWindow, kind: 'start' | 'end' | 'move', byFrames: number): ViewWindow {
  if (kind === 'move') return scrollBy(from, byFrames, frames.value);
  if (kind === 'start') {
    return {
      ...from,
      startFrame: Math.max(0, Math.min(from.endFrame - MIN_VISIBLE_FRAMES, from.startFrame + byFrames)),
    };
  }
  return {
    ...from,
    endFrame: Math.min(frames.value, Math.max(from.startFrame + MIN_VISIBLE_FRAMES, from.endFrame + byFrames)),
  };
}
</script>

<template>
  <div class="overview layers">
    <canvas ref="picture" />
    <canvas
      ref="overlay"
      role="application"
      aria-label="Overview: drag the frame to scroll, its ends to zoom"
      title="Drag the frame to scroll, its ends to zoom"
      data-testid="overview"
      @pointerdown="onPointerDown"
    />
  </div>
</template>

<style scoped>
.overview {
  height: 22px;
  flex: none;
  border-bottom: 1px solid var(--rule);
  margin-bottom: 4px;
}
canvas {
  cursor: ew-resize;
}
</style>
