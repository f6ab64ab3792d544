<script setup lang="ts">
/** The sound under the cursor with its slices: heard as it is or in time with the open song; a click hears one slice. */
import { computed, ref } from 'vue';
import { peakBetween } from '#core/dsp/peaks.ts';
import { engine } from '../../audio/services.ts';
import { fillSkyline, MONO_FONT, verticalLine } from '../../canvas/draw.ts';
import { NIGHT_LIFT, sliceColours } from '../../canvas/palette.ts';
import { useBandCanvas, type Stage } from '../../canvas/use-band-canvas.ts';
import { localPoint } from '../../canvas/use-drag.ts';
import { useListening } from '../../stores/listening.ts';
import { usePreview } from '../../stores/preview.ts';
import { themeName } from '../../theme/theme.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import HearButton from '../shared/HearButton.vue';
import IconButton from '../shared/IconButton.vue';
import { countWords } from './shelf-words.ts';

const listening = useListening();
const preview = usePreview();
const picture = ref<HTMLCanvasElement | null>(null);
const overlay = ref<HTMLCanvasElement | null>(null);
const FOOT_PX = 18;

const colours = computed(() =>
  sliceColours(
    (listening.heard?.slices ?? []).map(({ facts }) => facts.brightnessHz),
    themeName.value === 'dark' ? NIGHT_LIFT : 0,
  ),
);
const ways = computed(() => [
  { value: 'in-time' as const, words: 'in time', disabled: !listening.canBeInTime },
  { value: 'as-it-is' as const, words: 'as it is' },
]);

function choose(way: 'in-time' | 'as-it-is'): void {
  listening.wantsInTime = way === 'in-time';
  listening.hearAnew();
}

function toggleRound(): void {
  listening.isLooping = !listening.isLooping;
  listening.hearAnew();
}

function paint({ context, width, height, inks }: Stage): void {
  const { heard } = listening;
  if (!heard) return;
  const { peaks } = heard.loaded;
  const frames = peaks.frames;
  const base = height - FOOT_PX;
  const loudest = Math.max(0.05, peakBetween(peaks, 0, frames));
  const toX = (frame: number) => (frame / frames) * width;
  context.font = MONO_FONT;
  context.textBaseline = 'middle';
  let labelEnd = 0;
  heard.slices.forEach(({ startFrame, endFrame, facts }, index) => {
    const x = toX(startFrame);
    context.fillStyle = colours.value[index] ?? inks.ink;
    const box = { x, y: base, width: toX(endFrame) - x, height: base - 4 };
    fillSkyline(context, peaks, startFrame, endFrame, box, { scale: 1 / loudest });
    context.strokeStyle = inks.rule;
    verticalLine(context, x, 2, base);
    if (x < labelEnd) return;
    context.fillStyle = inks.quiet;
    const words = box.width > 70 ? `${index + 1} ${facts.role}` : `${index + 1}`;
    context.fillText(words, x + 2, height - FOOT_PX / 2);
    labelEnd = x + 8 + context.measureText(words).width;
  });
  context.strokeStyle = inks.ink;
  context.beginPath();
  context.moveTo(0, base + 0.5);
  context.lineTo(width, base + 0.5);
  context.stroke();
}

function paintPlayhead({ context, width, height, inks }: Stage): void {
  const { heard, source } = listening;
  if (!heard || preview.previewId !== source?.id) return;
  const frames = heard.loaded.peaks.frames;
  const at = engine.status.previewFrame;
  // In time it is the stretched loop that is heard.
  const { loop } = heard;
  const frame =
    listening.isInTime && loop && listening.songTempo
      ? loop.startFrame + (at * listening.songTempo) / loop.tempoBpm
      : at;
  context.strokeStyle = inks.signal;
  context.lineWidth = 2;
  verticalLine(context, (frame / frames) * width, 0, height - FOOT_PX);
}
useBandCanvas(picture, overlay, paint, paintPlayhead, () => engine.status.previewing);

function onPointerDown(event: PointerEvent): void {
  const { heard, source } = listening;
  if (!heard || !source || !overlay.value) return;
  const frame = (localPoint(event, overlay.value).x / overlay.value.clientWidth) * heard.loaded.peaks.frames;
  const slice = heard.slices.find(({ startFrame, endFrame }) => frame >= startFrame && frame < endFrame);
  if (slice) void preview.playRange(source.id, slice.startFrame, slice.endFrame, false);
}
</script>

<template>
  <section class="strip sheet" aria-label="Listening" data-testid="listening">
    <div class="head">
      <template v-if="listening.source">
        <HearButton
          :name="listening.source.name"
          :playing="preview.previewId === listening.source.id"
          @click="listening.toggle(listening.source.id)"
        />
        <b class="one-line">{{ listening.source.name }}</b>
        <span class="quiet small">{{
          listening.heard
            ? `${countWords(listening.heard.slices.length, 'slice')} at hits`
            : listening.isReading
              ? 'reading it …'
              : ''
        }}</span>
      </template>
      <span v-else class="quiet">Choose a sound: it is heard here, and its slices are shown.</span>
      <span class="push" />
      <ChoiceField
        label="How it is heard"
        :hint="
          listening.canBeInTime
            ? `In time: stretched to the song's ${listening.songTempo?.toFixed(2)} bpm, from its next bar on`
            : 'In time needs an open song, and a loop'
        "
        spread
        :show-label="false"
        :model-value="listening.isInTime ? 'in-time' : 'as-it-is'"
        :choices="ways"
        @put="choose"
      />
      <IconButton icon="round" words="round and round" :pressed="listening.isLooping" @click="toggleRound" />
    </div>
    <div class="stage layers">
      <canvas ref="picture" />
      <canvas
        ref="overlay"
        role="application"
        aria-label="The sound with its slices: click one to hear it"
        data-testid="listening-canvas"
        @pointerdown="onPointerDown"
      />
    </div>
  </section>
</template>

<style scoped>
.strip {
  display: flex;
  flex-direction: column;
  padding: 6px 12px 6px;
  gap: 4px;
}
.head {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 32px;
}
.push {
  flex: 1;
}
.stage {
  flex: 1;
  min-height: 0;
}
canvas {
  cursor: pointer;
}
</style>
