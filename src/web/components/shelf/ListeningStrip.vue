<script setup lang="ts">
/** The sound under the cursor with its slices: heard as it is or in time with the open song; a click hears one slice. */
import { computed, ref, shallowRef, watch } from 'vue';
import { peakBetween } from '#core/dsp/peaks.ts';
import { engine, library } from '../../audio/services.ts';
import { fillSkyline, MONO_FONT, strokeCurve, verticalLine } from '../../canvas/draw.ts';
import { NIGHT_LIFT, sliceColours } from '../../canvas/palette.ts';
import { useBandCanvas, type Stage } from '../../canvas/use-band-canvas.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { useZoom } from '../../canvas/use-zoom.ts';
import { frameToX, wholeWindow, xToFrame, type ViewWindow } from '../../canvas/view-window.ts';
import { useListening } from '../../stores/shelf/listening.ts';
import { useSoundDrag } from '../../stores/keys/sound-drag.ts';
import { useLaying } from '../../stores/keys/laying.ts';
import type { PickedSound } from '../../stores/keys/picking.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { usePreview } from '../../stores/sound/preview.ts';
import { themeName } from '../../theme/theme.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import HearButton from '../shared/HearButton.vue';
import IconButton from '../shared/IconButton.vue';
import { countWords } from './shelf-words.ts';

const listening = useListening();
const preview = usePreview();
const soundDrag = useSoundDrag();
const laying = useLaying();
const project = useProject();
const session = useSession();
const picture = ref<HTMLCanvasElement | null>(null);
const overlay = ref<HTMLCanvasElement | null>(null);
const FOOT_PX = 18;
/** Fewer frames a pixel than this show the true curve. */
const CURVE_BELOW_FRAMES = 3;
/** An attack is looked for so near to where a range was marked. */
const ATTACK_REACH_SECONDS = 0.03;
/** What was marked to be picked. */
const range = shallowRef<{ startFrame: number; endFrame: number } | null>(null);
/** What the picked hit will be called. */
const pickedName = ref('');
/** The piece that is looked at; null: the whole sound. */
const closer = shallowRef<ViewWindow | null>(null);
const frames = computed(() => listening.heard?.loaded.peaks.frames ?? 1);
const viewed = computed(() => closer.value ?? wholeWindow(frames.value));
watch(
  () => listening.source?.id,
  () => {
    range.value = null;
    closer.value = null;
  },
);
watch(range, (now, before) => {
  if (!now || !before) pickedName.value = '';
});
const rangeWords = computed(() => {
  if (!range.value || !listening.heard) return '';
  const ms = ((range.value.endFrame - range.value.startFrame) / listening.heard.loaded.sampleRate) * 1000;
  return `${ms.toFixed(0)} ms`;
});

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
  const { peaks, sampleRate, channels } = heard.loaded;
  const window = viewed.value;
  const base = height - FOOT_PX;
  const loudest = Math.max(0.05, peakBetween(peaks, 0, frames.value));
  const toX = (frame: number) => frameToX(window, frame, width);
  const isCurve = (window.endFrame - window.startFrame) / width < CURVE_BELOW_FRAMES;
  context.font = MONO_FONT;
  context.textBaseline = 'middle';
  let labelEnd = 0;
  heard.slices.forEach((slice, index) => {
    const { facts } = slice;
    const startFrame = Math.max(slice.startFrame, window.startFrame);
    const endFrame = Math.min(slice.endFrame, window.endFrame);
    if (endFrame <= startFrame) return;
    const x = toX(startFrame);
    const box = { x, y: base, width: toX(endFrame) - x, height: base - 4 };
    context.fillStyle = context.strokeStyle = colours.value[index] ?? inks.ink;
    if (isCurve) strokeCurve(context, { sampleRate, channels }, startFrame, endFrame, box, 1 / loudest);
    else fillSkyline(context, peaks, startFrame, endFrame, box, { scale: 1 / loudest });
    context.strokeStyle = inks.rule;
    if (startFrame === slice.startFrame) verticalLine(context, x, 2, base);
    if (x < labelEnd) return;
    context.fillStyle = inks.quiet;
    const words = box.width > 70 ? `${index + 1} ${facts.role}` : `${index + 1}`;
    context.fillText(words, x + 2, height - FOOT_PX / 2);
    labelEnd = x + 8 + context.measureText(words).width;
  });
  if (range.value) {
    const x = toX(range.value.startFrame);
    const end = toX(range.value.endFrame);
    context.fillStyle = inks.sea;
    context.globalAlpha = 0.16;
    context.fillRect(x, 0, end - x, base);
    context.globalAlpha = 1;
    context.strokeStyle = inks.sea;
    context.strokeRect(x + 0.5, 0.5, Math.max(1, end - x - 1), base);
  }
  context.strokeStyle = inks.ink;
  context.beginPath();
  context.moveTo(0, base + 0.5);
  context.lineTo(width, base + 0.5);
  context.stroke();
}

function paintPlayhead({ context, width, height, inks }: Stage): void {
  const { heard, source } = listening;
  if (!heard || preview.previewId !== source?.id) return;
  const at = engine.status.previewFrame;
  // In time it is the stretched loop that is heard.
  const { loop } = heard;
  const frame =
    listening.isInTime && loop && listening.songTempo
      ? loop.startFrame + (at * listening.songTempo) / loop.tempoBpm
      : at;
  context.strokeStyle = inks.signal;
  context.lineWidth = 2;
  verticalLine(context, frameToX(viewed.value, frame, width), 0, height - FOOT_PX);
}
useBandCanvas(picture, overlay, paint, paintPlayhead, () => engine.status.previewing);

function frameUnder(event: PointerEvent): number {
  const frame = xToFrame(viewed.value, localPoint(event, overlay.value!).x, overlay.value!.clientWidth);
  return Math.round(Math.max(0, Math.min(frames.value, frame)));
}

/** What is marked, dragged onto a part of the rail, lands on its first free key. */
function carry(event: PointerEvent): void {
  const sound = {
    words: listening.source!.name,
    drop: (key: number) => void put(picked(), key),
    dropOnPart: (partId: string | null) => {
      if (partId !== null) session.choosePart(partId);
      void put(picked(), null, partId === null);
    },
  };
  followPointer(event, {
    move: (moved) => soundDrag.move(sound, moved),
    end: (moved) => {
      if (!soundDrag.putDown() && !moved) takeSlice(frameUnder(event));
    },
    cancel: () => soundDrag.giveUp(),
  });
}

function takeSlice(frame: number): void {
  const slice = listening.heard?.slices.find(({ startFrame, endFrame }) => frame >= startFrame && frame < endFrame);
  range.value = slice ? { startFrame: slice.startFrame, endFrame: slice.endFrame } : null;
  hearRange();
}

/** A click takes a slice, a drag any range: it is heard, and ready for a key. What is marked already is carried off. */
function onPointerDown(event: PointerEvent): void {
  const { heard, source } = listening;
  if (!heard || !source || !overlay.value) return;
  const from = frameUnder(event);
  if (range.value && project.document && from >= range.value.startFrame && from < range.value.endFrame) {
    carry(event);
    return;
  }
  followPointer(event, {
    move: (moved) => {
      const to = frameUnder(moved);
      range.value = { startFrame: Math.min(from, to), endFrame: Math.max(from, to) };
    },
    end: (moved) => {
      if (moved) void trim();
      else takeSlice(from);
    },
    cancel: () => (range.value = null),
  });
}

function hearRange(): void {
  if (range.value && listening.source) {
    void preview.playRange(listening.source.id, range.value.startFrame, range.value.endFrame, false);
  }
}

const { onWheel, pinch } = useZoom({
  canvas: overlay,
  viewed,
  frames: () => (listening.heard ? frames.value : 0),
  put: (window) => (closer.value = window.endFrame - window.startFrame >= frames.value ? null : window),
});

/** The ends of a range that was marked: its start on the attack nearby, its end on a zero crossing. */
async function trim(): Promise<void> {
  const { source, heard } = listening;
  const marked = range.value;
  if (!source || !heard || !marked) return;
  const reach = Math.round(ATTACK_REACH_SECONDS * heard.loaded.sampleRate);
  const [startFrame, endFrame] = await Promise.all([
    library.snap(source.id, marked.startFrame, reach, true),
    library.snap(source.id, marked.endFrame, 0, false),
  ]);
  if (endFrame > startFrame) range.value = { startFrame, endFrame };
  hearRange();
}

function picked(): PickedSound {
  return {
    sourceId: listening.source!.id,
    sourceName: listening.source!.name,
    ranges: [range.value!],
    name: pickedName.value.trim(),
  };
}

/** What puts sounds on keys is fetched when there is one. */
async function put(sound: PickedSound, key: number | null, isNewPart = false): Promise<void> {
  const { usePicking } = await import('../../stores/keys/picking.ts');
  await usePicking().put(sound, key, isNewPart);
}

function toPressedKey(): void {
  const sound = picked();
  laying.awaitKeyFor(sound.sourceName, (key) => void put(sound, key));
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
      <template v-if="range && project.document">
        <span class="mono small" data-testid="picked-range">{{ rangeWords }}</span>
        <v-text-field
          v-model="pickedName"
          class="picked-name"
          aria-label="Name of the hit"
          placeholder="its name"
          maxlength="200"
          @keydown.stop
        />
        <v-btn
          :data-tip="session.part ? `On the first free key of ${session.part.name}` : 'In a kit of its own'"
          @click="put(picked(), null)"
          >on a key</v-btn
        >
        <v-btn
          :aria-pressed="laying.awaited !== null"
          data-tip="On the key that is pressed next"
          @click="toPressedKey"
          >{{ laying.awaited ? 'press it …' : 'on this key …' }}</v-btn
        >
        <v-btn data-tip="The first sound of a new kit, on the key of the bass drum" @click="put(picked(), 36, true)"
          >new kit</v-btn
        >
      </template>
      <span class="push" />
      <v-btn
        v-if="closer"
        data-tip="The whole sound again; the wheel goes closer, with Shift along"
        @click="closer = null"
        >whole</v-btn
      >
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
        aria-label="The sound with its slices: click one to hear it, drag to mark a range, the wheel goes closer; what is marked is put on a key, or dragged onto a part"
        data-testid="listening-canvas"
        @pointerdown="onPointerDown"
        @wheel="onWheel"
        @touchstart="pinch.start"
        @touchmove="pinch.move"
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
.picked-name {
  flex: 0 1 130px;
  min-width: 70px;
}
canvas {
  cursor: pointer;
}
</style>
