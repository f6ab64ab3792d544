<script setup lang="ts">
/** The level of the last seconds with the floor beneath it, and two lines to drag: it opens above one, closes below the other. */
import { ref } from 'vue';
import { useBandCanvas, type Stage } from '../../canvas/use-band-canvas.ts';
import { MONO_FONT, SANS_FONT } from '../../canvas/draw.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { SHOWN_SECONDS, useCapture } from '../../stores/capture/capture.ts';
import { useCaptureSettings } from '../../stores/capture/capture-settings.ts';

/** Without lines: the level alone. */
const { hasLines = true } = defineProps<{ hasLines?: boolean }>();
const capture = useCapture();
const settings = useCaptureSettings();
const picture = ref<HTMLCanvasElement | null>(null);
const overlay = ref<HTMLCanvasElement | null>(null);
const LEFT = 44;
const TOP = 8;
const BOTTOM = 22;
const TOP_DB = 0;
const LOWEST_DB = -84;
const NEAR_PX = 9;
/** From here on it is too loud for the way in. */
const FULL_DB = -0.1;

const yOf = (db: number, height: number) =>
  TOP + ((TOP_DB - Math.max(LOWEST_DB, Math.min(TOP_DB, db))) / (TOP_DB - LOWEST_DB)) * (height - TOP - BOTTOM);
const dbAt = (y: number, height: number) => TOP_DB - ((y - TOP) / (height - TOP - BOTTOM)) * (TOP_DB - LOWEST_DB);

function drawAxis({ context, width, height, inks }: Stage): void {
  context.font = MONO_FONT;
  context.textBaseline = 'middle';
  context.textAlign = 'right';
  for (const db of [0, -12, -24, -36, -48, -60, -72]) {
    const y = Math.round(yOf(db, height)) + 0.5;
    context.strokeStyle = inks.rule;
    context.beginPath();
    context.moveTo(LEFT, y);
    context.lineTo(width, y);
    context.stroke();
    context.fillStyle = inks.quiet;
    context.fillText(`${db}`, LEFT - 8, y);
  }
  context.textAlign = 'left';
}

function inkOf(db: number, inks: Stage['inks']): string {
  if (!hasLines) return db >= FULL_DB ? inks.signal : inks.sea;
  const { openDb, closeDb } = capture.lines;
  return db >= openDb ? inks.sea : db >= closeDb ? inks.quiet : inks.rule;
}

/** Everything moves: it is drawn on the upper canvas, which is drawn again with each frame. */
function drawLevels(stage: Stage): void {
  const { context, width, height, inks } = stage;
  const { db, written, hopFrames, sampleRate } = capture.levels;
  const shown = Math.min(written, db.length - 1, Math.round((SHOWN_SECONDS * sampleRate) / hopFrames));
  const wide = width - LEFT - 8;
  const base = height - BOTTOM;
  const perPixel = (SHOWN_SECONDS * sampleRate) / hopFrames / wide;
  for (let x = 0; x < wide; x++) {
    const ago = (wide - 1 - x) * perPixel;
    if (ago > shown) continue;
    let most = -Infinity;
    for (let i = 0; i < Math.max(1, perPixel); i++) {
      most = Math.max(most, db[(written - 1 - Math.floor(ago + i) + db.length) % db.length]!);
    }
    context.fillStyle = inkOf(most, inks);
    const y = yOf(most, height);
    context.fillRect(LEFT + x, y, 1, base - y);
  }
  if (hasLines) {
    const { openDb, closeDb } = capture.lines;
    drawLine(stage, openDb, `opens ${openDb.toFixed(0)}`, -9);
    drawLine(stage, closeDb, `closes ${closeDb.toFixed(0)}`, 11);
  }
  if (hasLines && capture.floor.floorDb !== null) {
    context.fillStyle = inks.quiet;
    context.font = SANS_FONT;
    context.textAlign = 'right';
    context.fillText(`floor ${capture.floor.floorDb.toFixed(0)}`, width - 14, base - 8);
    context.textAlign = 'left';
  }
  context.font = MONO_FONT;
  context.fillStyle = inks.quiet;
  for (const seconds of [20, 15, 10, 5]) {
    context.fillText(`−${seconds} s`, LEFT + wide * (1 - seconds / SHOWN_SECONDS) + 3, height - BOTTOM / 2);
  }
}

function drawLine({ context, width, height, inks }: Stage, db: number, words: string, away: number): void {
  const y = Math.round(yOf(db, height)) + 0.5;
  context.strokeStyle = inks.sea;
  context.lineWidth = 2;
  context.beginPath();
  context.moveTo(LEFT, y);
  context.lineTo(width, y);
  context.stroke();
  context.lineWidth = 1;
  context.fillStyle = inks.sea;
  context.fillRect(width - 12, y - 6, 12, 12);
  context.font = `600 ${SANS_FONT}`;
  context.textAlign = 'right';
  context.fillText(words, width - 18, y + away);
  context.textAlign = 'left';
}

useBandCanvas(picture, overlay, drawAxis, drawLevels, () => true);

function drag(event: PointerEvent): void {
  if (!hasLines) return;
  const canvas = overlay.value!;
  const height = canvas.clientHeight;
  const { y } = localPoint(event, canvas);
  const { openDb, closeDb } = capture.lines;
  const [toOpen, toClose] = [Math.abs(y - yOf(openDb, height)), Math.abs(y - yOf(closeDb, height))];
  if (Math.min(toOpen, toClose) > NEAR_PX) return;
  const isOpen = toOpen <= toClose;
  const go = (at: PointerEvent) => {
    const db = Math.round(Math.max(LOWEST_DB, Math.min(-1, dbAt(localPoint(at, canvas).y, height))));
    if (isOpen) settings.kept.openDb = db;
    else settings.kept.closeDb = db;
  };
  followPointer(event, { move: go, end: () => undefined, cancel: () => undefined });
}
</script>

<template>
  <div class="layers levels" :class="{ 'has-lines': hasLines }">
    <canvas ref="picture" />
    <canvas
      ref="overlay"
      role="img"
      :aria-label="hasLines ? 'Level of the input, with the lines at which it opens and closes' : 'Level of the input'"
      data-testid="capture-levels"
      @pointerdown="drag"
    />
  </div>
</template>

<style scoped>
.levels {
  height: 100%;
}
.has-lines {
  cursor: ns-resize;
}
</style>
