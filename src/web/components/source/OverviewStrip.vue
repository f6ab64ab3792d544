<script setup lang="ts">
/** The whole source, small, with the visible part framed: drag the frame to scroll, its ends to zoom. */
import { computed, ref } from 'vue';
import { peakBetween } from '#core/dsp/peaks.ts';
import { fillSkyline } from '../../canvas/draw.ts';
import { useBandCanvas, type Stage } from '../../canvas/use-band-canvas.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { frameToX, MIN_VISIBLE_FRAMES, scrollBy, wholeWindow, type ViewWindow } from '../../canvas/view-window.ts';
import { useSession } from '../../stores/document/session.ts';

const session = useSession();
const picture = ref<HTMLCanvasElement | null>(null);
const overlay = ref<HTMLCanvasElement | null>(null);
const END_REACH_PX = 6;

const frames = computed(() => session.loaded?.channels[0]?.length ?? 1);
const whole = computed(() => wholeWindow(frames.value));

function paint({ context, width, height, inks }: Stage): void {
  if (!session.loaded) return;
  const { peaks } = session.loaded;
  const loudest = Math.max(0.05, peakBetween(peaks, 0, frames.value));
  const shown = session.sourceWindow ?? whole.value;
  for (const at of session.placed) {
    const x = frameToX(whole.value, at.startFrame, width);
    const end = session.placed[at.index + 1]?.startFrame ?? frames.value;
    const isSeen = end > shown.startFrame && at.startFrame < shown.endFrame;
    context.fillStyle = isSeen ? (session.colours[at.index] ?? inks.ink) : inks.rule;
    const box = { x, y: height - 1, width: frameToX(whole.value, end, width) - x, height: height - 3 };
    fillSkyline(context, peaks, at.startFrame, end, box, { scale: 1 / loudest });
  }
  const left = frameToX(whole.value, shown.startFrame, width);
  const right = Math.max(left + 3, frameToX(whole.value, shown.endFrame, width));
  context.strokeStyle = session.sourceWindow ? inks.ink : inks.rule;
  context.lineWidth = session.sourceWindow ? 2 : 1;
  context.strokeRect(left + 1, 1, Math.max(1, right - left - 2), height - 2);
}

useBandCanvas(picture, overlay, paint, () => {});

function onPointerDown(event: PointerEvent): void {
  const canvas = overlay.value;
  const start = session.sourceWindow ?? whole.value;
  if (!canvas || event.button !== 0) return;
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
  <div class="overview layers" :class="{ whole: session.sourceWindow === null }">
    <canvas ref="picture" />
    <canvas
      ref="overlay"
      role="application"
      aria-label="Overview: drag the frame to scroll, its ends to zoom"
      data-tip="The whole sound: drag the frame to scroll, its ends to zoom"
      data-testid="overview"
      @pointerdown="onPointerDown"
    />
  </div>
</template>

<style scoped>
.overview {
  height: 20px;
  flex: none;
}
canvas {
  cursor: ew-resize;
}
/* A low window has no room for the same sound twice. */
@media (max-height: 700px) {
  .overview {
    height: 14px;
  }
  .overview.whole {
    display: none;
  }
}
</style>
